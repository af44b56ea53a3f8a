'use client'
import { useEffect } from 'react'
import { noteKeyed } from './keyedTime'
import { useLive } from './StationProvider'

/** Keeps note of every second on the air. Practice is not on the air. */
export function KeepKeyedTime() {
  const { station } = useLive()
  useEffect(
    () =>
      station?.slice('station').subscribe((state, before) => {
        const more = state.keyedMs - before.keyedMs
        if (more > 0 && state.source.kind === 'microphone') noteKeyed(station.clock.nowUtcMs(), more)
      }),
    [station],
  )
  return null
}
