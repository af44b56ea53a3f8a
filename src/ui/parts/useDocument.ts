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
  const [draft, setDraft] = useState<{ value: Value; before: Value | undefined }>()
  // What came from elsewhere meanwhile, such as something undone, goes before it.
  const shown = draft && (query.data === draft.value || query.data === draft.before) ? draft.value : query.data
  const store = useMutation({
    // One after the other: the last change must also be the last to arrive.
    scope: { id: key },
    mutationFn: (value: Value) => ask(schema, path, json('PUT', value)),
  })
  const take = (value: Value) => {
    const before = client.getQueryData<Value>([key])
    // As it is kept, which need not be the same object.
    setDraft({ value: client.setQueryData<Value>([key], () => value) as Value, before })
  }
  return {
    value: shown as Value | undefined,
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
    /** Changes whatever it is by then, also when the screen that asked for it was left: for undoing. */
    amend: async (change: (value: Value) => Value) => {
      const before = client.getQueryData<Value>([key])
      if (before === undefined) return
      const after = change(before)
      client.setQueryData<Value>([key], () => after)
      try {
        const stored = await ask(schema, path, json('PUT', after))
        client.setQueryData<Value>([key], () => stored as Value)
      } catch (error) {
        await client.invalidateQueries({ queryKey: [key] })
        throw error
      }
    },
    /** Takes what the server said in another way. */
    take,
  }
}
