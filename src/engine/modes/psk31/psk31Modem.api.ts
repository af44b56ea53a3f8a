import type { Psk31Channel, Psk31Text, Unread } from '@/core/psk31'

/** What was read of a piece of sound. */
export interface Psk31Heard {
  texts: Psk31Text[]
  channels: Psk31Channel[]
  /** How full the band is, by frequency. */
  occupancy: readonly number[]
  unread: Unread[]
}

/** What the worker does that reads all conversations at once. */
export interface Psk31ModemApi {
  /** Begins anew. */
  restart(): void
  /** @param samples 12 kHz, following the ones before */
  push(samples: Float32Array): Psk31Heard
}
