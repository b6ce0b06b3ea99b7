import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useSearch } from '@tanstack/react-router'
import { Printer } from 'lucide-react'
import { useState } from 'react'
import type { PieceCard } from '../../api/client'
import { type HangSheet, useHang } from '../../api/hang'
import { useStation } from '../../api/pieces'
import { OneOf } from '../../kit/OneOf'
import { Page } from '../../kit/Page'
import { Empty } from '../../kit/States'
import { useLoop } from '../weigh/WeighLoop'
import { AirWeek } from './AirWeek'
import { OffTheHook } from './Down'
import { HangUp } from './HangUp'
import { HookPanel } from './HookPanel'
import { Rails } from './Rail'
import { Round } from './Round'
import { SeasonClock } from './SeasonClock'
import { SheetOnPaper } from './SheetOnPaper'
import { SouringList } from './Souring'
import { ThisWeek } from './ThisWeek'

/** The rails of hooks, with how far each piece has come and when it will be there. */
export function Hang() {
  const station = useStation('hang')
  const hang = useHang()
  const search = useSearch({ from: '/hang' })
  if (!isThere(station) || !isThere(hang)) return <NotYet of={[station, hang]} what="the hooks" page="Hang" />
  return <Hooked pieces={station.data.pieces} sheet={hang.data} first={'piece' in search ? search.piece : undefined} />
}

function Hooked({ pieces, sheet, first }: { pieces: PieceCard[]; sheet: HangSheet; first?: number }) {
  const souring = new Set(sheet.souring.map((s) => s.id))
  const waiting = pieces.filter((p) => p.stage === 'hang' && !souring.has(p.id))
  const hanging = inRound(
    pieces.filter((p) => p.stage === 'hanging'),
    sheet.round,
  )
  const isUp = waiting.some((p) => p.id === first)
  const up = useLoop('hung', waiting, isUp ? first : undefined)
  const weighed = useLoop('weighed_in', hanging, isUp ? undefined : first, true)
  const [picked, setPicked] = useState<number>()
  const chosen = sheet.hooks.find((h) => h.id === (picked ?? first)) ?? sheet.hooks[0]
  const choose = (id: number) => {
    setPicked(id)
    if (!weighed.isTyped) weighed.hold(id)
  }
  const isEmpty = pieces.length === 0
  const airs = sheet.places.filter((p) => p.at || sheet.hooks.some((h) => h.place === p.id))
  const tabs = (
    <OneOf
      label="What you do now"
      first={isUp || hanging.length === 0 ? 'up' : 'in'}
      asked={first}
      tabs={[
        {
          key: 'in',
          title: 'Weigh in',
          count: weighed.count,
          body: <Round pieces={hanging} held={weighed} sheet={sheet} first={isUp ? undefined : first} onAtHand={setPicked} />,
        },
        {
          key: 'up',
          title: 'Hang up',
          count: up.count,
          body: <HangUp pieces={waiting} held={up} sheet={sheet} first={isUp ? first : undefined} />,
        },
        { key: 'sour', title: 'Let it sour', count: sheet.souring.length, body: <SouringList list={sheet.souring} /> },
        { key: 'down', title: 'Off the hook', count: sheet.down.length, body: <OffTheHook list={sheet.down} /> },
      ]}
    />
  )
  return (
    <Page
      title="Hang"
      lead="The weight decides, not the day. Cloth, net and clips are not meat."
      side={
        sheet.hooks.length > 0 && (
          <div className="no-print flex flex-wrap gap-2">
            <SeasonClock sheet={sheet} />
            <button type="button" className="press" onClick={() => window.print()}>
              <Printer size={18} aria-hidden /> Hanging sheet
            </button>
          </div>
        )
      }
    >
      {isEmpty && (
        <Empty title="The hooks are empty">
          Pieces come here out of a long cure, or from the smoke to age.{' '}
          <Link className="quiet" to="/cure">
            See what lies in cure
          </Link>
        </Empty>
      )}
      <div className="no-print grid grid-cols-1 gap-7">
        {sheet.hooks.length > 0 && <ThisWeek sheet={sheet} onChoose={choose} />}
        {sheet.hooks.length > 0 && (
          <div className="order-last sm:order-none">
            <Rails sheet={sheet} chosen={chosen?.id} onChoose={choose} />
          </div>
        )}
        <div className="grid grid-cols-1 items-start gap-7 lg:grid-cols-2">
          <div className="min-w-0">{tabs}</div>
          {chosen && <HookPanel key={chosen.id} hook={chosen} sheet={sheet} />}
        </div>
        {airs.length > 0 && (
          <div className="grid grid-cols-1 items-start gap-5 lg:grid-cols-2">
            {airs.map((p) => (
              <AirWeek key={p.id} place={p} />
            ))}
          </div>
        )}
      </div>
      <SheetOnPaper sheet={sheet} />
    </Page>
  )
}

/** What is due at the scale first, in the order of the round. */
function inRound(pieces: PieceCard[], round: number[]) {
  const at = (p: PieceCard) => {
    const i = round.indexOf(p.id)
    return i < 0 ? round.length : i
  }
  return [...pieces].sort((a, b) => at(a) - at(b))
}
