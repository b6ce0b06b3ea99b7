import type { Schemas } from '../../api/client'

/** A stage while it is typed. */
export interface StageDraft {
  kind: Schemas['RunStageKind']
  name: string
  set: string
  smoke: boolean
  damper: string
  ends: 'hours' | 'inside' | 'marks'
  hours: string
  inside: string
}

export const stageKinds: { value: Schemas['RunStageKind']; label: string }[] = [
  { value: 'dry', label: 'dry the surface' },
  { value: 'cold_smoke', label: 'cold smoke' },
  { value: 'rest', label: 'rest in the cold' },
  { value: 'smoke', label: 'smoke' },
  { value: 'finish', label: 'finish' },
  { value: 'steam', label: 'steam' },
  { value: 'boil', label: 'simmer' },
]

const SMOKY: Schemas['RunStageKind'][] = ['cold_smoke', 'smoke']

/** A stage of a kind, to begin with. */
export const freshStage = (kind: Schemas['RunStageKind']): StageDraft => ({
  kind,
  name: stageKinds.find((k) => k.value === kind)?.label ?? kind,
  set: '',
  smoke: SMOKY.includes(kind),
  damper: '',
  ends: kind === 'finish' || kind === 'boil' || kind === 'steam' ? 'marks' : 'hours',
  hours: '1',
  inside: '',
})

/** A stage as it can be typed over. */
export function draftOf(stage: Schemas['RunStage'], heat: (c: number) => string): StageDraft {
  const ends = stage.ends
  const plain = (c: number) => heat(c).replace('°', '')
  return {
    kind: stage.kind,
    name: stage.name,
    set: stage.set_c == null ? '' : plain(stage.set_c),
    smoke: stage.smoke,
    damper: stage.damper ?? '',
    ends: ends === 'marks' ? 'marks' : 'hours' in ends ? 'hours' : 'inside',
    hours: ends !== 'marks' && 'hours' in ends ? String(ends.hours) : '',
    inside: ends !== 'marks' && 'inside' in ends ? plain(ends.inside) : '',
  }
}

/** The same as it is sent. */
export const asked = (s: StageDraft): Schemas['RunStageAsk'] => ({
  kind: s.kind,
  name: s.name || null,
  set: s.set || null,
  smoke: s.smoke,
  damper: s.damper || null,
  hours: s.ends === 'hours' ? s.hours : null,
  inside: s.ends === 'inside' ? s.inside : null,
})
