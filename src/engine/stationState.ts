import type { LevelReading } from '@/core/audio'
import type { ExchangeState, Ft8Decode, HeardStation } from '@/core/ft8'
import type { BandClockEstimate, Timebase } from '@/core/time'
import type { GateState } from '@/core/transmit'
import type { OnAir } from './transmitter'

/** One slot as it was decoded. */
export interface DecodedSlot {
  slotIndex: number
  decodes: readonly Ft8Decode[]
  decodeMs: number
  missingMs: number
  /** True when the station transmitted in it and so heard nothing. */
  transmitted: boolean
}

export type SourceState =
  | { kind: 'none'; problem?: string }
  | { kind: 'starting'; what: 'microphone' | 'recording' | 'practice' }
  | {
      kind: 'microphone' | 'recording' | 'practice'
      label: string
      /** Things that the browser or device did otherwise than asked. */
      warnings: readonly string[]
      pace: number
    }

/** A contact of the log with a station heard now. */
export interface WorkedBefore {
  call: string
  band: string | null
  mode: string
  locator: string | null
  name: string | null
  startedUtcMs: number
}

/** All that a screen can show of the running station. */
export interface StationState {
  /** Whether this tab runs the station: only one may. */
  holder: 'asking' | 'here' | 'elsewhere'
  source: SourceState
  timebase: Timebase | undefined
  level: (LevelReading & { utcMs: number }) | undefined
  lastBlockUtcMs: number | undefined
  slots: readonly DecodedSlot[]
  decodingSlot: number | undefined
  stations: ReadonlyMap<string, HeardStation>
  worked: ReadonlyMap<string, readonly WorkedBefore[]>
  exchange: ExchangeState
  gate: GateState | undefined
  onAir: OnAir | undefined
  bandClock: (BandClockEstimate & { utcMs: number }) | undefined
  /** Contacts that wait for the server's acknowledgement. */
  waitingContacts: number
  storeProblem: string | undefined
  /** Grows with every contact that the server has stored, so that lists know when to look again. */
  storedCount: number
  outputProblem: string | undefined
  /** The latest thing worth saying, such as why a transmission was refused. */
  notice: { text: string; utcMs: number } | undefined
}

export const initialState: StationState = {
  holder: 'asking',
  source: { kind: 'none' },
  timebase: undefined,
  level: undefined,
  lastBlockUtcMs: undefined,
  slots: [],
  decodingSlot: undefined,
  stations: new Map(),
  worked: new Map(),
  exchange: { phase: 'idle' },
  gate: undefined,
  onAir: undefined,
  bandClock: undefined,
  waitingContacts: 0,
  storeProblem: undefined,
  storedCount: 0,
  outputProblem: undefined,
  notice: undefined,
}
