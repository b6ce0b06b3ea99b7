import { useQuery } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'
import { ofAll } from './keys'
import { useRest } from './pages'

export const useToday = () => useQuery({ queryKey: ofAll('today'), queryFn: async () => unwrap(await api.GET('/api/v1/today')) })

/** The tasks of a group after its first page. */
export const useMoreTasks = (group: Schemas['TaskGroup']) =>
  useRest(['tasks', group.urgency], group, async (after) => {
    const params = { path: { urgency: group.urgency }, query: { after } }
    return unwrap(await api.GET('/api/v1/tasks/{urgency}', { params }))
  })

/** The labels that no longer hold after the first page of them. */
export const useMoreLabels = (labels: Schemas['LabelsOutdated']) =>
  useRest(['labels'], labels, async (after) => unwrap(await api.GET('/api/v1/labels', { params: { query: { after } } })))
