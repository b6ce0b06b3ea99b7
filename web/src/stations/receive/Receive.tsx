import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { useLots } from '../../api/lots'
import { Page } from '../../kit/Page'
import { Empty } from '../../kit/States'
import { PlainTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { Arrived } from './Arrived'
import { ReceiveForm } from './ReceiveForm'
import { UnderWayForm } from './UnderWayForm'

/** What came in: an animal, a share of one, a purchase. */
export function Receive() {
  const [arrived, setArrived] = useState<number[]>([])
  const [underWay, setUnderWay] = useState(false)
  const navigate = useNavigate()
  return (
    <Page
      title="Receive"
      lead={
        underWay
          ? 'A piece in cure, hanging or ready to pack, with what is known of it.'
          : 'What came in, and the one weight you know of it.'
      }
      side={
        <button type="button" className="press" onClick={() => setUnderWay((u) => !u)}>
          {underWay ? 'Something comes in' : 'A piece is on its way already'}
        </button>
      }
    >
      <div className="grid grid-cols-1 gap-6 lg:grid-cols-[3fr_2fr]">
        {underWay ? (
          <UnderWayForm onDone={(piece) => void navigate({ to: '/pieces/$id', params: { id: String(piece) } })} />
        ) : arrived.length > 0 ? (
          <Arrived ids={arrived} onAnother={() => setArrived([])} />
        ) : (
          <ReceiveForm onDone={setArrived} />
        )}
        <Lots />
      </div>
    </Page>
  )
}

function Lots() {
  const lots = useLots()
  const format = useFormat()
  if (!isThere(lots)) return <NotYet of={[lots]} what="what came before" />
  if (lots.data.length === 0)
    return <Empty title="Nothing has come in yet">Choose the species, type the weight you know, and give it a name.</Empty>
  return (
    <section aria-label="Came in before">
      <h2 className="mb-1.5">Came in before</h2>
      <ul className="table-top divide-y divide-line">
        {lots.data.map((lot) => (
          <li key={lot.id}>
            <Link
              to="/breakdown/$id"
              params={{ id: String(lot.id) }}
              className="grid grid-cols-[auto_1fr_auto] items-center gap-3 p-3 hover:bg-violet-wash"
            >
              <PlainTag tag={lot.tag} />
              <span className="min-w-0">
                <span className="block truncate font-semibold">{lot.name}</span>
                <span className="block text-[0.95rem] text-soft">
                  {format.date(lot.at)} ·{' '}
                  {lot.closed ? `${lot.open_pieces} of ${lot.pieces} pieces on their way` : 'being broken down'}
                </span>
                {lot.together && <span className="block truncate text-[0.95rem] text-soft">in “{lot.together}”</span>}
                {lot.frozen?.thaw_by && !lot.closed && (
                  <span className="block text-[0.95rem] text-caution">frozen, thaw by {lot.frozen.thaw_by}</span>
                )}
              </span>
              <span className="figures text-right">
                {format.mass(lot.received_g)}
                {lot.cost_cents != null && <span className="block text-[0.9rem] text-soft">{format.money(lot.cost_cents)}</span>}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}
