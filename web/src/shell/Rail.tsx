import { Link, useRouterState } from '@tanstack/react-router'
import { BookOpen, SlidersHorizontal } from 'lucide-react'
import { type ReactNode, useEffect, useRef } from 'react'
import { useToday } from '../api/today'

/** The stations, in the order of the work; the digit is their key. */
export const STATIONS = [
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
export function Rail({ children }: { children: ReactNode }) {
  const counts = useToday().data?.counts
  const path = useRouterState({ select: (s) => s.location.pathname })
  const list = useRef<HTMLUListElement>(null)
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
                    className={`station mb-1.5 flex min-h-11 items-center gap-1.5 px-2.5 font-semibold whitespace-nowrap lg:px-3.5 ${
                      here ? 'station-here text-on-violet' : ''
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
      {children}
    </header>
  )
}
