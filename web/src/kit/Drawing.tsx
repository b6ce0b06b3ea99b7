import { CatchBoundary } from '@tanstack/react-router'
import type { ReactNode } from 'react'
import { ProblemError } from '../api/client'
import { Failed } from './States'

/** A picture of numbers that also stand elsewhere: where it cannot be drawn, that is said, and the rest of the view stays. */
export function Drawing({ of, children }: { of: string; children: ReactNode }) {
  return (
    <CatchBoundary
      getResetKey={() => of}
      errorComponent={() => (
        <p role="alert" className="border-l-8 border-caution bg-caution-wash p-3">
          The picture of {of} could not be drawn. Its numbers are right and stand beside it.
        </p>
      )}
    >
      {children}
    </CatchBoundary>
  )
}

/** A view that broke while it was drawn: no word of a lost connection, unless that is what it was. */
export function Broke({ error, reset }: { error: unknown; reset: () => void }) {
  if (error instanceof ProblemError) return <Failed error={error} onRetry={reset} />
  return (
    <div className="border-l-8 border-stop bg-stop-wash p-4" role="alert">
      <h2 className="text-stop">This page could not be drawn</h2>
      <p className="my-2">
        That is a mistake of the program, not of yours. What you wrote down is safe, and the other pages work.
      </p>
      <p className="figures mb-2 text-[0.92rem] text-soft">{error instanceof Error ? error.message : String(error)}</p>
      <button type="button" className="press" onClick={reset}>
        Draw it again
      </button>
    </div>
  )
}
