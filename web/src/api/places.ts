import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'
import { ofAll } from './keys'

/** The cold places of the household, and how cold they are. */
export const usePlaces = () =>
  useQuery({ queryKey: ofAll('places'), queryFn: async () => unwrap(await api.GET('/api/v1/places')) })

/** What was read in a place in the last so many days. */
export const useReadings = (id: number, days: number) =>
  useQuery({
    queryKey: ofAll('places', id, days),
    queryFn: async () => unwrap(await api.GET('/api/v1/places/{id}/readings', { params: { path: { id }, query: { days } } })),
  })

function useWritten<Ask, Answer>(mutationFn: (ask: Ask) => Promise<Answer>) {
  const client = useQueryClient()
  return useMutation({ mutationFn, onSuccess: () => client.invalidateQueries() })
}

/** Writes a reading down, as typed. */
export const useReadPlace = (id: number) =>
  useWritten(async (body: Schemas['ReadingsAsk']) =>
    unwrap(await api.POST('/api/v1/places/{id}/readings', { params: { path: { id } }, body })),
  )

/** Strikes readings out, for a reason. */
export const useStrike = (id: number) =>
  useWritten(async (body: Schemas['StrikeAsk']) =>
    unwrap(await api.POST('/api/v1/places/{id}/strike', { params: { path: { id } }, body })),
  )

/** Which column of a file is what; guessed while nothing was chosen. */
export type Columns = Partial<Schemas['Columns']>

interface LogFile {
  file: File
  columns: Columns
}

async function sendLog<T>(id: number, { file, columns }: LogFile, at: string): Promise<T> {
  const said = Object.entries(columns).filter(([, v]) => v !== undefined && v !== null)
  const query = new URLSearchParams(said.map(([k, v]) => [k, String(v)])).toString()
  const response = await fetch(`/api/v1/places/${id}/${at}?${query}`, {
    method: 'POST',
    headers: { 'content-type': 'text/csv' },
    body: file,
  })
  const answer: unknown = await response.json().catch(() => undefined)
  return unwrap<T>(response.ok ? { data: answer as T, response } : { error: answer, response })
}

/** Looks at a file of a thermometer; writes nothing. */
export const useLookAtLog = (id: number) =>
  useMutation({ mutationFn: (log: LogFile) => sendLog<Schemas['LogLook']>(id, log, 'file/look') })

/** Takes the readings out of a file of a thermometer. */
export const useTakeLog = (id: number) => useWritten((log: LogFile) => sendLog<Schemas['LoggedView']>(id, log, 'file'))
