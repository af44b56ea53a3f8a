import type { Info } from './infoField'

/**
 * A message as it was understood. `text` is what an operator reads; the rest is what the station acts upon.
 * `from` is absent when the sender's call is a hash that nothing heard so far resolves.
 */
export type Ft8Message =
  | StandardMessage
  | { kind: 'freeText'; text: string }
  | { kind: 'telemetry'; text: string; hex: string }
  | { kind: 'contest'; text: string; to?: string; from?: string }

/** A message from one station to another or to all: types 1, 2 and 4. */
export interface StandardMessage {
  kind: 'standard'
  text: string
  /** Called station, when it is one. */
  to?: string
  /** 'CQ', 'CQ RIVER', 'QRZ' or 'DE' when it is a general call. */
  call?: string
  from?: string
  info: Info
}
