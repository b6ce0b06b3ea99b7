import { Refused } from '../../../kit/States'
import type { Doing } from './act'

/** What was refused or asked about a write into a run. */
export function Refusal({ doing }: { doing: Doing }) {
  if (!doing.error) return null
  return <Refused error={doing.error} busy={doing.busy} onKeep={doing.keep} onReason={doing.because} />
}
