import { isThere, NotYet } from '../../kit/Fetched'
import { Link } from '@tanstack/react-router'
import { useLot } from '../../api/lots'
import { Fold, MainAction } from '../../kit/Page'
import { Findings } from '../../kit/States'
import { useFormat } from '../../units'
import { CutTable, Expected } from '../breakdown/Expected'
import { Holds } from '../breakdown/Holds'
import { knownWords } from '../words'

/** What came in, once: its tag, what to expect of it, what it asks for. */
export function Arrived({ ids, onAnother }: { ids: number[]; onAnother: () => void }) {
  return (
    <section className="grid content-start gap-5" aria-label="What came in">
      {ids.map((id) => (
        <OneLot key={id} id={id} />
      ))}
      <MainAction>
        <Link to="/breakdown/$id" params={{ id: String(ids[0]) }} className="press press-main bench">
          Break it down
        </Link>
        <button type="button" className="press bench" onClick={onAnother}>
          Receive another
        </button>
      </MainAction>
    </section>
  )
}

function OneLot({ id }: { id: number }) {
  const lot = useLot(id)
  const format = useFormat()
  if (!isThere(lot)) return <NotYet of={[lot]} what="what came in" />
  const { card, cautions, expectation, holds, count } = lot.data
  return (
    <div className="grid content-start gap-4">
      <div className="table-top grid gap-3 p-4">
        <p className="text-soft">Write this on tape and say it aloud:</p>
        <p>
          <span className="tag !min-h-16 !pr-6 !pl-10 text-4xl">{card.tag}</span>
        </p>
        <p>
          {card.name}, <span className="figures">{format.mass(card.received_g)}</span>{' '}
          {count
            ? `in ${count} pieces, about ${format.mass(Math.round(card.received_g / count / 10) * 10)} each`
            : knownWords[card.known]}
          {card.cost_cents != null && (
            <>
              , <span className="figures">{format.money(card.cost_cents)}</span>
            </>
          )}
          .{card.together && <> Part of “{card.together}”.</>}
          {card.frozen?.thaw_by && (
            <>
              {' '}
              Thaw by <span className="figures">{card.frozen.thaw_by}</span>.
            </>
          )}
        </p>
        {expectation && <Expected expectation={expectation} />}
      </div>
      {expectation && (
        <Fold title="Cut by cut">
          <CutTable lot={lot.data} />
        </Fold>
      )}
      <Holds lot={id} tag={card.tag} holds={holds} />
      {cautions.length > 0 && (
        <div>
          <h2 className="mb-2">Before you cut {card.species_name}</h2>
          <Findings list={cautions} />
        </div>
      )}
    </div>
  )
}
