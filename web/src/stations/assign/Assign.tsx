import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useNavigate, useSearch } from '@tanstack/react-router'
import { Tabs } from 'radix-ui'
import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { usePlan } from '../../api/planning'
import { Page } from '../../kit/Page'
import { Empty } from '../../kit/States'
import { Comparison } from './Comparison'
import { Suits } from './Suits'
import { SupplyList } from './SupplyList'
import { useSuggest } from './useSuggest'
import { Wishes } from './Wishes'

/** Supply on one side, wishes on the other; what suits the chosen piece beside them. */
export function Assign() {
  const plan = usePlan()
  if (!isThere(plan)) return <NotYet of={[plan]} what="supply and wishes" page="Assign" />
  return <Table plan={plan.data} />
}

function Table({ plan }: { plan: Schemas['PlanView'] }) {
  const search = useSearch({ from: '/assign' })
  const navigate = useNavigate()
  const suggest = useSuggest(plan)
  const asked = 'piece' in search ? search.piece : undefined
  const open = plan.supply.filter((s) => s.piece != null && s.assigned == null)
  const chosen = asked ?? open[0]?.piece ?? undefined
  const weighed = plan.supply.some((s) => s.piece != null)
  const [tab, setTab] = useState<string>()
  const shown = tab ?? (asked || (plan.wishes.length === 0 && weighed) ? 'suits' : 'wishes')
  const choose = (piece: number) => {
    setTab('suits')
    void navigate({ to: '/assign', search: { piece } })
  }
  return (
    <Page
      title="Assign"
      lead="What there is on one side, what you would like on the other."
      side={
        <p className="no-print flex flex-wrap gap-2">
          <Link to="/assign/grind" className="press">
            Grind and blend
          </Link>
          <Link to="/assign/shopping" className="press">
            Shopping list
          </Link>
        </p>
      }
    >
      <div className="grid grid-cols-1 gap-5">
        <div className="grid grid-cols-1 items-start gap-5 lg:grid-cols-[5fr_6fr]">
          <SupplyList plan={plan} suggestion={suggest.found} chosen={shown === 'suits' ? chosen : undefined} onChoose={choose} />
          <Tabs.Root value={shown} onValueChange={setTab} className="order-first min-w-0 lg:order-none">
            <Tabs.List aria-label="Wishes, or what suits a piece" className="no-print mb-3 flex flex-wrap gap-1.5">
              {[
                ['wishes', 'Wishes'],
                ['suits', 'What suits it'],
              ].map(([key, title]) => (
                <Tabs.Trigger
                  key={key}
                  value={key!}
                  className="min-h-12 border-b-4 border-line px-3 font-semibold data-[state=active]:border-violet data-[state=active]:text-violet"
                >
                  {title}
                </Tabs.Trigger>
              ))}
            </Tabs.List>
            <Tabs.Content value="wishes">
              <Wishes plan={plan} suggest={suggest} />
            </Tabs.Content>
            <Tabs.Content value="suits">
              {open.length === 0 &&
                !asked &&
                (weighed ? (
                  <Empty title="Every piece has a product">Weigh more pieces out, or go on to Cure.</Empty>
                ) : (
                  <Empty title="No piece waits for a product">
                    Weigh pieces out under Break down: what each could become stands here, best first.
                  </Empty>
                ))}
              {chosen && <Suits key={chosen} id={chosen} next={open.find((s) => s.piece !== chosen)?.piece ?? undefined} />}
            </Tabs.Content>
          </Tabs.Root>
        </div>
        <Comparison plan={plan} />
      </div>
    </Page>
  )
}
