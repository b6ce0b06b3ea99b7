import { useQueryClient } from '@tanstack/react-query'
import { FastForward, Square } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { api, unwrap } from '../../api/client'
import type { HangSheet } from '../../api/hang'
import { ofAll } from '../../api/keys'
import { useMoveClock, useSettings } from '../../api/settings'

/** A day passes in so long (ms): a season in some minutes. */
const DAY_MS = 600

/** In a household for practice a season passes before one's eyes: each day the round is weighed by what the hooks show, until something
 * may come down or gives pause. */
export function SeasonClock({ sheet }: { sheet: HangSheet }) {
  const settings = useSettings().data
  const client = useQueryClient()
  const { mutateAsync } = useMoveClock()
  const [runs, setRuns] = useState(false)
  const [said, setSaid] = useState<string>()
  const latest = useRef(sheet)
  useEffect(() => {
    latest.current = sheet
  }, [sheet])
  useEffect(() => {
    if (!runs) return
    let isOff = false
    const known = stops(latest.current)
    const day = async () => {
      while (!isOff) {
        await mutateAsync({ by: '24 h' })
        const now = unwrap(await api.GET('/api/v1/hang', { params: { query: {} } }))
        const due = now.hooks.filter((h) => now.round.includes(h.id) && !h.due_down && h.hook_shows_g != null)
        if (due.length > 0)
          unwrap(
            await api.POST('/api/v1/entries', {
              params: { header: {} },
              body: {
                acts: due.map((h) => ({ act: 'weighed_in' as const, piece: h.id, reading: `${h.hook_shows_g} g` })),
                seen: due.map((h) => ({ piece: h.id, version: h.version })),
              },
            }),
          )
        const after = unwrap(await api.GET('/api/v1/hang', { params: { query: {} } }))
        await client.invalidateQueries({ queryKey: ofAll() })
        const news = [...stops(after)].find((s) => !known.has(s))
        if (news) {
          setSaid(news)
          setRuns(false)
          return
        }
        await new Promise((done) => setTimeout(done, DAY_MS))
      }
    }
    day().catch((error: unknown) => {
      setSaid(error instanceof Error ? error.message : 'It was refused.')
      setRuns(false)
    })
    return () => {
      isOff = true
    }
  }, [runs, mutateAsync, client])
  if (!settings?.practice) return null
  return (
    <>
      {said && !runs && (
        <p role="status" className="self-center font-semibold">
          {said}
        </p>
      )}
      <button type="button" className="press" aria-pressed={runs} onClick={() => setRuns(!runs)}>
        {runs ? (
          <>
            <Square size={18} aria-hidden /> Stop the clock
          </>
        ) : (
          <>
            <FastForward size={18} aria-hidden /> Let the season run
          </>
        )}
      </button>
    </>
  )
}

/** What the season stops for, in words. */
function stops(sheet: HangSheet) {
  const found = new Set<string>()
  for (const h of sheet.hooks) {
    if (h.reached !== 'no') found.add(`${h.tag} may come down.`)
    if (h.findings.some((f) => f.code === 'hard_rind')) found.add(`${h.tag} may have a hard rind.`)
  }
  for (const p of sheet.places) for (const f of p.findings) if (f.severity === 'stop') found.add(f.message)
  return found
}
