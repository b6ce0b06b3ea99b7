import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import type { Down as DownPiece } from '../../api/hang'
import { send } from '../../api/queue'
import { AmountField } from '../../kit/Fields'
import { Fold } from '../../kit/Page'
import { PieceTag } from '../../kit/Tag'
import { percent, useFormat } from '../../units'
import { AskedAbout, useAsked } from '../weigh/AskedAbout'
import { CookIt } from './CookIt'
import { EvenOut } from './EvenOut'

const OFF_HOOK = 'off_hook'

/** Off the hook: stripped and weighed, then weeks in vacuum. */
export function OffTheHook({ list }: { list: DownPiece[] }) {
  const asked = useAsked(OFF_HOOK, undefined)
  return (
    <div className="grid gap-4">
      <AskedAbout list={asked.here ? [asked.here, ...asked.others] : asked.others} />
      <ul className="grid grid-cols-1 gap-4">
        {list.map((piece) => (
          <li key={piece.id} className="table-top grid content-start gap-3 p-4">
            <One piece={piece} />
          </li>
        ))}
      </ul>
    </div>
  )
}

function One({ piece }: { piece: DownPiece }) {
  const format = useFormat()
  return (
    <>
      <div className="flex flex-wrap items-center gap-3">
        <PieceTag id={piece.id} tag={piece.tag} />
        <span className="grow font-semibold">{piece.build_name}</span>
        <span className="figures">{format.mass(piece.mass_g)}</span>
      </div>
      <p className="text-soft">
        {piece.lost == null ? (
          'Nobody weighed it when it came down: weigh the meat alone to know what it lost.'
        ) : (
          <>
            Lost <span className="figures">{percent(piece.lost)}</span> of{' '}
            <span className="figures">{percent(piece.loss_fraction, 0)}</span>; not meat:{' '}
            <span className="figures">{format.mass(piece.tare_g)}</span>
            {piece.tare_before_g != null && (
              <>
                {' '}
                (counted as <span className="figures">{format.mass(piece.tare_before_g)}</span> when it was hung)
              </>
            )}
            .
          </>
        )}
      </p>
      <Strip piece={piece} />
      {piece.evens_until ? (
        <p>
          Evens out in vacuum until <span className="font-semibold">{format.dayOf(piece.evens_until)}</span>.
        </p>
      ) : (
        <EvenOut piece={piece.id} tag={piece.tag} owner={OFF_HOOK} weeks="3" />
      )}
      <Fold title="Cook it instead">
        <CookIt piece={piece.id} tag={piece.tag} owner={OFF_HOOK} />
      </Fold>
      <Link to="/pack" search={{ piece: piece.id }} className="quiet">
        Slice and pack {piece.tag}
      </Link>
    </>
  )
}

/** Cloth, casing and net when they are off: what was counted is put right, and both stay in the history. */
function Strip({ piece }: { piece: DownPiece }) {
  const [tare, setTare] = useState('')
  const [bare, setBare] = useState('')
  const one = (tare.trim() === '') !== (bare.trim() === '')
  return (
    <form
      aria-label={`Strip ${piece.tag}`}
      className="grid items-start gap-x-4 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault()
        const said = tare.trim() ? `cloth and net ${tare}` : `alone ${bare}`
        send(
          {
            to: 'entries',
            ask: { acts: [{ act: 'stripped', piece: piece.id, tare: tare.trim() || null, bare: bare.trim() || null }] },
          },
          { words: `${piece.tag} stripped, ${said}`, owner: OFF_HOOK, piece: piece.id, typed: [] },
        )
        setTare('')
        setBare('')
      }}
    >
      <AmountField
        quantity="mass"
        label="Casing, net, hook and tag, stripped"
        value={tare}
        onChange={setTare}
        hint="All that hung there and was not meat."
      />
      <AmountField quantity="mass" label="Or the meat alone" value={bare} onChange={setBare} hint="One of the two." />
      <button type="submit" className="press justify-self-start" disabled={!one}>
        Stripped
      </button>
    </form>
  )
}
