import { Keyboard, Search, Undo2, WifiOff, X } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useLeftOver, useLine } from '../api/entries'
import type { Sending } from '../api/queue'
import { useLost } from '../api/reach'
import { useSettings } from '../api/settings'
import { useUndo } from './undo'

/** What is answered by then is not worth a word (ms). */
const NOTICED_MS = 500
/** By then somebody who waits is told that no answer came (ms). */
const LATE_MS = 4_000

/** The strip under the rail: what was just written and its undo, what is on its way, who does not answer. It has its own place
 * and covers nothing. */
export function Strip(props: { onFind: () => void; onKeys: () => void; onLeftOver: () => void }) {
  const settings = useSettings().data
  return (
    <div className="mx-auto flex min-h-12 max-w-[1240px] items-center gap-1 px-3 sm:px-5">
      <div className="peer flex min-w-0 grow items-center gap-1 empty:hidden" role="status" aria-live="polite">
        <Said onLeftOver={props.onLeftOver} />
      </div>
      <p className="hidden min-w-0 grow truncate text-[0.85rem] text-soft peer-empty:block">
        {settings?.household.name}
        {settings?.clock_is_pinned && !settings.practice && `: the clock stands still on ${settings.today}`}
      </p>
      <button type="button" className="quiet shrink-0" onClick={props.onFind} aria-keyshortcuts="/">
        <Search size={19} aria-hidden /> Find
      </button>
      <button
        type="button"
        className="hidden size-11 shrink-0 items-center justify-center text-violet sm:inline-flex"
        onClick={props.onKeys}
        aria-label="Keys"
        aria-keyshortcuts="?"
      >
        <Keyboard size={21} aria-hidden />
      </button>
    </div>
  )
}

/** How long the oldest thing in line has been on its way, in steps that matter. */
function useLateness(oldest: number | undefined): 'soon' | 'noticed' | 'late' {
  const [found, setFound] = useState<{ of?: number; as: 'soon' | 'noticed' | 'late' }>({ as: 'soon' })
  useEffect(() => {
    if (oldest === undefined) return
    const from = (ms: number) => Math.max(0, ms - (Date.now() - oldest))
    const timers = [
      setTimeout(() => setFound({ of: oldest, as: 'noticed' }), from(NOTICED_MS)),
      setTimeout(() => setFound({ of: oldest, as: 'late' }), from(LATE_MS)),
    ]
    return () => timers.forEach(clearTimeout)
  }, [oldest])
  return oldest !== undefined && found.of === oldest ? found.as : 'soon'
}

const listed = (line: Sending[]) => {
  const [first] = line
  return first ? `${first.words}${line.length > 1 ? `, and ${line.length - 1} more` : ''}` : ''
}

function Said({ onLeftOver }: { onLeftOver: () => void }) {
  const lost = useLost()
  const line = useLine().filter((s) => s.state !== 'refused')
  const leftOver = useLeftOver()
  const undo = useUndo()
  const late = useLateness(line[0]?.at)
  if (lost || (line.length > 0 && late === 'late'))
    return (
      <p className="flex min-w-0 items-center gap-2 font-semibold text-stop">
        <WifiOff size={19} className="shrink-0" aria-hidden />
        <span className="line-clamp-2 text-[0.92rem] leading-tight">
          The program does not answer.{' '}
          {line.length > 0 ? `Kept here: ${listed(line)}.` : 'What you type is kept here until it does.'}
        </span>
      </p>
    )
  if (line.length > 0 && late === 'noticed')
    return <p className="line-clamp-2 min-w-0 text-[0.92rem] leading-tight text-soft">On its way: {listed(line)}</p>
  if (undo.problem) return <Undoing said={undo.problem.detail} />
  if (leftOver.length > 0)
    return (
      <>
        <p className="line-clamp-2 min-w-0 text-[0.92rem] leading-tight font-semibold text-caution">
          Not written yet: {listed(leftOver)}
        </p>
        <button type="button" className="quiet shrink-0" onClick={onLeftOver}>
          Look
        </button>
      </>
    )
  if (undo.said !== undefined) return <Undoing said={undo.said} />
  return null
}

function Undoing({ said }: { said: string }) {
  const undo = useUndo()
  const inTheWay = undo.problem?.type.endsWith(':in-the-way')
  return (
    <div
      className="flex min-w-0 items-center gap-x-1"
      onFocus={() => undo.hold(true)}
      onBlur={() => undo.hold(false)}
      onMouseEnter={() => undo.hold(true)}
      onMouseLeave={() => undo.hold(false)}
    >
      <p
        className={`line-clamp-2 min-w-0 text-[0.92rem] leading-tight ${undo.problem ? 'font-semibold text-stop' : ''}`}
        title={said}
      >
        {said}
      </p>
      {inTheWay && (
        <button type="button" className="quiet shrink-0" onClick={undo.withLater}>
          Undo those too
        </button>
      )}
      {undo.canUndo && !undo.problem && (
        <button type="button" className="quiet shrink-0" onClick={undo.takeBack} aria-keyshortcuts="u">
          <Undo2 size={19} aria-hidden /> {undo.undoneBefore ? 'Undo one more' : 'Undo'}
        </button>
      )}
      {undo.canRedo && !undo.problem && (
        <button type="button" className="quiet shrink-0" onClick={undo.doAgain}>
          Do it again
        </button>
      )}
      <button
        type="button"
        className="inline-flex size-11 shrink-0 items-center justify-center"
        aria-label="Close this line"
        onClick={undo.close}
      >
        <X size={19} aria-hidden />
      </button>
    </div>
  )
}
