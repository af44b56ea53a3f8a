'use client'
import { useEffect, useMemo } from 'react'
import type { Readiness } from '@/core/readiness'
import { createClockState, SLOT_MS } from '@/core/time'
import { initialSlices } from '@/engine/port/stationPort'
import { readinessOf } from '@/engine/station/readinessOf'
import { useLevelProfile } from '../levels/useLevelProfile'
import { useLive, useStation } from './StationProvider'
import { useNow } from './useNow'

/** The station's readiness, as the station itself judges it; undefined until it can. */
export function useReadiness(): Readiness | undefined {
  const { station, profile, profileState } = useLive()
  const judged = useStation((s) => s.readiness)
  const now = useNow(station ? 60_000 : 5000)
  // A screen that only looks on has no station of its own: it knows what the server does.
  const lookingOn = useMemo(() => {
    if (station || now === undefined) return undefined
    const state = { ...initialSlices.station, clockState: createClockState(now, 0, SLOT_MS) }
    return readinessOf(state, { nowUtcMs: now, monotonicMs: 0, station: profile.station }, { modesInUse: profile.settings.modes })
  }, [station, now, profile])
  if (profileState === 'loading') return undefined
  return station ? judged : lookingOn
}

/** Tells the station what its readiness needs and only the server knows. */
export function TellReadiness() {
  const { station, profile } = useLive()
  const { stored, changes } = useLevelProfile()
  const levelChanges = stored && changes?.length
  const { modes } = profile.settings
  useEffect(() => {
    void station?.do({ type: 'readinessAlso', modesInUse: modes, ...(levelChanges !== undefined && { levelChanges }) })
  }, [station, modes, levelChanges])
  const converter = stored?.converter2500Dbfs ?? undefined
  useEffect(() => {
    void station?.do({ type: 'converterNoise', dbfs: converter })
  }, [station, converter])
  return null
}
