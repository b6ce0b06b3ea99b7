import type { Schemas } from '../api/client'

type Words<K extends string> = Record<K, string>

export const taskWords: Words<Schemas['TaskKind']> = {
  discard: 'Throw it away',
  by_hand: 'See to it',
  assign: 'Give it a product',
  dose: 'Weigh out the cure',
  turn: 'Turn it',
  out_of_cure: 'Out of the cure, and weigh',
  smoke: 'Smoke, and weigh',
  cook: 'Cook it through, and weigh',
  hang: 'Hang, and weigh',
  weigh_in: 'Weigh it on its hook',
  take_down: 'Take it down',
  pack: 'Slice and pack',
}

/** Where a task is done. */
export const taskStation = {
  discard: '/tally',
  by_hand: '/cure',
  assign: '/assign',
  dose: '/cure',
  turn: '/cure',
  out_of_cure: '/cure',
  smoke: '/smoke',
  cook: '/smoke',
  hang: '/hang',
  weigh_in: '/hang',
  take_down: '/hang',
  pack: '/pack',
} as const satisfies Record<Schemas['TaskKind'], string>

export const stageWords: Words<Schemas['Stage']> = {
  assign: 'no product yet',
  dose: 'waits for its dose',
  in_cure: 'in its cure',
  smoke: 'waits for smoker or stove',
  hang: 'waits for its hook',
  hanging: 'hangs',
  pack: 'waits to be packed',
  packed: 'packed',
  cut_up: 'cut into parts',
  joined: 'went into another piece',
  discarded: 'thrown away',
}

export const pointWords: Words<Schemas['Point']> = {
  green: 'green',
  injected: 'injected',
  out_of_cure: 'out of cure',
  smoked: 'after smoke or cooking',
  coated: 'coated',
  worked: 'boned out or trimmed',
  hung: 'hung',
  weighed_in: 'weighed in',
  taken_down: 'taken down',
}

export const byproductWords: Words<Schemas['Byproduct']> = {
  trim: 'trim',
  fat: 'fat',
  bone: 'bone',
  skin: 'skin',
  ends: 'ends and crumbs',
}

export const lossWords: Words<Schemas['Loss']> = {
  dressing: 'head, hide and guts',
  cutting: 'cutting loss',
  drip: 'drip',
  spent_brine: 'spent brine',
  smoke: 'smoke loss',
  cooking: 'lost in cooking',
  evaporation: 'dried off',
  machine: 'left in grinder and bowl',
  slicing: 'slicing loss',
  waste: 'thrown away',
  unaccounted: 'unaccounted',
}

export const eatWords: Words<Schemas['Eat']> = {
  cook_before_eating: 'Cook before eating',
  ready_to_eat: 'Ready to eat',
  not_eaten: 'Not eaten',
}

export const knownWords: Words<Schemas['KnownWeight']> = {
  live: 'live weight',
  field_dressed: 'field-dressed weight',
  carcass: 'carcass weight',
  bought_cut: 'one bought cut',
}

export const portionWords: Words<Schemas['Portion']> = {
  whole: 'a whole animal',
  half: 'a half',
  quarter: 'a quarter',
  primal: 'one large cut',
  case: 'a case of equal cuts',
}

export const pricePerWords: Words<Schemas['PricePer']> = {
  in_all: 'for all of it',
  kilogram: 'a kilogram',
  pound: 'a pound',
  piece: 'a piece',
}

export const workWords: Words<Schemas['Work']> = {
  skin: 'Skin it',
  bone_out: 'Bone it out',
  trim: 'Trim it',
  open_flat: 'Open it flat',
  square_off: 'Square it off',
}

export const answerWords: Words<Schemas['HoldAnswer']> = {
  waiting: 'sent in, waiting',
  clear: 'clear',
  stamped: 'stamped as tested',
  positive: 'positive',
  not_tested: 'not tested',
  not_affected: 'nothing to test for here',
  done: 'done',
  strong: 'smells strong',
}

export const holdWords: Words<Schemas['HoldStatus']> = {
  open: 'open',
  waiting: 'waiting',
  ended: 'ended',
  care: 'ended, with care',
  bad: 'do not eat',
}

/** What an older label says otherwise than it would say today. */
export const labelChangeWords: Words<Schemas['LabelChange']> = {
  word: 'how to eat it',
  meat: 'the meat',
  ingredients: 'what it is made of',
  allergens: 'what it contains',
  keep: 'best before',
}

export const toolWords: Words<Schemas['Tool']> = {
  smoker: 'a smoker',
  oven: 'an oven',
  drying_place: 'a drying place with hooks',
  vacuum: 'a vacuum sealer',
  grinder: 'a grinder',
  stuffer: 'a stuffer',
  tub: 'a tub or bucket',
  pan: 'a loaf pan',
}

export const stockWords: Words<Schemas['StockKind']> = {
  meat: 'meat and fat',
  salt: 'salt',
  sugar: 'sugar',
  cure: 'curing salt',
  spice: 'spice',
  casing: 'casing',
  net: 'net',
  bag: 'bag',
  string: 'string',
  wood: 'wood',
}

export const standingWords: Words<Schemas['StepStanding']> = {
  done: 'done',
  left_out: 'left out',
  open: 'may be done now',
  later: 'comes later',
}
