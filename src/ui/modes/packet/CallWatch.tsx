'use client'
import { useNewCalls } from '../../live/useNewCalls'
import { usePacket } from './usePacket'

/** Tells who connects to us. */
export function CallWatch({ onCalled }: { onCalled: (call: string) => void }) {
  const packet = usePacket()
  const calling = (packet?.sessions ?? [])
    .flatMap(({ by, phase, peer }) => (by === 'them' && phase !== 'closed' ? [peer] : []))
    .sort()
    .join(' ')
  useNewCalls(calling, onCalled)
  return null
}
