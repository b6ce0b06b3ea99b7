import type { Schemas } from '../../api/client'
import { useFormat } from '../../units'

type WaySheet = Schemas['WaySheet']

interface Props {
  ways: WaySheet[]
  chosen: string
  onChoose: (way: string) => void
}

/** The ways in which a product can be made, with what each changes for the pieces on the table. */
export function Ways({ ways, chosen, onChoose }: Props) {
  if (ways.length < 2) return null
  return (
    <fieldset className="no-print">
      <legend className="mb-1 font-semibold">How it is cured</legend>
      <ul className="grid gap-1.5 sm:grid-cols-2">
        {ways.map((w) => {
          const key = w.way ?? ''
          const on = key === chosen
          return (
            <li key={key}>
              <button
                type="button"
                aria-pressed={on}
                onClick={() => onChoose(key)}
                className={`h-full w-full border-2 px-2.5 py-1.5 text-left ${on ? 'border-violet bg-violet-wash' : 'border-line bg-table'}`}
              >
                <span className="font-semibold">{w.name}</span>
                <span className="block text-[0.92rem] text-soft">
                  <Changes way={w} />
                </span>
              </button>
            </li>
          )
        })}
      </ul>
    </fieldset>
  )
}

/** Days, what waits, what is soaked, and how loud it is. */
function Changes({ way }: { way: WaySheet }) {
  const time = way.hours != null ? `${way.hours} h` : way.days != null ? `${way.days} days` : 'no days known'
  const soak = way.soak_min ? `, then soaked ${way.soak_min[0]} to ${way.soak_min[1]} min` : ''
  const bare = way.nitrite?.nominal === 0
  const waits = way.waits === 'slack' ? (bare ? 'not longer: it has no nitrite' : 'may wait') : 'to the day: longer is saltier'
  return (
    <>
      <span className="figures">{time}</span>, {way.hours != null ? 'to the hour: longer is saltier' : waits}
      {soak}
      {way.cautions[0] && <span className="block text-caution">{way.cautions[0]}</span>}
    </>
  )
}

/** What the chosen way is, in words. */
export function WayWords({ ways, chosen }: { ways: WaySheet[]; chosen: string }) {
  const way = ways.find((w) => (w.way ?? '') === chosen)
  if (!way) return null
  // The product's own way goes without saying, but not on paper.
  if (!way.way) return <p className="hidden font-semibold print:block">{way.name}</p>
  return (
    <p className="border-l-4 border-violet pl-2 text-[0.95rem]">
      <strong className="inline-block first-letter:uppercase">{way.name}.</strong> {way.words}
    </p>
  )
}

/** What liquids bring, what the wrong jar would do, and what a soak afterwards takes. */
export function BesideTheDose({ sheet }: { sheet: Schemas['Sheet'] }) {
  const format = useFormat()
  const { liquids, wrong_jars: jars } = sheet
  return (
    <>
      {liquids && (
        <p className="text-soft">
          What carries it brings <span className="figures">{format.mass(liquids.water_g)}</span> of water,{' '}
          <span className="figures">{format.mass(liquids.sugar_g)}</span> of sugar and{' '}
          <span className="figures">{format.mass(liquids.salt_g)}</span> of salt; the salt is counted.
        </p>
      )}
      {jars.length > 0 && (
        <details className="no-print">
          <summary className="quiet">Out of the wrong jar?</summary>
          <table className="w-full text-[0.95rem]">
            <caption className="text-left text-soft">The same grams out of another jar would be</caption>
            <tbody>
              {jars.map((j) => (
                <tr key={j.name} className="border-t border-line">
                  <th scope="row" className="py-1 text-left font-normal">
                    {j.name}
                  </th>
                  <td className="figures py-1 text-right">{j.nitrite_ppm.toFixed(0)} ppm nitrite</td>
                  <td className="figures py-1 pl-3 text-right text-soft">{times(j.times)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </>
  )
}

const times = (n: number) =>
  n >= 1.05 ? `${n.toFixed(1)} times` : n > 0.95 ? 'as much, with nitrate' : `a ${(1 / n).toFixed(0)}th`
