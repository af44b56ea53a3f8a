'use client'
import { useEffect, useState } from 'react'
import { useLive } from './StationProvider'

/** Real UTC, also while practice or a recording keeps a time of its own; undefined until the page runs. */
export function useRealNow(everyMs: number): number | undefined {
  const { station } = useLive()
  const [now, setNow] = useState<number>()
  useEffect(() => {
    const read = () => setNow(station && !station.slice('station').getState().clockSimulated ? station.clock.nowUtcMs() : Date.now())
    read()
    const timer = setInterval(read, everyMs)
    return () => clearInterval(timer)
  }, [station, everyMs])
  return now
}
