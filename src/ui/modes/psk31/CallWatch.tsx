'use client'
import { usePsk31 } from '../../live/StationProvider'
import { useNewCalls } from '../../live/useNewCalls'

/** Tells who calls us in PSK31. */
export function CallWatch({ onCalled }: { onCalled: (call: string) => void }) {
  const calling = usePsk31((s) =>
    s.conversations
      .flatMap(({ toMe, from, doing }) => (toMe && from && doing !== 'gone' ? [from] : []))
      .sort()
      .join(' '),
  )
  useNewCalls(calling, onCalled)
  return null
}
