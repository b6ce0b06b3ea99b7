import { Pencil, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { photoAddress } from '../../api/photos'
import { useTakeBack } from '../../api/entries'
import { Refused } from '../../kit/States'
import { useFormat } from '../../units'
import { Correction } from './Correction'

type Happened = Schemas['Happened']

/** Everything that happened, the newest first; corrected entries stay, struck through. */
export function TimeLine({ entries }: { entries: Happened[] }) {
  const format = useFormat()
  const [correcting, setCorrecting] = useState<number>()
  const takeBack = useTakeBack()
  return (
    <div className="grid gap-2">
      <Refused error={takeBack.error} />
      {takeBack.error && problemOf(takeBack.error).problem.type.endsWith(':in-the-way') && (
        <button type="button" className="press justify-self-start" disabled={takeBack.isPending} onClick={takeBack.withLater}>
          Undo it and what stands in the way
        </button>
      )}
      <ol className="table-top divide-y divide-line">
        {entries.map((e) => (
          <li
            key={e.entry}
            id={`entry-${e.entry}`}
            className={`grid scroll-mt-32 gap-x-4 p-2.5 sm:grid-cols-[9rem_1fr_auto] ${e.live ? '' : 'hatch'}`}
          >
            <p className="figures text-[0.95rem] text-soft">{format.moment(e.at)}</p>
            <div className="min-w-0">
              <p>
                <span className={e.live ? 'font-semibold' : 'line-through'}>{e.what}</span>{' '}
                {!e.live && <strong className="text-caution">replaced</strong>}
                {e.live && e.because && <span className="text-soft">worked out anew after a correction</span>}
                {e.live && e.replaces && !e.because && e.kind !== 'undone' && <strong className="text-violet">corrected</strong>}
              </p>
              {e.detail && <p className={`figures text-[0.95rem] ${e.live ? '' : 'text-soft'}`}>{e.detail}</p>}
              {e.photo && (
                <a href={photoAddress(e.photo)} target="_blank" rel="noreferrer" className="mt-1 inline-block">
                  <img
                    src={photoAddress(e.photo)}
                    alt={`Photo: ${e.detail}`}
                    loading="lazy"
                    className="max-h-40 border border-line"
                  />
                </a>
              )}
              {correcting === e.entry && <Correction entry={e} onDone={() => setCorrecting(undefined)} />}
            </div>
            {e.live && correcting !== e.entry && (
              <div className="no-print flex flex-wrap">
                {e.correctable && (
                  <button type="button" className="quiet" onClick={() => setCorrecting(e.entry)}>
                    <Pencil size={17} aria-hidden /> Correct<span className="sr-only"> {e.what}</span>
                  </button>
                )}
                <button
                  type="button"
                  className="quiet"
                  disabled={takeBack.isPending}
                  onClick={() => takeBack.mutate({ id: e.entry })}
                >
                  <Undo2 size={17} aria-hidden /> {e.kind === 'undone' ? 'Bring back' : 'Undo'}
                  <span className="sr-only"> {e.what}</span>
                </button>
              </div>
            )}
          </li>
        ))}
      </ol>
    </div>
  )
}
