import { patient } from './patience'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'

export type Backup = Schemas['BackupView']

export const useBackups = () => useQuery({ queryKey: ['backups'], queryFn: async () => unwrap(await api.GET('/api/v1/backups')) })

/** Takes a backup now. */
export function useTakeBackup() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async () => unwrap(await api.POST('/api/v1/backups')),
    onSuccess: () => client.invalidateQueries({ queryKey: ['backups'] }),
  })
}

/** Brings the file of a backup back from elsewhere. */
export function useBringBackup() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (file: File) => {
      const response = await patient(
        new Request('/api/v1/backups/brought', {
          method: 'POST',
          headers: { 'content-type': 'application/octet-stream' },
          body: file,
        }),
      )
      const body = (await response.json()) as Schemas['BackupView']
      return unwrap<Schemas['BackupView']>(response.ok ? { data: body, response } : { error: body, response })
    },
    onSuccess: () => client.invalidateQueries({ queryKey: ['backups'] }),
  })
}

/** What restoring a backup would mean; asked when somebody is about to. */
export const useRestorePreview = (name: string) =>
  useQuery({
    queryKey: ['backups', name, 'preview'],
    staleTime: 0,
    retry: false,
    queryFn: async () => unwrap(await api.GET('/api/v1/backups/{name}/preview', { params: { path: { name } } })),
  })

/** Puts a backup in the ledger's place; everything that is shown follows from it. */
export function useRestore() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (name: string) => unwrap(await api.POST('/api/v1/backups/{name}/restore', { params: { path: { name } } })),
    onSuccess: () => client.invalidateQueries(),
  })
}
