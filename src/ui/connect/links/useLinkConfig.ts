'use client'
import { useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { linkConfigSchema, type LinkConfig } from '@/core/links'
import { fetchLinkConfig, saveLinkConfig } from './linkApi'

/** What the links are set to, a draft of changes, and what is wrong with it before it is sent. */
export function useLinkConfig() {
  const client = useQueryClient()
  const query = useQuery({ queryKey: ['links', 'config'], queryFn: fetchLinkConfig, staleTime: Infinity, retry: 2 })
  const [draft, setDraft] = useState<LinkConfig>()
  const save = useMutation({
    mutationFn: saveLinkConfig,
    onSuccess: (config) => {
      client.setQueryData(['links', 'config'], config)
      setDraft(undefined)
    },
  })
  const config = draft ?? query.data
  const checked = draft && linkConfigSchema.safeParse(draft)
  return {
    config,
    changed: draft !== undefined,
    saving: save.isPending,
    /** What is wrong with the draft, else what the server said. */
    problem: checked?.error?.issues[0]?.message ?? (query.isError ? query.error.message : save.isError ? save.error.message : undefined),
    change: (part: Partial<LinkConfig>) => {
      save.reset()
      if (config) setDraft({ ...config, ...part })
    },
    save: (next: LinkConfig | undefined = draft) => next && save.mutate(next),
    discard: () => setDraft(undefined),
  }
}
