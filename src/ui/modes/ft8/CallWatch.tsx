'use client'
import { useFt8 } from '../../live/StationProvider'
import { useNewCalls } from '../../live/useNewCalls'

/** Tells who calls us in FT8. */
export function CallWatch({ onCalled }: { onCalled: (call: string) => void }) {
  const calling = useFt8((s) =>
    Object.values(s.stations)
      .filter(({ doing }) => doing.kind === 'callingMe')
      .map(({ call }) => call)
      .sort()
      .join(' '),
  )
  useNewCalls(calling, onCalled)
  return null
}
