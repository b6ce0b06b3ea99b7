import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef } from 'react'
import { api, newKey, ProblemError, type Schemas, unwrap } from './client'
import { ofAll } from './keys'

export type Run = Schemas['RunView']
export type RunPiece = Schemas['RunPieceView']
export type RunAct = Schemas['RunActAsk']

/** Clocks on the page go on though nothing is written. */
const TICK_MS = 10_000

/** The runs of the household. */
export const useRuns = () =>
  useQuery({ queryKey: ofAll('runs'), queryFn: async () => unwrap(await api.GET('/api/v1/runs')), refetchInterval: 30_000 })

/** A run, as it stands now. */
export const useRun = (id: number) =>
  useQuery({
    queryKey: ofAll('runs', id),
    queryFn: async () => unwrap(await api.GET('/api/v1/runs/{id}', { params: { path: { id } } })),
    refetchInterval: (query) => (query.state.data?.ended ? false : TICK_MS),
  })

/** Its curves. */
export const useRunCurve = (id: number, isOver: boolean) =>
  useQuery({
    queryKey: ofAll('runs', id, 'curve'),
    queryFn: async () => unwrap(await api.GET('/api/v1/runs/{id}/curve', { params: { path: { id } } })),
    refetchInterval: isOver ? false : TICK_MS,
  })

/** What rings in every run. */
export const useAlarms = () =>
  useQuery({
    queryKey: ofAll('runs', 'alarms'),
    queryFn: async () => unwrap(await api.GET('/api/v1/runs/alarms')),
    refetchInterval: 20_000,
  })

/** What a run over these pieces would be; writes nothing. */
export const useRunPlan = (ask: Schemas['RunPlanAsk']) =>
  useQuery({
    queryKey: ofAll('runs', 'plan', ask),
    enabled: ask.pieces.length > 0,
    placeholderData: (before) => before,
    retry: false,
    queryFn: async () => unwrap(await api.POST('/api/v1/runs/plan', { body: ask })),
  })

/** Writes into runs: one intention keeps its key until it was answered, so that a lost answer never writes twice. */
function useKeyed<Ask extends object, Answer>(send: (ask: Ask, key: string) => Promise<Answer>) {
  const client = useQueryClient()
  const meant = useRef({ text: '', key: '' })
  return useMutation({
    mutationFn: (ask: Ask) => {
      const text = JSON.stringify({ ...ask, keep_as_typed: undefined, reason: undefined, seen: undefined })
      if (meant.current.text !== text) meant.current = { text, key: newKey() }
      return send(ask, meant.current.key)
    },
    onSuccess: () => {
      meant.current = { text: '', key: '' }
      return client.invalidateQueries({ queryKey: ofAll('runs') })
    },
    // Refused, nothing was written: the same words again are another try.
    onError: (error) => {
      if (error instanceof ProblemError) meant.current = { text: '', key: '' }
    },
  })
}

const headers = (key: string) => ({ 'Idempotency-Key': key })

/** Sets a run up. */
export const useSetUpRun = () =>
  useKeyed(async (body: Schemas['RunAsk'], key) =>
    unwrap(await api.POST('/api/v1/runs', { body, params: { header: headers(key) } })),
  )

/** Writes down what was done in a run. */
export const useRunActs = (id: number) =>
  useKeyed(async (body: Schemas['RunActsAsk'], key) =>
    unwrap(await api.POST('/api/v1/runs/{id}/acts', { params: { path: { id }, header: headers(key) }, body })),
  )

/** Writes into the ledger what comes out of a run. */
export const usePull = () =>
  useKeyed(async (body: Schemas['EntriesAsk'], key) =>
    unwrap(await api.POST('/api/v1/entries', { params: { header: headers(key) }, body })),
  )

function useRunWritten<Ask, Answer>(mutationFn: (ask: Ask) => Promise<Answer>) {
  const client = useQueryClient()
  return useMutation({ mutationFn, onSuccess: () => client.invalidateQueries({ queryKey: ofAll('runs') }) })
}

/** Writes readings of probes down, as typed. */
export const useReadProbes = (id: number) =>
  useRunWritten(async (body: Schemas['ProbeReadingsAsk']) =>
    unwrap(await api.POST('/api/v1/runs/{id}/readings', { params: { path: { id } }, body })),
  )

/** Strikes a stretch of a probe's readings out, for a reason. */
export const useStrikeProbe = (id: number) =>
  useRunWritten(async (body: Schemas['ProbeStrikeAsk']) =>
    unwrap(await api.POST('/api/v1/runs/{id}/strike', { params: { path: { id } }, body })),
  )

/** How a file of a thermometer with probes is to be read; guessed where nothing was chosen. */
export interface ProbeFile {
  file: File
  columns: { unit?: string; dates?: string; probes?: string }
}

async function sendFile<T>(id: number, { file, columns }: ProbeFile, at: string): Promise<T> {
  const said = Object.entries(columns).filter(([, v]) => v)
  const query = new URLSearchParams(said as [string, string][]).toString()
  const response = await fetch(`/api/v1/runs/${id}/${at}?${query}`, {
    method: 'POST',
    headers: { 'content-type': 'text/csv' },
    body: file,
  })
  const answer: unknown = await response.json().catch(() => undefined)
  return unwrap<T>(response.ok ? { data: answer as T, response } : { error: answer, response })
}

/** Looks at a file of a thermometer with probes; writes nothing. */
export const useLookAtProbes = (id: number) =>
  useMutation({ mutationFn: (file: ProbeFile) => sendFile<Schemas['ProbeFileLook']>(id, file, 'file/look') })

/** Takes the readings out of it. */
export const useTakeProbes = (id: number) =>
  useRunWritten((file: ProbeFile) => sendFile<Schemas['ProbesLogged']>(id, file, 'file'))
