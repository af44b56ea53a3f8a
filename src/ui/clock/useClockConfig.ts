'use client'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { ClockConfig } from '@/core/links'
import { fetchClockConfig, saveClockConfig } from './clockApi'

/** Where the server looks for time, and how to change that. */
export function useClockConfig() {
  const client = useQueryClient()
  const query = useQuery({ queryKey: ['clock', 'config'], queryFn: fetchClockConfig, staleTime: Infinity, retry: 2 })
  const save = useMutation({
    mutationFn: (change: Partial<ClockConfig>) => saveClockConfig({ ...query.data!, ...change }),
    onSuccess: (config) => client.setQueryData(['clock', 'config'], config),
  })
  return {
    config: query.data,
    problem: query.isError ? query.error.message : save.isError ? save.error.message : undefined,
    saving: save.isPending,
    save: save.mutate,
    /** Changes it from what it is when this is carried out, which may be later and elsewhere. */
    amend: async (change: (now: ClockConfig) => Partial<ClockConfig>) => {
      const now = await fetchClockConfig()
      client.setQueryData(['clock', 'config'], await saveClockConfig({ ...now, ...change(now) }))
    },
  }
}
