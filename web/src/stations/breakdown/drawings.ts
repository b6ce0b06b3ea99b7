/** One cut on a drawing: its outline, and where its name stands. */
export interface Region {
  cut: string
  path: string
  /** Where its name stands, when there is room for one. */
  label?: [number, number]
}

export interface Drawing {
  /** The outline behind everything that is no cut of its own. */
  outline: string
  regions: Region[]
}

const ellipse = (x: number, y: number, rx: number, ry: number) =>
  `M${x - rx} ${y}a${rx} ${ry} 0 1 0 ${rx * 2} 0a${rx} ${ry} 0 1 0 ${-rx * 2} 0Z`

const pig: Drawing = {
  outline: 'M578 132q26 -18 14 -34q-12 -6 -10 8q4 10 22 2',
  regions: [
    { cut: 'bones', path: 'M506 262L560 258L551 312L520 312ZM158 284L206 282L199 316L168 316Z' },
    {
      cut: 'jowl',
      path: 'M84 112L112 92Q132 118 142 152L138 206Q112 212 90 200Q52 184 60 160Q66 132 84 112Z',
      label: [100, 160],
    },
    { cut: 'butt', path: 'M112 92Q152 72 204 68L216 150L142 152Q132 118 112 92Z', label: [172, 116] },
    { cut: 'picnic', path: 'M142 152L216 150L213 240L206 282L158 284L156 234L138 206Z', label: [178, 204] },
    { cut: 'loin', path: 'M206 86Q340 76 500 92L492 146L216 150Z', label: [316, 118] },
    { cut: 'back_fat', path: 'M204 68Q340 54 502 76L500 92Q340 76 206 86Z' },
    { cut: 'belly', path: 'M216 150L492 146L472 224Q420 252 330 254Q260 254 213 240Z', label: [330, 206] },
    {
      cut: 'leg',
      path: 'M502 76Q560 92 580 136Q596 196 560 258L506 262Q492 236 472 224L492 146Z',
      label: [532, 172],
    },
    { cut: 'tenderloin', path: ellipse(430, 136, 50, 8) },
    { cut: 'leaf_fat', path: ellipse(430, 178, 28, 11) },
  ],
}

const hoofed = (loin: string, ribs: Region[]): Drawing => ({
  outline: 'M546 140q16 -4 18 12q-2 16 -14 14',
  regions: [
    { cut: 'shank', path: 'M502 226L540 214L532 306L508 306ZM172 226L214 230L206 306L184 306Z' },
    { cut: 'neck', path: 'M62 62L108 40Q130 84 172 96L146 156Q92 136 62 62Z', label: [112, 96] },
    { cut: 'shoulder', path: 'M172 96L230 98L238 196L214 230L172 226Q150 200 146 156Z', label: [192, 164] },
    { cut: loin, path: 'M230 98Q350 86 474 92L466 130L233 134Z', label: [300, 108] },
    ...ribs,
    {
      cut: 'leg',
      path: 'M474 92Q534 98 552 150Q556 184 540 214L502 226Q476 220 452 206L466 130Z',
      label: [508, 160],
    },
    { cut: 'tenderloin', path: ellipse(412, 124, 48, 7) },
  ],
})

const deer = hoofed('backstrap', [
  {
    cut: 'flank',
    path: 'M233 134L466 130L452 206Q400 234 330 236Q270 236 236 222L238 196Z',
    label: [340, 190],
  },
])

const lamb = hoofed('saddle', [
  { cut: 'ribs', path: 'M233 134L360 132L352 186L238 196Z', label: [292, 164] },
  {
    cut: 'belly',
    path: 'M360 132L466 130L452 206Q400 234 330 236Q270 236 236 222L238 196L352 186Z',
    label: [404, 184],
  },
])

const beef: Drawing = {
  outline: 'M572 120q20 10 16 60q-4 16 -10 2',
  regions: [
    { cut: 'shank', path: 'M132 262L178 254L172 316L144 316ZM504 246L552 240L542 316L514 316Z' },
    { cut: 'chuck', path: 'M64 96Q120 70 194 64L198 178L108 198Q64 160 64 96Z', label: [134, 130] },
    { cut: 'rib', path: 'M194 64Q240 58 290 58L292 168L198 178Z', label: [243, 116] },
    { cut: 'short_loin', path: 'M290 58Q340 58 388 62L386 168L292 168Z', label: [338, 106] },
    { cut: 'sirloin', path: 'M388 62Q430 66 474 76L464 190L386 168Z', label: [428, 112] },
    {
      cut: 'round',
      path: 'M474 76Q550 96 574 160Q580 206 552 240L504 246Q480 220 464 190Z',
      label: [520, 164],
    },
    { cut: 'brisket', path: 'M108 198L198 178L208 248L178 254L132 262Q106 236 108 198Z', label: [160, 222] },
    { cut: 'plate', path: 'M198 178L292 168L344 168L338 252Q270 258 208 248Z', label: [270, 214] },
    { cut: 'flank', path: 'M344 168L386 168L464 190L456 226Q400 250 338 252Z', label: [396, 214] },
    { cut: 'tenderloin', path: ellipse(386, 142, 66, 9) },
  ],
}

const bird: Drawing = {
  outline: 'M540 150q44 -34 70 -30q-14 20 -52 50',
  regions: [
    { cut: 'neck_fat', path: 'M152 158Q104 124 96 62L134 52Q146 98 194 106Z' },
    { cut: 'frame', path: 'M300 66Q452 50 550 158L486 192L332 176Z', label: [456, 134] },
    {
      cut: 'legs',
      path: 'M332 176L486 192Q520 226 572 292L540 306Q480 268 420 276Q350 284 296 262Q332 226 332 176Z',
      label: [420, 246],
    },
    {
      cut: 'breast',
      path: 'M152 158Q170 96 300 66L332 176Q332 226 296 262Q226 278 182 236Q148 200 152 158Z',
      label: [232, 210],
    },
    { cut: 'wings', path: 'M238 116Q330 92 402 132Q356 168 276 164Q238 144 238 116Z', label: [318, 134] },
    { cut: 'tenders', path: ellipse(262, 238, 34, 9) },
    { cut: 'giblets', path: ellipse(396, 208, 26, 12) },
  ],
}

const rabbit: Drawing = {
  outline: 'M552 150q30 -6 26 16q-8 14 -24 6',
  regions: [
    {
      cut: 'forelegs',
      path: 'M108 152Q122 104 194 108L204 202L192 286L160 286L164 208Q118 196 108 152Z',
      label: [160, 160],
    },
    { cut: 'frame', path: 'M194 108Q250 96 304 96L304 192L204 202Z', label: [252, 150] },
    { cut: 'saddle', path: 'M304 96Q386 84 456 102L444 156L304 150Z', label: [376, 124] },
    { cut: 'flank', path: 'M304 150L444 156Q420 212 304 192Z', label: [356, 178] },
    {
      cut: 'hind_legs',
      path: 'M456 102Q548 104 556 184L568 286L504 290L494 236Q436 224 444 156Z',
      label: [504, 172],
    },
    { cut: 'giblets', path: ellipse(408, 172, 18, 8) },
  ],
}

/** The drawing of a kind of animal; its cuts decide between two that look alike. */
export function drawingOf(kind: string, cuts: string[]): Drawing {
  if (kind === 'pork' || kind === 'wild_pork') return pig
  if (kind === 'beef') return beef
  if (kind === 'bird') return bird
  if (kind === 'rabbit') return rabbit
  return cuts.includes('saddle') ? lamb : deer
}
