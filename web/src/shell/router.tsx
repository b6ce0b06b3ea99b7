import { Broke } from '../kit/Drawing'
import { useBusy } from '../api/patience'
import { createRootRoute, createRoute, createRouter, lazyRouteComponent, Link, Outlet } from '@tanstack/react-router'
import { useEffect } from 'react'
import { useWrittenHere } from '../api/entries'
import { useLive } from '../api/live'
import { sendUnwritten } from '../api/queue'
import { useSettings } from '../api/settings'
import { Empty } from '../kit/States'
import { useKeptFocus } from '../kit/focus'
import { Page } from '../kit/Page'
import { Cure } from '../stations/cure/Cure'
import { Hang } from '../stations/hang/Hang'
import { Pack } from '../stations/pack/Pack'
import { Smoke } from '../stations/smoke/Smoke'
import { Today } from '../stations/today/Today'
import { Head } from './Head'
import { UndoProvider } from './undo'

function Shell() {
  useLive()
  useWrittenHere()
  useKeptFocus()
  useFetchedAhead()
  const theme = useSettings().data?.household.theme
  useEffect(() => {
    if (!theme) return
    const dark = window.matchMedia('(prefers-color-scheme: dark)')
    const apply = () => {
      const isDark = theme === 'dark' || (theme === 'device' && dark.matches)
      document.documentElement.dataset.theme = isDark ? 'dark' : 'light'
    }
    apply()
    dark.addEventListener('change', apply)
    return () => dark.removeEventListener('change', apply)
  }, [theme])
  return (
    <UndoProvider>
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-table focus:p-3">
        Skip to the work
      </a>
      <Head />
      <TroubleBanner />
      <Busy />
      <Outlet />
      <p className="print-only mt-4 border-t border-line pt-1">
        Home curing is at your own risk. Follow your local food-safety and game rules and your extension office; where you sell,
        your inspector.
      </p>
    </UndoProvider>
  )
}

/** Says that the server has its hands full, and when it is asked again. */
function Busy() {
  const seconds = useBusy()
  if (seconds === undefined) return null
  return (
    <p role="status" className="no-print border-b-4 border-caution bg-caution-wash px-3 py-2 text-center font-semibold sm:px-5">
      Busy. Trying again in {seconds} s
    </p>
  )
}

/** Says on every page that nothing can be written, and what to do. */
function TroubleBanner() {
  const settings = useSettings().data
  const isWritable = settings !== undefined && !settings.trouble && !settings.ahead
  useEffect(() => {
    if (isWritable) sendUnwritten()
  }, [isWritable])
  if (settings?.trouble) return <Banner words={settings.trouble} hash="backups" way="Backups" />
  if (settings?.ahead) return <Banner words={settings.ahead.words} hash="clock" way="The clock" />
  if (settings?.amiss) return <Banner words={settings.amiss} hash="backups" way="Backups" mild />
  return null
}

function Banner({ words, hash, way, mild }: { words: string; hash: string; way: string; mild?: boolean }) {
  return (
    <div role="alert" className={`no-print border-b-4 ${mild ? 'border-caution bg-caution-wash' : 'border-stop bg-stop-wash'}`}>
      <p
        className={`mx-auto flex max-w-[1240px] flex-wrap items-center gap-x-4 px-3 py-2 font-semibold sm:px-5 ${mild ? '' : 'text-stop'}`}
      >
        <span className="min-w-0 grow basis-80 [overflow-wrap:anywhere]">{words}</span>
        <Link to="/settings" hash={hash} className="press shrink-0">
          {way}
        </Link>
      </p>
    </div>
  )
}

/** Fetches the other stations while nothing else is to do: one can go there while nobody answers. */
function useFetchedAhead() {
  useEffect(() => {
    const timer = setTimeout(() => routes.forEach((r) => void r.options.component?.preload?.()), 1_500)
    return () => clearTimeout(timer)
  }, [])
}

const root = createRootRoute({
  component: Shell,
  notFoundComponent: () => (
    <Page title="Nothing here">
      <Empty title="There is no such page">Choose a station above.</Empty>
    </Page>
  ),
  errorComponent: ({ error, reset }) => (
    <Page title="This page broke">
      <Broke error={error} reset={reset} />
    </Page>
  ),
})

/** The piece a link asks a station to begin with. */
const withPiece = (search: Record<string, unknown>) => {
  const piece = Number(search.piece)
  return Number.isInteger(piece) && piece > 0 ? { piece } : {}
}

/** The kept plan a page goes by. */
const withPlan = (search: Record<string, unknown>) =>
  typeof search.plan === 'string' && search.plan !== '' ? { plan: search.plan } : {}

/** The days that an absence is asked about. */
const withDays = (search: Record<string, unknown>) => {
  const day = (of: unknown) => (typeof of === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(of) ? of : undefined)
  const [from, to] = [day(search.from), day(search.to)]
  return { ...(from && { from }), ...(to && { to }) }
}

const getParentRoute = () => root
const routes = [
  createRoute({ getParentRoute, path: '/', component: Today }),
  createRoute({
    getParentRoute,
    path: '/receive',
    component: lazyRouteComponent(() => import('../stations/receive/Receive'), 'Receive'),
  }),
  createRoute({
    getParentRoute,
    path: '/breakdown',
    component: lazyRouteComponent(() => import('../stations/breakdown/BreakDown'), 'ChooseLot'),
  }),
  createRoute({
    getParentRoute,
    path: '/breakdown/$id',
    component: lazyRouteComponent(() => import('../stations/breakdown/BreakDown'), 'BreakDown'),
  }),
  createRoute({
    getParentRoute,
    path: '/assign',
    component: lazyRouteComponent(() => import('../stations/assign/Assign'), 'Assign'),
    validateSearch: withPiece,
  }),
  createRoute({
    getParentRoute,
    path: '/assign/grind',
    component: lazyRouteComponent(() => import('../stations/assign/Grind'), 'Grind'),
  }),
  createRoute({
    getParentRoute,
    path: '/assign/shopping',
    component: lazyRouteComponent(() => import('../stations/assign/Shopping'), 'Shopping'),
    validateSearch: withPlan,
  }),
  createRoute({
    getParentRoute,
    path: '/cutsheet/$id',
    component: lazyRouteComponent(() => import('../stations/cutsheet/CutSheet'), 'CutSheet'),
    validateSearch: withPlan,
  }),
  createRoute({
    getParentRoute,
    path: '/away',
    component: lazyRouteComponent(() => import('../stations/away/Away'), 'Away'),
    validateSearch: withDays,
  }),
  createRoute({
    getParentRoute,
    path: '/cold',
    component: lazyRouteComponent(() => import('../stations/cold/Cold'), 'Cold'),
  }),
  createRoute({
    getParentRoute,
    path: '/pantry',
    component: lazyRouteComponent(() => import('../stations/pantry/Pantry'), 'Pantry'),
  }),
  createRoute({ getParentRoute, path: '/cure', component: Cure, validateSearch: withPiece }),
  createRoute({ getParentRoute, path: '/smoke', component: Smoke, validateSearch: withPiece }),
  createRoute({
    getParentRoute,
    path: '/smoke/runs/$id',
    component: lazyRouteComponent(() => import('../stations/smoke/run/RunPage'), 'RunPage'),
  }),
  createRoute({ getParentRoute, path: '/hang', component: Hang, validateSearch: withPiece }),
  createRoute({ getParentRoute, path: '/pack', component: Pack, validateSearch: withPiece }),
  createRoute({
    getParentRoute,
    path: '/trace/lots/$id',
    component: lazyRouteComponent(() => import('../stations/trace/Trace'), 'LotTrace'),
  }),
  createRoute({
    getParentRoute,
    path: '/trace/packs/$id',
    component: lazyRouteComponent(() => import('../stations/trace/Trace'), 'PackTrace'),
  }),
  createRoute({
    getParentRoute,
    path: '/packs',
    component: lazyRouteComponent(() => import('../stations/pack/Packs'), 'Packs'),
  }),
  createRoute({
    getParentRoute,
    path: '/overrides',
    component: lazyRouteComponent(() => import('../stations/trace/Overrides'), 'Overrides'),
  }),
  createRoute({
    getParentRoute,
    path: '/tally',
    component: lazyRouteComponent(() => import('../stations/tally/Tally'), 'Tally'),
  }),
  createRoute({
    getParentRoute,
    path: '/tally/$id',
    component: lazyRouteComponent(() => import('../stations/tally/Tally'), 'LotTally'),
  }),
  createRoute({
    getParentRoute,
    path: '/pieces/$id',
    component: lazyRouteComponent(() => import('../stations/piece/Piece'), 'Piece'),
  }),
  createRoute({
    getParentRoute,
    path: '/library',
    component: lazyRouteComponent(() => import('../stations/library/Library'), 'Library'),
  }),
  createRoute({
    getParentRoute,
    path: '/library/$build',
    component: lazyRouteComponent(() => import('../stations/library/Library'), 'BuildPage'),
  }),
  createRoute({
    getParentRoute,
    path: '/recipe',
    component: lazyRouteComponent(() => import('../stations/recipe/RecipeCheck'), 'RecipeCheck'),
    validateSearch: withPiece,
  }),
  createRoute({
    getParentRoute,
    path: '/settings',
    component: lazyRouteComponent(() => import('../stations/settings/Settings'), 'Settings'),
  }),
] as const

export const router = createRouter({ routeTree: root.addChildren([...routes]), defaultPreload: false })

declare module '@tanstack/react-router' {
  interface Register {
    router: typeof router
  }
}
