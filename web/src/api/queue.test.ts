import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Problem } from './client'
import type { Errand, Written } from './queue'

type Queue = typeof import('./queue')

interface Call {
  path: string
  key: string
  ledger: string
  body: Record<string, unknown>
}

const calls: Call[] = []
let answers: (() => unknown)[] = []
let queue: Queue

const written = (entry: number, versions: Written['versions'] = []) => ({ entries: [entry], versions }) as unknown as Written
const refused = (status: number, type = 'urn:build-manifest:invalid'): Problem => ({
  type,
  title: 'No',
  status,
  detail: 'No.',
  errors: [],
})

/** A page that was just opened on this device, before a program that answers as it is told to. */
async function open() {
  vi.resetModules()
  vi.doMock('./client', async (original) => {
    const real = await original<typeof import('./client')>()
    const POST = async (
      path: string,
      ask: { body: Record<string, unknown>; params: { header: { 'Idempotency-Key': string } }; headers: { Ledger: string } },
    ) => {
      calls.push({ path, key: ask.params.header['Idempotency-Key'], ledger: ask.headers.Ledger, body: ask.body })
      const answer = answers.shift()
      if (!answer) throw new TypeError('nobody answers')
      return answer()
    }
    return {
      ...real,
      api: { POST },
      unwrap: (answer: { data?: unknown; problem?: Problem }) => {
        if (answer.problem) throw new real.ProblemError(answer.problem)
        return answer.data
      },
    }
  })
  queue = await import('./queue')
}

const yes = (entry: number, versions?: Written['versions']) => () => ({ data: written(entry, versions) })
const no = (problem: Problem) => () => ({ problem })
const weighed = (piece: number): Errand => ({
  to: 'entries',
  ask: { acts: [{ act: 'turned', piece }], seen: [{ piece, version: 1 }] },
})
const settle = () => vi.advanceTimersByTimeAsync(1)
const words = (text: string) => ({ words: text, owner: 'here' })

beforeEach(async () => {
  vi.useFakeTimers()
  vi.stubGlobal('fetch', () => Promise.reject(new TypeError('nobody')))
  localStorage.clear()
  localStorage.setItem('manifest.ledger', 'one')
  calls.length = 0
  answers = []
  await open()
})

afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('the outbox', () => {
  it('writes one thing after another, in the order in which they were typed', async () => {
    answers = [yes(1), yes(2), yes(3)]
    for (const piece of [7, 8, 9]) queue.send(weighed(piece), words(`${piece}`))
    await settle()
    expect(calls.map((c) => (c.body.acts as { piece: number }[])[0]?.piece)).toEqual([7, 8, 9])
    expect(new Set(calls.map((c) => c.key)).size).toBe(3)
    expect(queue.snapshot()).toEqual([])
    expect(queue.isOwn(2)).toBe(true)
    expect(queue.isOwn(4)).toBe(false)
  })

  it('asks again with the same key until there is an answer', async () => {
    const key = queue.send(weighed(7), words('turned'))
    await settle()
    expect(queue.snapshot()).toMatchObject([{ state: 'waiting', tries: 1 }])
    answers = [no(refused(503)), yes(1)]
    await vi.advanceTimersByTimeAsync(5_000)
    expect(calls.length).toBe(3)
    expect(new Set(calls.map((c) => c.key))).toEqual(new Set([key]))
    expect(queue.snapshot()).toEqual([])
  })

  it('says how long something waited, and nothing of what went at once', async () => {
    answers = [yes(1)]
    queue.send(weighed(7), words('at once'))
    await settle()
    queue.send(weighed(8), words('waits'))
    await vi.advanceTimersByTimeAsync(3_000)
    answers = [yes(2)]
    await vi.advanceTimersByTimeAsync(5_000)
    expect(calls[0]?.body.waited_s).toBeUndefined()
    expect(calls.at(-1)?.body.waited_s).toBeGreaterThan(0)
  })

  it('keeps what was refused with its reason, and goes on with the next', async () => {
    answers = [no(refused(422)), yes(2)]
    const key = queue.send(weighed(7), words('refused'))
    queue.send(weighed(8), words('goes on'))
    await settle()
    expect(queue.snapshot()).toMatchObject([{ key, state: 'refused', problem: { status: 422 } }])
    answers = [yes(3)]
    queue.sendAgain(key, (errand) =>
      errand.to === 'entries' ? { ...errand, ask: { ...errand.ask, keep_as_typed: true } } : errand,
    )
    await settle()
    expect(calls.at(-1)).toMatchObject({ key, body: { keep_as_typed: true } })
    expect(queue.snapshot()).toEqual([])
  })

  it('gives a draft back when it is refused, and drops it when it is written', async () => {
    const { kept } = await import('../kit/device')
    const { putBack } = await import('../kit/drafts')
    const draft = { of: 'cure.7', value: { grams: '5' }, words: '5 g' }
    putBack(draft.of, draft.value, draft.words)
    answers = [no(refused(422))]
    queue.send(weighed(7), { ...words('dose'), draft })
    expect(kept('draft.one.cure.7')).toBeUndefined()
    await settle()
    expect(kept('draft.one.cure.7')).toContain('5')
    const [refusal] = queue.snapshot()
    answers = [yes(1)]
    queue.sendAgain(refusal!.key, (errand) => errand)
    await settle()
    expect(kept('draft.one.cure.7')).toBeUndefined()
  })

  it('lets go of what was refused, and of nothing that may have been written', async () => {
    const lost = queue.send(weighed(7), words('no answer'))
    await settle()
    queue.drop(lost)
    expect(queue.snapshot()).toHaveLength(1)
    answers = [no(refused(422))]
    await vi.advanceTimersByTimeAsync(5_000)
    queue.drop(lost)
    expect(queue.snapshot()).toHaveLength(0)
  })

  it('takes up again what only the file or the clock held up', async () => {
    answers = [no(refused(507, 'urn:build-manifest:unwritable')), no(refused(422))]
    queue.send(weighed(7), words('no room'))
    queue.send(weighed(8), words('wrong'))
    await settle()
    expect(queue.snapshot().map((s) => s.state)).toEqual(['refused', 'refused'])
    answers = [yes(1)]
    queue.sendUnwritten()
    await settle()
    expect(queue.snapshot().map((s) => s.words)).toEqual(['wrong'])
  })

  it('knows of its own writes: what was typed after them is not outdated by them', async () => {
    answers = [yes(1, [{ piece: 7, version: 5 }] as Written['versions']), yes(2)]
    queue.send(weighed(7), words('first'))
    queue.send(weighed(7), words('second'))
    await settle()
    expect(calls[1]?.body.seen).toEqual([{ piece: 7, version: 5 }])
    expect(queue.leftAt(7)).toBe(5)
  })

  it('goes to the ledger that it was typed for, whichever answers now', async () => {
    queue.send(weighed(7), words('for one'))
    await settle()
    localStorage.setItem('manifest.ledger', 'two')
    answers = [yes(1)]
    await vi.advanceTimersByTimeAsync(5_000)
    expect(new Set(calls.map((c) => c.ledger))).toEqual(new Set(['one']))
  })

  it('takes over what a tab that died left, once, in the order of its typing', async () => {
    queue.send(weighed(7), words('left behind'))
    await settle()
    const left = queue.snapshot()[0]!.key
    await open()
    queue.openLine()
    await settle()
    expect(queue.snapshot()).toEqual([])
    answers = [yes(1)]
    await vi.advanceTimersByTimeAsync(13_000)
    expect(calls.at(-1)?.key).toBe(left)
    expect(queue.snapshot()).toEqual([])
    const lines = Object.keys(localStorage).filter((name) => name.startsWith('manifest.line.'))
    expect(lines).toEqual([])
  })

  it('tells whoever listens of everything it wrote', async () => {
    const told: string[] = []
    const stop = queue.onWritten((sending, { entries }) => told.push(`${sending.words}: ${entries}`))
    answers = [yes(11), yes(12)]
    queue.send({ to: 'undo', ask: { entries: [3] } }, words('undo'))
    queue.send({ to: 'correction', entry: 4, ask: { act: { act: 'turned', piece: 7 } } }, words('correction'))
    await settle()
    stop()
    expect(told).toEqual(['undo: 11', 'correction: 12'])
    expect(calls.map((c) => c.path)).toEqual(['/api/v1/undo', '/api/v1/entries/{id}/correction'])
  })
})
