import { describe, expect, it } from 'vitest'
import { asSaid, dayWords, decimals, estimate, heat, length, mass, money, percent, typedNumber, volume } from './units'

describe('a weight is written as the household writes it', () => {
  it.each([
    [0, 'metric', '0 g'],
    [4.964, 'metric', '4.96 g'],
    [9.999, 'metric', '10 g'],
    [12.34, 'metric', '12.3 g'],
    [999.96, 'metric', '1000 g'],
    [1985, 'metric', '1.985 kg'],
    [-0.001, 'metric', '0 g'],
    [-1500, 'metric', '-1.5 kg'],
    [28.349523125, 'imperial', '1 oz'],
    [453.59237, 'imperial', '1 lb'],
    [453.5, 'imperial', '1 lb'],
    [907.18474 + 28.349523125 * 7.5, 'imperial', '2 lb 7.5 oz'],
    [-453.59237, 'imperial', '-1 lb'],
    [-0.1, 'imperial', '0 oz'],
  ] as const)('%f g (%s) is %s', (grams, unit, want) => expect(mass(grams, unit)).toBe(want))

  it('never shows sixteen ounces beside pounds', () => {
    for (let grams = 400; grams < 2000; grams += 0.7) expect(mass(grams, 'imperial')).not.toMatch(/\b16(\.\d)? oz/)
  })
})

describe('water, lengths and temperatures', () => {
  it.each([
    [250, 'metric', '250 ml'],
    [1500, 'metric', '1.5 l'],
    [946.352946, 'imperial', '1 qt'],
    [3785.411784, 'imperial', '1 gal'],
    [236.5882365, 'imperial', '1 cup'],
    [473.176473, 'imperial', '2 cups'],
  ] as const)('%f g of water (%s) is %s', (grams, unit, want) => expect(volume(grams, unit)).toBe(want))

  it.each([
    [length(45, 'mm'), '45 mm'],
    [length(44.45, 'inch'), '1.75 in'],
    [heat(63, 'celsius'), '63 °C'],
    [heat(62.8, 'fahrenheit'), '145 °F'],
    [heat(-0.01, 'celsius'), '0 °C'],
    [percent(0.35), '35 %'],
    [percent(0.0726), '7.3 %'],
    [money(1205, '$'), '$ 12.05'],
  ])('%s is %s', (shown, want) => expect(shown).toBe(want))
})

describe('what is typed and what is expected', () => {
  it.each([
    ['1,5', 1.5],
    [' 12 ', 12],
    ['0', 0],
    ['', null],
    ['4 lb', null],
    ['1e400', null],
  ])('“%s” is the number %s', (text, want) => expect(typedNumber(text)).toBe(want))

  it('keeps the words that name their unit, and shows a bare number in the household’s', () => {
    expect(asSaid('1 3/4 in', '44.5 mm')).toBe('1 3/4 in')
    expect(asSaid('45', '45 mm')).toBe('45 mm')
    expect(asSaid(null, '45 mm')).toBe('45 mm')
  })

  it('promises no digits of what is only expected', () => {
    expect(estimate(2_449)).toBe(2_400)
    expect(estimate(187)).toBe(190)
  })

  it.each([
    [1, 0],
    [0.1, 1],
    [0.05, 2],
    [5, 0],
    [0.001, 3],
  ])('a scale that steps by %f shows %i decimals', (division, want) => expect(decimals(division)).toBe(want))
})

describe('a day in words', () => {
  it.each([
    ['2026-11-21', 'today'],
    ['2026-11-22', 'tomorrow'],
    ['2026-11-20', 'yesterday'],
    ['2026-11-11', '10 days ago'],
    ['2026-11-24', 'in 3 days, Tue, Nov 24'],
    ['2026-12-01', 'Tue, Dec 1'],
  ])('%s is %s', (date, want) => expect(dayWords(date, '2026-11-21')).toBe(want))
})
