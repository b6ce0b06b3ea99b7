import type { Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useRecord } from '../../api/entries'
import { Choice } from '../../kit/Fields'
import { Refused } from '../../kit/States'

/** How the animal is cut, settled by name before the knife goes in; it goes on the cut sheet. */
export function Choices({ lot }: { lot: Schemas['LotView'] }) {
  const catalogue = useCatalogue().data
  const record = useRecord()
  if (lot.choices.length === 0) return null
  return (
    <section aria-label="How it is cut" className="table-top grid gap-3 p-4">
      <h2>How it is cut</h2>
      {lot.choices.map((c) => {
        const options = catalogue?.cutting.find((x) => x.key === c.choice)?.option ?? []
        return (
          <div key={c.choice}>
            <Choice
              label={c.name}
              value={c.option}
              onChange={(option) =>
                record.mutate({
                  acts: [{ act: 'cutting_chosen', lot: lot.card.id, choice: c.choice, option }],
                })
              }
              options={options.map((o) => ({ value: o.key, label: o.name }))}
            />
            <p className="mt-0.5 text-[0.95rem] text-soft">
              {c.words}
              {!c.settled && ' Not settled yet: this is the usual way.'}
            </p>
          </div>
        )
      })}
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
    </section>
  )
}
