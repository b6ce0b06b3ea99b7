import words from '../api/words.json'
import type { Schemas } from '../api/client'

type Words<K extends string> = Record<K, string>

export const taskWords: Words<Schemas['TaskKind']> = words.TaskKind.long

/** Where a task is done. */
export const taskStation = {
  discard: '/tally',
  by_hand: '/cure',
  assign: '/assign',
  thaw: '/cold',
  dose: '/cure',
  pump: '/cure',
  turn: '/cure',
  out_of_cure: '/cure',
  smoke: '/smoke',
  cook: '/smoke',
  hang: '/hang',
  weigh_in: '/hang',
  take_down: '/hang',
  pack: '/pack',
} as const satisfies Record<Schemas['TaskKind'], string>

export const stageWords: Words<Schemas['Stage']> = words.Stage.label

export const pointWords: Words<Schemas['Point']> = words.Point.label

export const byproductWords: Words<Schemas['Byproduct']> = words.Byproduct.label

export const lossWords: Words<Schemas['Loss']> = words.Loss.label

export const eatWords: Words<Schemas['Eat']> = words.Eat.label

export const knownWords: Words<Schemas['KnownWeight']> = words.KnownWeight.label

export const portionWords: Words<Schemas['Portion']> = words.Portion.label

export const pricePerWords: Words<Schemas['PricePer']> = words.PricePer.label

export const workWords: Words<Schemas['Work']> = words.Work.verb

export const answerWords: Words<Schemas['HoldAnswer']> = words.HoldAnswer.label

export const holdWords: Words<Schemas['HoldStatus']> = words.HoldStatus.label

/** What an older label says otherwise than it would say today. */
export const labelChangeWords: Words<Schemas['LabelChange']> = words.LabelChange.label

export const toolWords: Words<Schemas['Tool']> = words.Tool.label

export const stockWords: Words<Schemas['StockKind']> = words.StockKind.label

export const standingWords: Words<Schemas['StepStanding']> = words.StepStanding.label
