import { AlarmClock } from 'lucide-react'
import { useState } from 'react'
import type { ActAsk } from '../../api/client'
import { send } from '../../api/queue'
import { useFormat } from '../../units'
import type { Chip, Row } from './words'

/** A step that waits gets its timer here; while it runs, its hour is said. */
export function SetTimer({ row, chips }: { row: Row; chips: Chip[] }) {
  const format = useFormat()
  const usual = row.timer_min
  const [typed, setTyped] = useState<string>()
  if (row.kind !== 'by_hand' || usual == null || chips.length === 0) return null
  const isSoak = row.step === 'soak'
  const minutes = Math.round(Number(typed ?? usual))
  const isRight = Number.isFinite(minutes) && minutes > 0 && minutes <= 10_000
  const running = chips.filter((c) => c.hours && c.hours.earliest === c.hours.due && isSoak)
  if (running.length > 0)
    return (
      <p className="text-soft">
        <AlarmClock size={17} aria-hidden className="mr-1 inline" />
        {running.map((c) => `${c.tag} until ${format.clock(c.hours!.due)}`).join(', ')}
      </p>
    )
  const start = () => {
    const acts = chips.map((c): ActAsk => ({ act: 'timer_set', piece: c.piece, what: isSoak ? 'soak' : 'rest', minutes }))
    send(
      { to: 'entries', ask: { acts } },
      { words: `timer of ${minutes} min`, owner: 'timers', typed: chips.map((c) => c.piece) },
    )
  }
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      <label className="flex items-center gap-1.5">
        <input
          className="figures min-h-11 w-20 border-2 border-edge bg-table px-2"
          inputMode="numeric"
          aria-label={`Minutes for ${isSoak ? 'the water' : 'the wait'}`}
          value={typed ?? String(usual)}
          onChange={(e) => setTyped(e.target.value)}
        />
        min
      </label>
      <button type="button" className="press" disabled={!isRight} onClick={start}>
        <AlarmClock size={18} aria-hidden /> {isSoak ? 'Into the water now' : 'It waits from now'}
      </button>
    </span>
  )
}
