import { Link, useNavigate, useRouterState } from '@tanstack/react-router'
import { BookOpen, SlidersHorizontal } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { useSettings } from '../api/settings'
import { useToday } from '../api/today'
import { useUndo } from './undo'

/** The stations, in the order of the work; the digit is their key. */
const STATIONS = [
  { to: '/', label: 'Today', key: '0' },
  { to: '/receive', label: 'Receive', key: '1' },
  { to: '/breakdown', label: 'Break down', key: '2', count: 'breakdown' },
  { to: '/assign', label: 'Assign', key: '3', count: 'assign' },
  { to: '/cure', label: 'Cure', key: '4', count: 'cure' },
  { to: '/smoke', label: 'Smoke', key: '5', count: 'smoke' },
  { to: '/hang', label: 'Hang', key: '6', count: 'hang' },
  { to: '/pack', label: 'Pack', key: '7', count: 'pack' },
  { to: '/tally', label: 'Tally', key: '8' },
] as const

/** The overhead rail: one tag a station, moved along as the work goes. */
export function Rail() {
  const counts = useToday().data?.counts
  const settings = useSettings().data
  const path = useRouterState({ select: (s) => s.location.pathname })
  const list = useRef<HTMLUListElement>(null)
  useShortcuts()
  useEffect(() => {
    const here = list.current?.querySelector<HTMLElement>('[aria-current=page]')
    // Only sideways: the page itself must not jump.
    if (here?.parentElement && list.current)
      list.current.scrollLeft = here.parentElement.offsetLeft - (list.current.clientWidth - here.offsetWidth) / 2
  }, [path])
  return (
    <header className="no-print sticky top-0 z-20 border-b border-line bg-steel">
      <div className="mx-auto flex max-w-[1240px] items-stretch px-1 sm:px-4">
        <nav aria-label="Stations" className="min-w-0 grow">
          <ul
            ref={list}
            tabIndex={-1}
            className="relative mt-2 flex gap-0.5 overflow-x-auto border-t-[5px] border-edge [scrollbar-width:none]"
          >
            {STATIONS.map((s) => {
              const here = s.to === '/' ? path === '/' : path.startsWith(s.to)
              const count = 'count' in s ? (counts?.[s.count] ?? 0) : 0
              return (
                <li key={s.to} className="relative shrink-0 pt-1.5">
                  <span aria-hidden className="absolute top-0 left-1/2 h-2 w-[3px] -translate-x-1/2 bg-edge" />
                  <Link
                    to={s.to}
                    aria-current={here ? 'page' : undefined}
                    className={`mb-1.5 flex min-h-11 items-center gap-1.5 px-2.5 font-semibold whitespace-nowrap [clip-path:polygon(0_10px,10px_0,calc(100%-10px)_0,100%_10px,100%_100%,0_100%)] lg:px-3.5 ${
                      here ? 'bg-violet text-on-violet' : 'hover:bg-violet-wash'
                    }`}
                  >
                    {s.label}
                    {count > 0 && (
                      <span
                        className={`figures min-w-6 rounded-sm px-1 text-center text-[0.85rem] ${here ? 'bg-on-violet/20' : 'bg-floor'}`}
                      >
                        {count}
                        <span className="sr-only"> here</span>
                      </span>
                    )}
                  </Link>
                </li>
              )
            })}
          </ul>
        </nav>
        <div className="flex shrink-0 items-center">
          <Link to="/library" className="inline-flex size-11 items-center justify-center text-violet" aria-label="Library">
            <BookOpen aria-hidden />
          </Link>
          <Link
            to="/settings"
            className="inline-flex size-11 items-center justify-center text-violet"
            aria-label="Household settings"
          >
            <SlidersHorizontal aria-hidden />
          </Link>
        </div>
      </div>
      {settings?.clock_is_pinned && (
        <p className="bg-violet-wash px-4 py-0.5 text-center text-[0.85rem] text-violet">
          {settings.household.name}: the clock stands still on {settings.today}.
        </p>
      )}
    </header>
  )
}

/** Keys that work outside of fields: digits for stations, u to undo, / for the scale's number. */
function useShortcuts() {
  const navigate = useNavigate()
  const { takeBack } = useUndo()
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement
      if (event.ctrlKey || event.metaKey || event.altKey) return
      if (/^(INPUT|SELECT|TEXTAREA)$/.test(target.tagName) || target.isContentEditable) return
      const station = STATIONS.find((s) => s.key === event.key)
      if (station) void navigate({ to: station.to })
      else if (event.key === 'u') takeBack()
      else if (event.key === '/') document.querySelector<HTMLElement>('[data-scale] input')?.focus()
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [navigate, takeBack])
}
