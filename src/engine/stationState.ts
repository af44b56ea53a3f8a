import type { AudioReport, FindingCode, LevelReading } from '@/core/audio'
import {
  emptyTally,
  type ExchangeState,
  type Ft8Decode,
  type HeardStation,
  type SlotOccupancy,
  type SlotTally,
  type Unfinished,
} from '@/core/ft8'
import type { LinkStatus, ServerClock, LinkState } from '@/core/links'
import type { SampleClock } from '@/core/levels'
import type { GpsStatus } from '@/core/nmea'
import type { BandClockEstimate, ClockNote, ClockState, Timebase, whoseClockMoved } from '@/core/time'
import type { GateState } from '@/core/transmit'
import type { ReceiveFault } from '@/standins'
import type { OnAir } from './transmitter'

/** One slot as it was decoded. */
export interface DecodedSlot {
  slotIndex: number
  decodes: readonly Ft8Decode[]
  decodeMs: number
  missingMs: number
  /** True when there was no time left to look at all of it. */
  cutShort: boolean
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

/** Places that were worked before: locators of four characters, and to whom series of calls are allocated. */
export interface WorkedPlaces {
  locators: ReadonlySet<string>
  entities: ReadonlySet<string>
}

/** How far off a source said this clock was, at one moment; the source `computer` is the device's own clock. */
export interface ClockPoint {
  utcMs: number
  source: string
  /** Positive when the timebase was fast; for the computer's clock, how fast that one was. */
  errorMs: number
  uncertaintyMs: number | null
}

/** The search for slots with the clock unknown. */
export type BlindState =
  | { phase: 'idle' }
  /** `because` says why an earlier stretch gave nothing. */
  | { phase: 'gathering'; haveS: number; needS: number; because?: string }
  | { phase: 'searching'; share: number }
  | { phase: 'found'; stations: number; uncertaintyMs: number; clockErrorMs: number }
  | { phase: 'notFound'; why: string }

/** A receiver on a serial port of this device, reached by the browser itself. */
export interface BrowserReceiver {
  state: LinkStatus['state']
  detail: string
  serialBaud: number | null
  gps: GpsStatus | undefined
}

/** The level at one moment, for the chart. */
export interface LevelPoint {
  utcMs: number
  noise2500Dbfs: number
  headroomDb: number
  worst: FindingCode | null
}

/** What the level coach heard in the last twenty seconds. */
export type HeardAudio = AudioReport & { utcMs: number; sampleClock?: SampleClock }

/** All that a screen can show of the running station. */
export interface StationState {
  /** Whether this tab runs the station: only one may. */
  holder: 'asking' | 'here' | 'elsewhere'
  source: SourceState
  timebase: Timebase | undefined
  level: (LevelReading & { utcMs: number }) | undefined
  lastBlockUtcMs: number | undefined
  /** What the level coach says; a second or two behind. */
  audio: HeardAudio | undefined
  levelPoints: readonly LevelPoint[]
  /** Slots in which speech or room noise was heard over the band. */
  spoiltSlots: readonly { slotIndex: number; speechS: number }[]
  slots: readonly DecodedSlot[]
  decodingSlot: number | undefined
  stations: ReadonlyMap<string, HeardStation>
  /** How loud each part of the band was in the last slots. */
  occupancy: readonly SlotOccupancy[]
  /** What the log holds already, so that new places are known as such. */
  workedPlaces: WorkedPlaces
  worked: ReadonlyMap<string, readonly WorkedBefore[]>
  exchange: ExchangeState
  /** Exchanges that broke off and can be taken up again, newest first. */
  unfinished: readonly Unfinished[]
  /** What became of the slots since this source was begun. */
  tally: SlotTally
  /** A slot of its own in which the station listens instead of calling CQ, to hear whether its lane is still free. */
  listeningSlot: number | undefined
  /** For how long this station was on the air since then. */
  keyedMs: number
  gate: GateState | undefined
  onAir: OnAir | undefined
  bandClock: (BandClockEstimate & { utcMs: number; moved?: ReturnType<typeof whoseClockMoved> }) | undefined
  /** All that is known of time, in the world in use. */
  clockState: ClockState | undefined
  /** True while practice or a recording keeps its own time. */
  clockSimulated: boolean
  clockNotes: readonly { utcMs: number; kind: ClockNote['kind']; words: string }[]
  clockPoints: readonly ClockPoint[]
  blind: BlindState
  /** What the server's sources of time do; undefined while it does not answer. */
  serverClock: ServerClock | undefined
  /** What the server's links do; undefined while it does not answer. */
  links: LinkState | undefined
  /** The server's clocks against this device's. */
  serverLink: { roundTripMs: number; wallAheadMs: number } | undefined
  browserReceiver: BrowserReceiver
  /** What is wrong with the practice receiver, as an exercise. */
  practiceFaults: readonly ReceiveFault[]
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
  audio: undefined,
  levelPoints: [],
  spoiltSlots: [],
  slots: [],
  decodingSlot: undefined,
  stations: new Map(),
  occupancy: [],
  workedPlaces: { locators: new Set(), entities: new Set() },
  worked: new Map(),
  exchange: { phase: 'idle' },
  unfinished: [],
  tally: emptyTally,
  listeningSlot: undefined,
  keyedMs: 0,
  gate: undefined,
  onAir: undefined,
  bandClock: undefined,
  clockState: undefined,
  clockSimulated: false,
  clockNotes: [],
  clockPoints: [],
  blind: { phase: 'idle' },
  serverClock: undefined,
  links: undefined,
  serverLink: undefined,
  browserReceiver: { state: 'off', detail: 'Off.', serialBaud: null, gps: undefined },
  practiceFaults: [],
  waitingContacts: 0,
  storeProblem: undefined,
  storedCount: 0,
  outputProblem: undefined,
  notice: undefined,
}
