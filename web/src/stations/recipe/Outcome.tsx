import words from '../../api/words.json'
import type { Assumption, RecipeAnswer, Settled } from '../../api/recipe'
import type { Schemas } from '../../api/client'
import { Findings } from '../../kit/States'
import { percent, useFormat } from '../../units'
import { DoseBand } from '../cure/DoseBand'
import { OverWeight } from './OverWeight'
import { Settle } from './Settle'

const methods: Record<Schemas['RecipeMethod'], string> = words.RecipeMethod.label

const classes: Record<Schemas['Class'], string> = words.Class.of_recipe

/** What a recipe really is: its way, its meat, salt, sugar and nitrite against the limit. */
export function Outcome({ answer }: { answer: RecipeAnswer }) {
  const format = useFormat()
  const nitrite = answer.nitrite_ppm
  const brine = answer.nitrite_ppm_pickup != null
  return (
    <section aria-label="What it comes to" className="grid gap-3">
      <div className="table-top grid gap-3 p-4">
        <p className="text-soft">
          It is <strong className="text-ink">{methods[answer.method]}</strong>
          {answer.meat_g != null && (
            <>
              , for <strong className="figures text-ink">{format.mass(answer.meat_g)}</strong> of meat
            </>
          )}
          , judged as {classes[answer.class]}.
        </p>
        <dl className="grid grid-cols-3 gap-3">
          <Figure label="nitrite" value={nitrite} shown={nitrite?.toFixed(0)} unit="ppm" />
          <Figure label="salt" value={answer.salt_fraction} shown={share(answer.salt_fraction)} unit="%" />
          <Figure label="sugar" value={answer.sugar_fraction} shown={share(answer.sugar_fraction)} unit="%" />
        </dl>
        {nitrite != null && nitrite > 0 && answer.ceiling_ppm != null && (
          <DoseBand
            nominal={nitrite}
            low={answer.nitrite_ppm_low ?? nitrite}
            high={answer.nitrite_ppm_high ?? nitrite}
            ceiling={answer.ceiling_ppm}
            floor={answer.floor_ppm ?? 0}
            label="This recipe"
          />
        )}
        {brine && (
          <p className="text-[0.95rem]">
            <span className="figures font-semibold">{answer.nitrite_ppm_pickup?.toFixed(0)} ppm</span> by what is taken up
            {answer.nitrite_ppm_equilibrium != null && (
              <>
                , <span className="figures font-semibold">{answer.nitrite_ppm_equilibrium.toFixed(0)} ppm</span> if meat and brine
                become alike
              </>
            )}
            . Ceilings go by the higher.
          </p>
        )}
        {answer.nitrate_ppm != null && answer.nitrate_ppm > 0 && (
          <p>
            And <span className="figures font-semibold">{answer.nitrate_ppm.toFixed(0)} ppm</span> of nitrate.
          </p>
        )}
      </div>
      <Findings list={answer.findings} />
    </section>
  )
}

/** What was taken for granted of the whole of it, and its times beside ours. */
export function Beyond({ answer, onSettle }: { answer: RecipeAnswer; onSettle: (settled: Settled) => void }) {
  // What is missing comes before what was merely taken for granted.
  const rank = (a: Assumption) => (a.code === 'meat_weight_missing' ? 0 : 1)
  const whole = answer.assumptions.filter((a) => a.line == null).sort((a, b) => rank(a) - rank(b))
  return (
    <>
      {whole.length > 0 && (
        <ul className="grid gap-2" aria-label="Taken for granted">
          {whole.map((a) => (
            <li key={a.code} className="grid gap-1.5 border-l-4 border-violet bg-violet-wash px-3 py-2">
              <p>{a.message}</p>
              <div className="no-print">
                <Settle assumption={a} onSettle={onSettle} />
              </div>
            </li>
          ))}
        </ul>
      )}
      {answer.over_weight && answer.over_weight.length > 0 && (
        <OverWeight points={answer.over_weight} ceiling={answer.ceiling_ppm} floor={answer.floor_ppm} />
      )}
      {answer.beside_ours && answer.beside_ours.length > 0 && <Beside list={answer.beside_ours} />}
    </>
  )
}

const share = (value: number | null | undefined) =>
  value != null ? percent(value, value < 0.1 ? 2 : 1).replace(' %', '') : undefined

function Figure({ label, value, shown, unit }: { label: string; value?: number | null; shown?: string; unit: string }) {
  return (
    <div>
      <dt className="text-soft">{label}</dt>
      <dd className="figures text-2xl leading-tight font-semibold sm:text-3xl">
        {value == null ? (
          <span className="text-lg text-soft">cannot be told</span>
        ) : value === 0 ? (
          'none'
        ) : (
          <>
            {shown}
            <span className="text-base font-normal"> {unit}</span>
          </>
        )}
      </dd>
    </div>
  )
}

const whats: Record<Schemas['Beside'], string> = words.Beside.label

/** Days and temperatures of the text, with ours beside them. */
function Beside({ list }: { list: Schemas['BesideOurs'][] }) {
  return (
    <table className="table-top w-full text-[0.95rem]">
      <caption className="pb-1 text-left font-semibold">Times and temperatures</caption>
      <thead>
        <tr className="text-left text-soft">
          <th scope="col" className="px-3 py-1 font-normal">
            the recipe
          </th>
          <th scope="col" className="px-3 py-1 font-normal">
            ours
          </th>
        </tr>
      </thead>
      <tbody>
        {list.map((b, i) => (
          <tr key={i} className="border-t border-line align-top">
            <th scope="row" className="px-3 py-1.5 text-left font-normal">
              <span className="figures font-semibold">{b.said}</span> {whats[b.what]}
            </th>
            <td className="px-3 py-1.5">{b.ours}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
