import { ChevronRight, Lock } from 'lucide-react'
import { api, problemOf, type Schemas, unwrap } from '../../api/client'
import { useListChange } from '../../api/planning'
import { Empty } from '../../kit/States'
import { estimate, useFormat } from '../../units'
import type { Suggestion } from './useSuggest'

type Supply = Schemas['Supply']

/** Every piece not dosed yet and every cut still to be cut, with what it is to become. */
export function SupplyList({
  plan,
  suggestion,
  chosen,
  onChoose,
}: {
  plan: Schemas['PlanView']
  suggestion?: Suggestion
  chosen?: number
  onChoose: (piece: number) => void
}) {
  const format = useFormat()
  const lock = useListChange(async (ask: { key: string; build: string | null }) =>
    unwrap(await api.POST('/api/v1/plan/lock', { body: { version: plan.plans_version, ...ask } })),
  )
  const { supply, loose } = plan
  if (supply.length === 0 && loose.length === 0) {
    return (
      <Empty title="Nothing waits for a product">
        Receive an animal, or weigh pieces out: they stand here as soon as they are there, and cuts before they are cut.
      </Empty>
    )
  }
  const pieces = supply.filter((s) => s.piece != null)
  const cuts = supply.filter((s) => s.piece == null)
  const rows = (list: Supply[]) =>
    list.map((s) => (
      <Row
        key={s.key}
        supply={s}
        suggestion={suggestion}
        chosen={s.piece === chosen}
        busy={lock.isPending}
        onChoose={onChoose}
        onLock={(build) => lock.mutate({ key: s.key, build })}
      />
    ))
  return (
    <section aria-label="Supply" className="grid gap-4">
      {lock.isError && (
        <p role="alert" className="border-l-8 border-stop bg-stop-wash p-3">
          {problemOf(lock.error).message}
        </p>
      )}
      {pieces.length > 0 && (
        <div>
          <h2 className="mb-1.5">
            Pieces <span className="figures font-normal text-soft">{pieces.length}</span>
          </h2>
          <ul className="table-top divide-y divide-line">{rows(pieces)}</ul>
        </div>
      )}
      {cuts.length > 0 && (
        <div>
          <h2 className="mb-1.5">
            Still to be cut <span className="figures font-normal text-soft">{cuts.length}</span>
          </h2>
          <ul className="table-top divide-y divide-line">
            {alike(cuts).map((group) =>
              group.length === 1 ? (
                rows(group)
              ) : (
                <Alike key={group[0]!.key} group={group} suggestion={suggestion}>
                  {rows(group)}
                </Alike>
              ),
            )}
          </ul>
        </div>
      )}
      {loose.length > 0 && (
        <div>
          <h2 className="mb-1.5">Kept for grinding</h2>
          <ul className="table-top divide-y divide-line">
            {loose.map((l) => {
              const used = suggestion?.blocks.reduce((sum, b) => sum + (b.loose[l.key] ?? 0), 0) ?? 0
              return (
                <li key={l.key} className="flex flex-wrap items-baseline justify-between gap-x-4 p-2.5">
                  <span>
                    <strong>{l.name}</strong>{' '}
                    <span className="text-soft">
                      of {l.lot_tag}, about {Math.round(l.fat_fraction * 100)} % fat
                    </span>
                    {used > 0 && (
                      <span className="figures block text-[0.95rem] text-violet">
                        {format.mass(estimate(used))} goes into the grinder
                      </span>
                    )}
                  </span>
                  <span className="figures">{format.mass(l.mass_g)}</span>
                </li>
              )
            })}
          </ul>
        </div>
      )}
    </section>
  )
}

/** Cuts of one kind out of one animal. */
function alike(cuts: Supply[]): Supply[][] {
  const groups = new Map<string, Supply[]>()
  for (const s of cuts) groups.set(`${s.lot} ${s.cut}`, [...(groups.get(`${s.lot} ${s.cut}`) ?? []), s])
  return [...groups.values()]
}

/** Several of a kind in one line; each of them can still be locked on its own. */
function Alike({ group, suggestion, children }: { group: Supply[]; suggestion?: Suggestion; children: React.ReactNode }) {
  const format = useFormat()
  const first = group[0]!
  const counts = new Map<string, number>()
  for (const s of group) {
    const name = s.locked
      ? s.options.find((o) => o.build === s.locked)?.name
      : suggestion?.choices.find((c) => c.key === s.key)?.name
    if (name) counts.set(name, (counts.get(name) ?? 0) + 1)
  }
  const free = group.length - [...counts.values()].reduce((a, b) => a + b, 0)
  return (
    <li>
      <details>
        <summary className="grid min-h-12 list-none gap-x-3 p-2.5 sm:grid-cols-[minmax(0,1fr)_minmax(0,13rem)]">
          <span>
            <strong className="underline underline-offset-3">
              <span className="figures">{group.length} ×</span> {first.cut_name}
            </strong>
            <span className="block text-[0.95rem] text-soft">
              {first.species_name}, about <span className="figures">{format.mass(estimate(first.mass_g))}</span> each
            </span>
          </span>
          <span className="text-[0.95rem]">
            {[...counts].map(([name, n]) => (
              <span key={name} className="block text-violet">
                <span className="figures">{n} ×</span> <strong>{name}</strong>
              </span>
            ))}
            {free > 0 && (
              <span className="block text-soft">
                {counts.size > 0 ? `${free} × free` : suggestion ? 'no wish needs them' : 'free: Suggest decides'}
              </span>
            )}
          </span>
        </summary>
        <ul className="divide-y divide-line border-t border-line pl-3">{children}</ul>
      </details>
    </li>
  )
}

function Row(props: {
  supply: Supply
  suggestion?: Suggestion
  chosen: boolean
  busy: boolean
  onChoose: (piece: number) => void
  onLock: (build: string | null) => void
}) {
  const { supply, suggestion, chosen, busy, onChoose, onLock } = props
  const format = useFormat()
  const planned = suggestion?.choices.find((c) => c.key === supply.key)
  const given = supply.options.find((o) => o.build === supply.assigned)
  const name = (
    <>
      {supply.piece != null && <span className="tag">{supply.tag}</span>}
      <span className="min-w-0">
        <span className="block truncate font-semibold">{supply.cut_name}</span>
        <span className="block truncate text-[0.95rem] text-soft">
          {supply.species_name},{' '}
          <span className="figures">
            {supply.piece == null ? `about ${format.mass(estimate(supply.mass_g))}` : format.mass(supply.mass_g)}
          </span>
        </span>
      </span>
    </>
  )
  return (
    <li className={`grid gap-x-3 gap-y-1 p-2 sm:grid-cols-[minmax(0,1fr)_minmax(0,13rem)] ${chosen ? 'bg-violet-wash' : ''}`}>
      {supply.piece != null ? (
        <button
          type="button"
          aria-pressed={chosen}
          onClick={() => onChoose(supply.piece!)}
          className="grid min-h-12 grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-3 text-left hover:underline"
        >
          {name}
          <ChevronRight size={18} aria-hidden />
        </button>
      ) : (
        <div className="flex min-h-12 items-center gap-3 pl-1">{name}</div>
      )}
      <div className="min-w-0">
        {supply.assigned ? (
          <p className="flex min-h-11 items-center gap-1.5 text-[0.95rem]">
            <Lock size={16} aria-hidden className="shrink-0 text-violet" />
            <span className="min-w-0">
              <span className="sr-only">given: </span>
              {given?.name ?? supply.assigned}
            </span>
          </p>
        ) : (
          <select
            className="field !min-h-11 text-[0.95rem]"
            aria-label={`${supply.tag} becomes`}
            value={supply.locked ?? ''}
            disabled={busy || supply.options.length === 0}
            onChange={(e) => onLock(e.target.value || null)}
          >
            <option value="">{supply.options.length === 0 ? 'nothing suits it now' : 'free: Suggest decides'}</option>
            {supply.options.map((o) => (
              <option key={o.build} value={o.build}>
                {o.name}
                {o.score === 2 ? ' (classic)' : ''}
              </option>
            ))}
          </select>
        )}
        {planned && !supply.assigned && !supply.locked && (
          <p className="text-[0.95rem] text-violet">
            Suggested: <strong>{planned.name}</strong>
            {planned.first.length > 0 && `, ${planned.first.join(', ')} first`}
          </p>
        )}
        {suggestion && !planned && !supply.assigned && (
          <p className="text-[0.95rem] text-soft">
            No wish needs it{supply.options[0] && `; it would make ${supply.options[0].name}`}.
          </p>
        )}
      </div>
    </li>
  )
}
