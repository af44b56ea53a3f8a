'use client'
import { useEffect, useState } from 'react'
import { useStation } from './StationProvider'

/** A line that drops and comes back at once is not worth a word. */
const PATIENCE_MS = 4000

/** Whether the server has answered and no longer does. */
export function useServerGone(): boolean {
  const answers = useStation((s) => s.serverClock !== undefined)
  const [lost, setLost] = useState<'never' | 'no' | 'yes'>('never')
  useEffect(() => {
    // While it answers this is known at the next moment; when it stops, only after a while.
    const timer = answers
      ? setTimeout(() => setLost('no'), 0)
      : setTimeout(() => setLost((before) => (before === 'never' ? before : 'yes')), PATIENCE_MS)
    return () => clearTimeout(timer)
  }, [answers])
  return lost === 'yes' && !answers
}
