import words from '../../api/words.json'
import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useParams } from '@tanstack/react-router'
import type { Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { Page } from '../../kit/Page'
import { Empty } from '../../kit/States'
import { percent, useFormat } from '../../units'
import { eatWords, toolWords } from '../words'

/** The builds, the curing salts, the rules and the schools. */
export function Library() {
  const catalogue = useCatalogue()
  if (!isThere(catalogue)) return <NotYet of={[catalogue]} what="the builds" page="Library" />
  const { builds, cures, rule_sets, schools } = catalogue.data
  return (
    <Page
      title="Library"
      lead="What can be made, and the numbers it rests on. Your local code and your extension office come first."
      side={
        <p className="flex flex-wrap gap-2">
          <Link to="/recipe" className="press">
            Recipe check
          </Link>
          <Link to="/pantry" className="press">
            Pantry
          </Link>
          <Link to="/settings" className="press">
            Equipment
          </Link>
        </p>
      }
    >
      <div className="grid grid-cols-1 gap-7">
        <section aria-label="Builds">
          <h2 className="mb-1.5">
            Builds <span className="figures font-normal text-soft">{builds.filter((b) => !b.ending).length}</span>
          </h2>
          <div className="grid gap-3">
            {[...new Set(builds.filter((b) => !b.ending).map((b) => b.family))].map((family) => (
              <div key={family}>
                <h3 className="mb-1 text-soft">{family}</h3>
                <ul className="table-top divide-y divide-line">
                  {builds
                    .filter((b) => b.family === family)
                    .map((b) => (
                      <li key={b.key}>
                        <Link to="/library/$build" params={{ build: b.key }} className="block p-3 hover:bg-violet-wash">
                          <strong>{b.name}</strong>
                          <span className="block text-soft">{b.what}</span>
                        </Link>
                      </li>
                    ))}
                </ul>
              </div>
            ))}
          </div>
        </section>
        <section aria-label="Curing salts">
          <h2 className="mb-1.5">Curing salts</h2>
          <ul className="table-top divide-y divide-line">
            {cures.map((c) => (
              <li key={c.key} className="p-3">
                <strong>{c.name}</strong>{' '}
                <span className="figures text-soft">
                  nitrite {percent(c.nitrite ?? 0, 2)}, nitrate {percent(c.nitrate ?? 0, 2)}, salt {percent(c.salt ?? 0, 2)}
                </span>
                <p>{c.words}</p>
              </li>
            ))}
          </ul>
          <p className="mt-2 border-l-8 border-caution bg-caution-wash px-3 py-2">
            <strong className="text-caution">Caution.</strong> Keep curing salt coloured, labelled and locked away from children,
            never in a shaker: one level teaspoon of cure #1 can kill a small child. Blue lips or dizziness after eating: call
            emergency services.
          </p>
        </section>
        <section aria-label="Rule sets">
          <h2 className="mb-1.5">Rule sets</h2>
          {rule_sets.map((r) => (
            <Rules key={r.key} rules={r} />
          ))}
        </section>
        <section aria-label="Cure-time schools">
          <h2 className="mb-1.5">Schools of cure time</h2>
          <ul className="table-top divide-y divide-line">
            {schools.map((s) => (
              <li key={s.key} className="p-3">
                <strong>{s.name}</strong>
                <span className="block text-soft">{s.words}</span>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </Page>
  )
}

const classWords: Record<Schemas['Class'], string> = words.Class.label

function Rules({ rules }: { rules: Schemas['RuleSet'] }) {
  return (
    <details className="table-top mb-2 p-3">
      <summary className="font-semibold">
        {rules.name} <span className="font-normal text-soft">from {rules.since}</span>
      </summary>
      <p className="mt-1 text-[0.95rem] text-soft">{rules.source}</p>
      <div className="overflow-x-auto" tabIndex={0} role="region" aria-label={`Limits of ${rules.name}`}>
        <table className="mt-2 w-full min-w-[30rem] text-[0.95rem]">
          <thead>
            <tr className="text-left text-soft">
              <th scope="col" className="font-normal">
                What
              </th>
              <th scope="col" className="font-normal">
                How cured
              </th>
              <th scope="col" className="text-right font-normal">
                Nitrite, ppm
              </th>
              <th scope="col" className="text-right font-normal">
                Nitrate, ppm
              </th>
            </tr>
          </thead>
          <tbody>
            {rules.limit.map((l) => (
              <tr key={l.class + l.ways.join()} className="border-t border-line">
                <th scope="row" className="text-left font-normal">
                  {classWords[l.class]}
                </th>
                <td>{l.ways.join(', ')}</td>
                <td className="figures text-right">
                  {l.nitrite_ppm}
                  {l.skin_on_ppm != null && ` (skin on ${l.skin_on_ppm})`}
                </td>
                <td className="figures text-right">{l.nitrate_ppm}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </details>
  )
}

/** One build as a person reads it: what, why, how long, how much, what can go wrong. */
export function BuildPage() {
  const { build: key } = useParams({ from: '/library/$build' })
  const catalogue = useCatalogue()
  const format = useFormat()
  if (!isThere(catalogue)) return <NotYet of={[catalogue]} what="the build" page="Build" />
  const build = catalogue.data.builds.find((b) => b.key === key)
  if (!build)
    return (
      <Page title="Build">
        <Empty title="There is no such build">
          <Link to="/library" className="quiet">
            All builds
          </Link>
        </Empty>
      </Page>
    )
  const name = (species: string, cut: string) => {
    const found = catalogue.data.species.find((s) => s.key === species)
    return found?.cut.find((c) => c.key === cut)?.name ?? cut
  }
  const dose = build.dose
  return (
    <Page title={build.name} lead={build.what} side={<p className="figures text-soft">version {build.version}</p>}>
      <div className="grid grid-cols-1 items-start gap-6 lg:grid-cols-[3fr_2fr]">
        <div className="grid gap-4">
          <dl className="grid gap-3">
            <Fact name="Why">{build.why}</Fact>
            <Fact name="How long">{build.how_long}</Fact>
            {build.yield_of_green && (
              <Fact name="How much comes out">
                {percent(build.yield_of_green.low, 0)} to {percent(build.yield_of_green.high, 0)} of green weight.
              </Fact>
            )}
            <Fact name="What can go wrong">{build.goes_wrong}</Fact>
            {build.smoke && (
              <Fact name="Smoke">
                {build.smoke.words} Inside: {format.heat(build.smoke.inside_c)}; game and birds go to their own, higher mark.
              </Fact>
            )}
            {build.hang && (
              <Fact name="Hang">
                {build.hang.words} Until it has lost {percent(build.hang.loss_fraction, 0)}.
              </Fact>
            )}
          </dl>
          <section aria-label="Steps">
            <h2 className="mb-1">Steps</h2>
            <ol className="list-decimal pl-6">
              {(build.step ?? []).map((s) => (
                <li key={s.id} className="mb-1">
                  <strong>{s.verb}:</strong> {s.words}
                  {s.optional && ' It may be left out.'}
                  {s.check && <span className="block border-l-4 border-violet pl-2 text-[0.95rem]">Check: {s.check}</span>}
                </li>
              ))}
            </ol>
          </section>
          {(build.other_way ?? []).length > 0 && (
            <section aria-label="Other ways">
              <h2 className="mb-1">Other ways people do it</h2>
              <ul className="grid gap-1.5">
                {build.other_way!.map((o) => (
                  <li key={o.name}>
                    <strong>{o.name}:</strong> {o.words}
                  </li>
                ))}
              </ul>
            </section>
          )}
        </div>
        <div className="grid gap-4">
          <Wanted build={build} />
          {dose && (
            <section aria-label="Dose" className="table-top p-4">
              <h2 className="mb-1">Dose</h2>
              <ul className="figures">
                <li>
                  {catalogue.data.cures.find((c) => c.key === dose.cure)?.name}:{' '}
                  {dose.cure_g_per_kg != null
                    ? `${dose.cure_g_per_kg} g/kg`
                    : dose.nitrite_ppm != null
                      ? `${dose.nitrite_ppm} ppm nitrite`
                      : 'none'}
                </li>
                {dose.salt_g_per_kg != null && <li>salt in all: {dose.salt_g_per_kg} g/kg</li>}
                {dose.salt_fraction != null && <li>salt: {percent(dose.salt_fraction)} of meat and water</li>}
                {dose.sugar_fraction != null && <li>sugar: {percent(dose.sugar_fraction)}</li>}
                {dose.water_per_meat != null && <li>water: {percent(dose.water_per_meat, 0)} of the meat</li>}
                {(dose.additions ?? []).map((a) => (
                  <li key={a.name}>
                    {a.name}: {a.g_per_kg} g/kg
                    {a.salt_fraction != null && `, ${percent(a.salt_fraction, 0)} of it salt, which counts`}
                  </li>
                ))}
              </ul>
            </section>
          )}
          <section aria-label="What suits it" className="table-top p-4">
            <h2 className="mb-1">What suits it</h2>
            <ul className="grid gap-2">
              {build.suit
                .filter((s) => s.score > 0)
                .map((s) => (
                  <li key={s.reason}>
                    <strong>{s.cuts.map((c) => name(s.species[0]!, c)).join(', ')}</strong> of{' '}
                    {s.species.join(', ').replaceAll('_', ' ')}
                    <span className="block text-[0.95rem] text-soft">{s.reason}</span>
                  </li>
                ))}
            </ul>
          </section>
        </div>
      </div>
    </Page>
  )
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="border-l-4 border-violet pl-3">
      <dt className="font-semibold">{name}</dt>
      <dd>{children}</dd>
    </div>
  )
}

const ONE: Record<Schemas['Muscles'], string> = words.Muscles.label

/** What meat and what tools it asks for, and how it is eaten and kept. */
function Wanted({ build }: { build: Schemas['Build'] }) {
  const format = useFormat()
  const w = build.wants
  const facts = [
    w?.fat_fraction && `${percent(w.fat_fraction.low, 0)} to ${percent(w.fat_fraction.high, 0)} fat`,
    w?.least_thickness_mm != null && `${format.length(w.least_thickness_mm)} thick or more`,
    build.cure && `up to ${format.length(build.cure.limit_thickness_mm)} in one piece`,
    w?.muscles && ONE[w.muscles],
    w?.bone === 'off' && 'bone out',
    w?.skin === 'off' && 'skin off',
    w?.skin === 'on' && 'skin on',
    w?.flat && 'lying flat',
    build.mix &&
      `blended to ${percent(build.mix.fat_fraction.low, 0)} to ${percent(build.mix.fat_fraction.high, 0)} fat: ${build.mix.lean_words}, with ${build.mix.fat_words}`,
  ].filter(Boolean)
  const tools = build.tools ?? []
  return (
    <section aria-label="What it asks for" className="table-top grid gap-2 p-4">
      <h2>What it asks for</h2>
      <ul className="list-disc pl-5">
        {facts.map((f) => (
          <li key={String(f)}>{f}</li>
        ))}
      </ul>
      {tools.length > 0 && (
        <p>
          <span className="text-soft">Takes</span> {tools.map((t) => toolWords[t]).join(', ')}.
        </p>
      )}
      <p>
        <strong>{eatWords[build.eat]}.</strong> {(build.keep ?? []).map((k) => `${k.days} days in the ${k.place}`).join('; ')}.
      </p>
    </section>
  )
}
