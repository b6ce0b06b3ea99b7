import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'
import { ofAll } from './keys'
import { useRest } from './pages'

export const useToday = () => useQuery({ queryKey: ofAll('today'), queryFn: async () => unwrap(await api.GET('/api/v1/today')) })

/** The labels that no longer hold after the first page of them. */
export const useMoreLabels = (labels: Schemas['LabelsOutdated']) =>
  useRest(['labels'], labels, async (after) => unwrap(await api.GET('/api/v1/labels', { params: { query: { after } } })))

/** What it means when nobody is at home from one day to another. */
export const useAway = (from: string, to: string) =>
  useQuery({
    queryKey: ofAll('away', from, to),
    enabled: from !== '' && to !== '',
    retry: false,
    queryFn: async () => unwrap(await api.GET('/api/v1/away', { params: { query: { from, to } } })),
  })

/** What was moved to another day, and the calendar's address. */
export const useAgenda = () =>
  useQuery({ queryKey: ofAll('agenda'), queryFn: async () => unwrap(await api.GET('/api/v1/agenda')) })

/** Moves tasks to other days of their windows, all or none. */
export function useMoveTasks() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (moves: Schemas['Move'][]) => unwrap(await api.POST('/api/v1/agenda/moves', { body: { moves } })),
    onSettled: () => client.invalidateQueries(),
  })
}

/** A task goes back to the day that follows from its facts. */
export function useMoveBack() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (body: Schemas['MoveBack']) => unwrap(await api.POST('/api/v1/agenda/moves/back', { body })),
    onSettled: () => client.invalidateQueries(),
  })
}

/** A new secret address for the calendar, or none. */
export function useFeed() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (on: boolean) => unwrap(await (on ? api.POST('/api/v1/agenda/feed') : api.DELETE('/api/v1/agenda/feed'))),
    onSettled: () => client.invalidateQueries(),
  })
}
