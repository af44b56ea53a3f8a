import type { HeardFrame, PacketModemId } from '@/core/packet'

/** What was read of a piece of sound. */
export interface PacketHeard {
  frames: HeardFrame[]
  /** Whether somebody is heard to send. */
  carrier: boolean
  /** Why nothing can be read of such sound, in words. */
  problem?: string
}

/** What the worker does that reads frames. */
export interface PacketModemApi {
  /** Begins anew at a speed. */
  restart(speed: PacketModemId): void
  /** @param samples at the rate of the speed's receiver, following the ones before */
  push(samples: Float32Array): PacketHeard
}
