'use client'
import { useEffect, useState } from 'react'
import { useLive } from './StationProvider'

/** The station's UTC, renewed several times a second; undefined until the page runs in a browser. */
export function useNow(everyMs = 200): number | undefined {
  const { station } = useLive()
  const [now, setNow] = useState<number>()
  useEffect(() => {
    const read = () => setNow(station ? station.clock.nowUtcMs() : Date.now())
    read()
    const timer = setInterval(read, everyMs)
    return () => clearInterval(timer)
  }, [station, everyMs])
  return now
}
