'use client'
import { useMemo } from 'react'
import { assessReadiness, type Readiness } from '@/core/readiness'
import { uncertaintyAt } from '@/core/time'
import { useLive, useStation } from './StationProvider'
import { useNow } from './useNow'

/** Judges the station's readiness twice a second; undefined until it can. */
export function useReadiness(): Readiness | undefined {
  const { profile, profileState } = useLive()
  const now = useNow(500)
  const source = useStation((s) => s.source)
  const level = useStation((s) => s.level)
  const lastBlockUtcMs = useStation((s) => s.lastBlockUtcMs)
  const timebase = useStation((s) => s.timebase)
  const bandClock = useStation((s) => s.bandClock)
  const outputProblem = useStation((s) => s.outputProblem)
  return useMemo(() => {
    if (now === undefined || profileState === 'loading') return undefined
    const uncertaintyMs = timebase && uncertaintyAt(timebase, now)
    return assessReadiness({
      nowUtcMs: now,
      station: profile.station,
      source: source.kind === 'starting' ? 'none' : source.kind,
      ...(source.kind === 'none' && source.problem && { sourceProblem: source.problem }),
      ...(source.kind === 'starting' && { sourceProblem: 'the audio input is being opened' }),
      ...(lastBlockUtcMs !== undefined && { lastBlockUtcMs }),
      ...(level && { level }),
      clock: {
        source: timebase?.source === 'band' ? 'the band' : timebase?.source === 'hand' ? 'hand' : (timebase?.source ?? 'computer'),
        setUtcMs: timebase?.setUtcMs ?? now,
        ...(uncertaintyMs !== undefined && { uncertaintyMs }),
        ...(bandClock && { bandOffsetMs: bandClock.offsetMs, bandStations: bandClock.stations, bandUtcMs: bandClock.utcMs }),
      },
      ...(outputProblem && { outputProblem }),
    })
  }, [now, profileState, profile.station, source, level, lastBlockUtcMs, timebase, bandClock, outputProblem])
}
