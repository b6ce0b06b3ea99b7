import { useQuery } from '@tanstack/react-query'
import { api, unwrap } from './client'
import { ofAll } from './keys'

export const useToday = () => useQuery({ queryKey: ofAll('today'), queryFn: async () => unwrap(await api.GET('/api/v1/today')) })
