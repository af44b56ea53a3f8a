'use client'
import { useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { z } from 'zod'
import { ask, json } from '@/engine/browser/http'

/** A small document of the server: read once, shown at once as it is changed, and put back when the server refuses. */
export function useDocument<T extends z.ZodType>(key: string, schema: T, path: string) {
  type Value = z.infer<T>
  const client = useQueryClient()
  const query = useQuery({ queryKey: [key], queryFn: () => ask(schema, path), staleTime: Infinity, retry: 1 })
  // The cache tells its readers a moment later; a tick must be seen in the moment it is made.
  const [draft, setDraft] = useState<Value>()
  const store = useMutation({
    // One after the other: the last change must also be the last to arrive.
    scope: { id: key },
    mutationFn: (value: Value) => ask(schema, path, json('PUT', value)),
  })
  const take = (value: Value) => {
    setDraft(value)
    client.setQueryData([key], value)
  }
  return {
    value: (draft ?? query.data) as Value | undefined,
    problem: query.isError ? query.error.message : store.isError ? store.error.message : undefined,
    save: (value: Value) => {
      take(value)
      store.mutate(value, {
        onSuccess: take,
        onError: () => {
          setDraft(undefined)
          void client.invalidateQueries({ queryKey: [key] })
        },
      })
    },
    /** Takes what the server said in another way. */
    take,
  }
}
