'use client'
import { createClockState, judgeClock, type ClockVerdict } from '@/core/time'
import { SLOT_MS } from '@/core/ft8'
import { useLive, useStation } from './StationProvider'
import { useNow } from './useNow'

/** The judgement of the clock, renewed as time passes; undefined until the page runs in a browser. */
export function useClockVerdict(everyMs = 500): ClockVerdict | undefined {
  const { station } = useLive()
  const now = useNow(everyMs)
  const state = useStation((s) => s.clockState)
  const band = useStation((s) => s.bandClock)
  if (now === undefined) return undefined
  // A tab that only looks on has no clock of its own but the computer's.
  if (!state) return judgeClock(createClockState(now, 0, SLOT_MS), 0)
  return judgeClock(state, station?.clock.monotonicMs() ?? 0, band)
}
