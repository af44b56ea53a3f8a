import type { Refusal } from '../modes/runner'
import { initialFt8State, type Ft8State } from '../modes/ft8/state'
import { initialPacketModemState, type PacketModemState } from '../modes/packet/state'
import { initialPsk31State, type Psk31State } from '../modes/psk31/state'
import type { PictureRow } from '../station/bandPicture'
import { initialState, type StationState } from '../station/state'
import type { Command } from './commands'

/** The parts of the state that a screen can follow. */
export interface Slices {
  station: StationState
  ft8: Ft8State
  psk31: Psk31State
  packet: PacketModemState
}
export type SliceName = keyof Slices

export const initialSlices: Slices = {
  station: initialState,
  ft8: initialFt8State,
  psk31: initialPsk31State,
  packet: initialPacketModemState,
}

/** A slice as it is now, and word of each change. */
export interface Followed<T> {
  getState(): T
  getInitialState(): T
  subscribe(listener: (state: T, before: T) => void): () => void
}

/** What became of a command. What was heard of a test comes with it, and text that was taken back. */
export type Done =
  { ok: true; complete?: boolean; heard?: Float32Array; text?: string } | { ok: false; why: string; need?: Refusal['need'] }

/** All that screens know of the station, wherever it runs: state to follow, commands, its clock and the band picture. */
export interface StationPort {
  slice<Name extends SliceName>(name: Name): Followed<Slices[Name]>
  do(command: Command): Promise<Done>
  readonly clock: { nowUtcMs(): number; monotonicMs(): number }
  /** Hands over the rows of the last minute at once, then each new one. @returns a function that ends it */
  picture(listener: (row: PictureRow) => void): () => void
}
