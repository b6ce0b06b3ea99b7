import type { Schemas } from '../api/client'

type Words<K extends string> = Record<K, string>

export const taskWords: Words<Schemas['TaskKind']> = {
  assign: 'Give it a product',
  dose: 'Weigh out the cure',
  turn: 'Turn it',
  out_of_cure: 'Out of the cure, and weigh',
  smoke: 'Smoke, and weigh',
  hang: 'Hang, and weigh',
  weigh_in: 'Weigh it on its hook',
  take_down: 'Take it down',
  pack: 'Slice and pack',
}

/** Where a task is done. */
export const taskStation = {
  assign: '/assign',
  dose: '/cure',
  turn: '/cure',
  out_of_cure: '/cure',
  smoke: '/smoke',
  hang: '/hang',
  weigh_in: '/hang',
  take_down: '/hang',
  pack: '/pack',
} as const satisfies Record<Schemas['TaskKind'], string>

export const stageWords: Words<Schemas['Stage']> = {
  assign: 'no product yet',
  dose: 'waits for its dose',
  in_cure: 'in its cure',
  smoke: 'waits for the smoker',
  hang: 'waits for its hook',
  hanging: 'hangs',
  pack: 'waits to be packed',
  packed: 'packed',
  cut_up: 'cut into parts',
  discarded: 'thrown away',
}

export const pointWords: Words<Schemas['Point']> = {
  green: 'green',
  out_of_cure: 'out of cure',
  smoked: 'after smoke',
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
  evaporation: 'dried off',
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
