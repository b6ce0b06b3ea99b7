import { useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { useCatalogue } from '../../api/catalogue'
import { type PieceCard, problemOf, type Schemas } from '../../api/client'
import { useRunPlan, useSetUpRun } from '../../api/runs'
import { useSettings } from '../../api/settings'
import { Choice, Select, WhenField } from '../../kit/Fields'
import { Fold, MainAction } from '../../kit/Page'
import { Findings, Refused } from '../../kit/States'
import { useFormat } from '../../units'
import { asked, draftOf, type StageDraft } from './stages'
import { StagesEditor } from './StagesEditor'

/** Which pieces go in together, in what, by which stages; what gives pause is said before anything is lit. */
export function StartRun({ pieces }: { pieces: PieceCard[] }) {
  const format = useFormat()
  const navigate = useNavigate()
  const settings = useSettings().data
  const places = (settings?.household.equipment?.places ?? []).filter((p) => ['smoker', 'oven', 'pot'].includes(p.kind))
  const rules = useCatalogue().data?.heat_rules ?? []
  const [out, setOut] = useState<number[]>([])
  const [placed, setPlaced] = useState<string>()
  const [school, setSchool] = useState<string>()
  const rule = rules.find((r) => r.key === school) ?? rules[0]
  const [edited, setEdited] = useState<StageDraft[]>()
  const [when, setWhen] = useState('')
  const place = placed ?? (places[0] ? String(places[0].id) : 'smoker')
  const chosen = pieces.filter((p) => !out.includes(p.id)).map((p) => p.id)
  const listed = Number(place)
  const what = Number.isInteger(listed) ? { place: listed } : { hearth: place as Schemas['Appliance'] }
  const plan = useRunPlan({ ...what, school: rule?.key, pieces: chosen, stages: edited?.map(asked) ?? [] })
  const start = useSetUpRun()
  const found = plan.data
  const send = (more: { keep_as_typed?: boolean; reason?: string; at?: string } = {}) =>
    start.mutate(
      {
        ...what,
        school: rule?.key,
        pieces: chosen,
        stages: edited?.map(asked) ?? [],
        happened_at: more.at ?? (when || null),
        keep_as_typed: more.keep_as_typed ?? false,
        reason: more.reason ?? null,
      },
      { onSuccess: (written) => void navigate({ to: '/smoke/runs/$id', params: { id: String(written.run) } }) },
    )
  // Another school or place begins with its own stages.
  const fresh =
    <T,>(set: (v: T) => void) =>
    (v: T) => {
      setEdited(undefined)
      set(v)
    }
  const toggle = (id: number) => setOut((o) => (o.includes(id) ? o.filter((n) => n !== id) : [...o, id]))
  const wrong = (field: string) => {
    const error = start.error ?? plan.error
    return error ? problemOf(error).field(field) : undefined
  }
  const byId = new Map(found?.pieces.map((p) => [p.id, p]))
  const stages = found?.stages.map((s) => draftOf(s, format.heat)) ?? []
  return (
    <form
      aria-label="Set up a run"
      className="table-top grid gap-4 p-3 sm:p-4"
      onSubmit={(e) => {
        e.preventDefault()
        if (chosen.length > 0) send()
      }}
    >
      <div className="grid gap-x-6 gap-y-3 md:grid-cols-2">
        <Select label="In what" value={place} onChange={fresh(setPlaced)}>
          {places.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
          <option value="smoker">a smoker that is not listed</option>
          <option value="oven">an oven</option>
          <option value="pot">a pot or steamer</option>
        </Select>
        <div>
          <Choice
            label="School of heat"
            value={rule?.key ?? ''}
            options={rules.map((r) => ({ value: r.key, label: r.name }))}
            onChange={fresh(setSchool)}
          />
          <p className="mt-1 text-[0.95rem] text-soft">{rule?.why}</p>
        </div>
      </div>
      <fieldset className="grid gap-1">
        <legend className="mb-1 font-semibold">Pieces, the one that comes off first on top</legend>
        {[...pieces]
          .sort((a, b) => order(byId, a.id) - order(byId, b.id))
          .map((p) => {
            const planned = byId.get(p.id)
            const isIn = chosen.includes(p.id)
            return (
              <div key={p.id} className="border border-line">
                <button
                  type="button"
                  aria-pressed={isIn}
                  onClick={() => toggle(p.id)}
                  className={`grid w-full grid-cols-[auto_1fr_auto] items-center gap-3 p-2 text-left ${isIn ? 'bg-violet-wash' : ''}`}
                >
                  <span className="tag">{p.tag}</span>
                  <span className="min-w-0">
                    <span className="block truncate font-semibold">{p.build_name ?? p.cut_name}</span>
                    <span className="block text-[0.95rem] text-soft">
                      {p.thickness_mm ? `${format.length(p.thickness_mm)} thick` : 'thickness not known'}
                      {planned && `, to ${format.heat(planned.mark_c)}: ${planned.mark_why}`}
                    </span>
                  </span>
                  <span className="figures text-right">
                    {format.mass(p.mass_g)}
                    {isIn && planned?.about_minutes != null && (
                      <span className="block text-[0.95rem] text-soft">roughly {hours(planned.about_minutes)}</span>
                    )}
                  </span>
                </button>
                {isIn && planned && planned.findings.length > 0 && (
                  <div className="p-2">
                    <Findings list={planned.findings} />
                  </div>
                )}
              </div>
            )
          })}
      </fieldset>
      {found && chosen.length > 0 && (
        <>
          <p className="figures">
            <strong>{format.mass(found.mass_g)}</strong> together
            {found.room_g != null && `, of ${format.mass(found.room_g)} that it takes`}
            {found.wood_g > 0 && `; wood for it: about ${format.mass(found.wood_g)}`}.
          </p>
          <Findings list={found.findings} />
          {found.loads.length > 1 && (
            <div>
              <h3>In {found.loads.length} loads, the thick ones first</h3>
              <ol className="figures list-decimal pl-6">
                {found.loads.map((load, i) => (
                  <li key={i}>{load.map((id) => byId.get(id)?.tag).join(', ')}</li>
                ))}
              </ol>
            </div>
          )}
          <section aria-label="Stages">
            <h2 className="mb-1">Stages</h2>
            {edited ? (
              <StagesEditor stages={edited} onChange={setEdited} wrong={wrong} />
            ) : (
              <>
                <ol className="figures mb-2 grid gap-1 sm:grid-cols-3">
                  {found.stages.map((s, i) => (
                    <li key={i} className="border border-line bg-steel px-3 py-2">
                      <strong>{s.name}</strong>
                      {s.set_c != null && <span> at {format.heat(s.set_c)}</span>}
                      <span className="block text-[0.95rem] text-soft">
                        {s.ends === 'marks'
                          ? 'until each is at its mark'
                          : 'hours' in s.ends
                            ? `for ${s.ends.hours} h`
                            : `to ${format.heat(s.ends.inside)} inside`}
                        {s.smoke && ', with smoke'}
                      </span>
                    </li>
                  ))}
                </ol>
                <button type="button" className="press" onClick={() => setEdited(stages)}>
                  Change the stages
                </button>
              </>
            )}
          </section>
        </>
      )}
      {plan.error != null && !start.error && <Refused error={plan.error} />}
      {start.error != null && (
        <Refused
          error={start.error}
          busy={start.isPending}
          onKeep={(at) => send(at ? { at } : { keep_as_typed: true })}
          onReason={(reason) => send({ keep_as_typed: true, reason })}
        />
      )}
      <WhenField value={when} onChange={setWhen} error={wrong('happened_at')} />
      <MainAction>
        <button type="submit" className="press press-main bench" disabled={chosen.length === 0 || start.isPending}>
          Lay {chosen.length === 1 ? 'it' : `${chosen.length} pieces`} in
        </button>
      </MainAction>
      <Fold title="What never burns near meat">
        <p className="max-w-prose">
          Hardwood or fruitwood sold for food only: never heating pellets, resinous wood, or wood that was treated, painted or
          glued. Smokers, charcoal and smoke tubes stand outdoors, away from windows: carbon monoxide does not smell.
        </p>
      </Fold>
    </form>
  )
}

const order = (of: Map<number, Schemas['PlannedView']>, id: number) => {
  const at = [...of.keys()].indexOf(id)
  return at < 0 ? 1_000 : at
}

const hours = (minutes: number) => (minutes < 90 ? `${Math.round(minutes)} min` : `${(minutes / 60).toFixed(1)} h`)
