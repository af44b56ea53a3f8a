'use client'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { z } from 'zod'
import { ask, put } from './ask'

/** A small document of the server: read once, shown at once as it is changed, and put back when the server refuses. */
export function useDocument<T extends z.ZodType>(key: string, schema: T, path: string) {
  type Value = z.infer<T>
  const client = useQueryClient()
  const query = useQuery({ queryKey: [key], queryFn: () => ask(schema, path), staleTime: Infinity, retry: 1 })
  const store = useMutation({
    // One after the other: the last change must also be the last to arrive.
    scope: { id: key },
    mutationFn: (value: Value) => ask(schema, path, put(value)),
    onError: () => void client.invalidateQueries({ queryKey: [key] }),
  })
  return {
    value: query.data as Value | undefined,
    problem: query.isError ? query.error.message : store.isError ? store.error.message : undefined,
    save: (value: Value) => {
      client.setQueryData([key], value)
      store.mutate(value)
    },
    /** Takes what the server said in another way. */
    take: (value: Value) => client.setQueryData([key], value),
  }
}
