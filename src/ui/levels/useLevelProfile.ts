'use client'
import { useMemo } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { compareWithProfile, findProfile, type LevelChange, type LevelProfile, type LevelProfileDraft } from '@/core/levels'
import { useLive, useStation } from '../live/StationProvider'
import { readOutputDelayMs } from '@/engine/browser/outputDelay'
import { newId } from '@/engine/station/newId'
import { readChosenDevices } from '../connect/devices'
import { fetchLevelProfiles, removeLevelProfile, saveLevelProfile } from './levelApi'

/** The profile of the radio, interface and device in use, and what differs from it now. */
export function useLevelProfile() {
  const client = useQueryClient()
  const { profile } = useLive()
  const source = useStation((s) => s.source)
  const audio = useStation((s) => s.audio)
  const query = useQuery({ queryKey: ['levels', 'profiles'], queryFn: fetchLevelProfiles, staleTime: Infinity, retry: 1 })
  const { radio, interfaceName } = profile.station
  const deviceLabel = 'label' in source ? source.label : ''
  const stored = useMemo(
    () => (query.data && deviceLabel ? findProfile(query.data, { radio, interfaceName, deviceLabel }) : undefined),
    [query.data, radio, interfaceName, deviceLabel],
  )
  const changes: LevelChange[] | undefined = useMemo(
    // Less than ten seconds may hold no pause between slots, and the floor would read too high.
    () => (stored && audio && audio.durationS >= 10 ? compareWithProfile(audio, stored) : undefined),
    [stored, audio],
  )
  const save = useMutation({
    mutationFn: (draft: Omit<LevelProfileDraft, 'transmit'>) => {
      const { transmitLevel, voxLeadInMs } = profile.station
      const outputDelayMs = readOutputDelayMs(readChosenDevices().output)
      const transmit = { level: transmitLevel, voxLeadInMs, outputDelayMs }
      return saveLevelProfile({ ...draft, transmit, id: newId(), savedUtcMs: Date.now() })
    },
    onSuccess: (saved) =>
      client.setQueryData<LevelProfile[]>(['levels', 'profiles'], (known = []) => [saved, ...known.filter((p) => p.id !== saved.id)]),
  })
  const forget = useMutation({
    mutationFn: removeLevelProfile,
    onSuccess: ({ removed }) =>
      client.setQueryData<LevelProfile[]>(['levels', 'profiles'], (known = []) => known.filter((p) => p.id !== removed)),
  })
  return {
    stored,
    forget: () => stored && forget.mutate(stored.id),
    changes,
    key: { radio, interfaceName, deviceLabel },
    save: save.mutateAsync,
    saving: save.isPending,
    problem: query.isError ? query.error.message : save.isError ? save.error.message : forget.isError ? forget.error.message : undefined,
  }
}
