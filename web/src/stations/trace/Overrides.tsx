import { isThere, NotYet } from '../../kit/Fetched'
import { useMoreOverrides, useOverrides } from '../../api/packs'
import { Page } from '../../kit/Page'
import { Empty, FindingNote, More } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'

/** Every stop that somebody lifted with a reason, the newest first. */
export function Overrides() {
  const overrides = useOverrides()
  const rest = useMoreOverrides(overrides.data)
  const format = useFormat()
  if (!isThere(overrides)) return <NotYet of={[overrides]} what="what was lifted" page="Lifted stops" />
  const { in_all } = overrides.data
  const list = [overrides.data, ...rest.pages].flatMap((p) => p.overrides)
  return (
    <Page title="Lifted stops" lead="Each stop that a typed reason lifted, with what was at stake. It stays on piece and label.">
      {list.length === 0 && <Empty title="No stop was lifted">Nothing went past a stop so far.</Empty>}
      <ul className="grid gap-3">
        {list.map((o) => (
          <li key={`${o.entry}-${o.piece}`} className="table-top grid gap-2 p-3">
            <p className="flex flex-wrap items-center gap-x-3 gap-y-1">
              <PieceTag id={o.piece} tag={o.tag} />
              <strong>
                {o.did}
                {o.product && `, ${o.product}`}
              </strong>
              <span className="figures text-soft">{format.moment(o.at)}</span>
              {o.packs.length > 0 && <span className="figures text-soft">packs {o.packs.join(', ')}</span>}
            </p>
            <p>
              <span className="text-soft">Because:</span> “{o.reason}”
            </p>
            {o.findings.map((f) => (
              <FindingNote key={f.code + f.message} finding={f} />
            ))}
          </li>
        ))}
      </ul>
      <More left={in_all - list.length} rest={rest} />
    </Page>
  )
}
