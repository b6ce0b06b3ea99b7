import { Tabs } from 'radix-ui'
import { type ReactNode, useState } from 'react'

interface Tab {
  key: string
  title: string
  count: number
  body: ReactNode
}

/** One of several tasks at a table: a wet hand should meet one form at a time. */
export function OneOf({ label, tabs, first, asked }: { label: string; tabs: Tab[]; first: string; asked?: number }) {
  const [chosen, setChosen] = useState(first)
  const [before, setBefore] = useState(asked)
  // The address asks for another piece.
  if (before !== asked) {
    setBefore(asked)
    if (asked !== undefined) setChosen(first)
  }
  const open = tabs.filter((t) => t.count > 0)
  if (open.length === 0) return null
  // The last piece of a task takes its tab with it.
  const here = open.some((t) => t.key === chosen) ? chosen : open[0]!.key
  return (
    <Tabs.Root value={here} onValueChange={setChosen} className="min-w-0">
      {open.length > 1 && (
        <Tabs.List aria-label={label} className="no-print mb-3 flex flex-wrap gap-1.5">
          {open.map((t) => (
            <Tabs.Trigger
              key={t.key}
              value={t.key}
              className="min-h-12 border-b-4 border-line px-3 font-semibold data-[state=active]:border-violet data-[state=active]:text-violet"
            >
              {t.title} <span className="figures font-normal text-soft">{t.count}</span>
            </Tabs.Trigger>
          ))}
        </Tabs.List>
      )}
      {open.map((t) => (
        <Tabs.Content key={t.key} value={t.key}>
          {t.body}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  )
}
