import { type ReactNode, useEffect, useState } from 'react'
import { seenDropped, useDropped } from './drafts'

/** A view with its heading; the document is named after it. */
export function Page({
  title,
  lead,
  side,
  children,
}: {
  title: string
  lead?: ReactNode
  side?: ReactNode
  children: ReactNode
}) {
  useEffect(() => {
    document.title = `${title} – Build Manifest`
  }, [title])
  return (
    <main id="main" tabIndex={-1} className="mx-auto max-w-[1240px] px-3 pt-4 pb-28 outline-none sm:px-5 print:p-0">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
        <div>
          <h1>{title}</h1>
          {lead && <p className="max-w-prose text-soft">{lead}</p>}
        </div>
        {side}
      </div>
      <Dropped />
      {children}
    </main>
  )
}

/** The main action: at the bottom of the screen on a phone, in place elsewhere. */
export function MainAction({ children }: { children: ReactNode }) {
  return (
    <div className="no-print fixed inset-x-0 bottom-0 z-30 flex flex-wrap gap-2 border-t border-line bg-steel p-2.5 *:grow sm:static sm:border-0 sm:bg-transparent sm:p-0 sm:*:grow-0">
      {children}
    </div>
  )
}

/** Something that is there when somebody wants it, and costs nothing until then. */
export function Fold({ title, children }: { title: ReactNode; children: ReactNode }) {
  const [open, setOpen] = useState(false)
  return (
    <details onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="quiet">{title}</summary>
      {open && <div className="mt-2">{children}</div>}
    </details>
  )
}

/** What had been typed for pieces that moved on since. */
function Dropped() {
  const list = useDropped()
  if (list.length === 0) return null
  return (
    <div role="status" className="flex flex-wrap items-center gap-x-3 border-l-8 border-edge bg-steel px-3 py-1 mb-4">
      <p className="grow">
        Moved on since, and what had been typed for it was dropped: <span className="figures">{list.join('; ')}</span>.
      </p>
      <button type="button" className="quiet" onClick={seenDropped}>
        Seen
      </button>
    </div>
  )
}
