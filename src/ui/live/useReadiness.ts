'use client'
import { useMemo } from 'react'
import { assessReadiness, type Readiness } from '@/core/readiness'
import { useLevelProfile } from '../levels/useLevelProfile'
import { useLive, useStation } from './StationProvider'
import { useClockVerdict } from './useClockVerdict'
import { useNow } from './useNow'

/** Judges the station's readiness twice a second; undefined until it can. */
export function useReadiness(): Readiness | undefined {
  const { profile, profileState } = useLive()
  const now = useNow(500)
  const source = useStation((s) => s.source)
  const level = useStation((s) => s.level)
  const audio = useStation((s) => s.audio)
  const { stored, changes } = useLevelProfile()
  const levelChanges = stored && changes?.length
  const lastBlockUtcMs = useStation((s) => s.lastBlockUtcMs)
  const verdict = useClockVerdict(500)
  const timebase = useStation((s) => s.timebase)
  const bandClock = useStation((s) => s.bandClock)
  const outputProblem = useStation((s) => s.outputProblem)
  const links = useStation((s) => s.links)
  return useMemo(() => {
    if (now === undefined || profileState === 'loading' || !verdict) return undefined
    return assessReadiness({
      nowUtcMs: now,
      station: profile.station,
      source: source.kind === 'starting' ? 'none' : source.kind,
      ...(source.kind === 'none' && source.problem && { sourceProblem: source.problem }),
      ...(source.kind === 'starting' && { sourceProblem: 'the audio input is being opened' }),
      ...(lastBlockUtcMs !== undefined && { lastBlockUtcMs }),
      ...(level && { level }),
      ...(audio && { audio }),
      ...(levelChanges !== undefined && { levelChanges }),
      clock: {
        verdict,
        source: timebase?.source ?? 'computer',
        setUtcMs: timebase?.setUtcMs ?? now,
        ...(bandClock && { bandUtcMs: bandClock.utcMs }),
      },
      ...(outputProblem && { outputProblem }),
      ...(links && { links }),
    })
  }, [
    now,
    profileState,
    profile.station,
    source,
    level,
    audio,
    levelChanges,
    lastBlockUtcMs,
    verdict,
    timebase,
    bandClock,
    outputProblem,
    links,
  ])
}
