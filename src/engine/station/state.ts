import type { SoundModeId } from '@/core/modes/modeId'
import type { AudioReport, FindingCode, LevelReading } from '@/core/audio'
import type { LinkStatus, ServerClock, LinkState } from '@/core/links'
import type { ReceiveTarget, SampleClock } from '@/core/levels'
import type { GpsStatus } from '@/core/nmea'
import type { BandClockEstimate, ClockNote, ClockState, Timebase, whoseClockMoved } from '@/core/time'
import type { Readiness } from '@/core/readiness'
import type { GateState } from '@/core/transmit'
import type { ReceiveFault } from '@/standins'
import type { Refusal, Upcoming } from '../modes/runner'
import type { OnAir } from './air'

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
  locators: readonly string[]
  entities: readonly string[]
}

/** How far off a source said this clock was, at one moment; the source `computer` is the device's own clock. */
export interface ClockPoint {
  utcMs: number
  source: string
  /** Positive when the timebase was fast; for the computer's clock, how fast that one was. */
  errorMs: number
  uncertaintyMs: number | null
}

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
export type HeardAudio = AudioReport & { utcMs: number; target: ReceiveTarget; sampleClock?: SampleClock }

/** All that every mode shares of the running station. Plain data. */
export interface StationState {
  /** Whether this tab runs the station: only one may. */
  holder: 'asking' | 'here' | 'elsewhere'
  /** The mode in front: what is heard goes to it, and it alone may send. */
  mode: SoundModeId
  source: SourceState
  timebase: Timebase | undefined
  level: (LevelReading & { utcMs: number }) | undefined
  lastBlockUtcMs: number | undefined
  /** What the level coach says; a second or two behind. */
  audio: HeardAudio | undefined
  levelPoints: readonly LevelPoint[]
  /** Slots in which speech or room noise was heard over the band. */
  spoiltSlots: readonly { slotIndex: number; speechS: number }[]
  /** What the log holds already, so that new places are known as such. */
  workedPlaces: WorkedPlaces
  worked: Readonly<Record<string, readonly WorkedBefore[]>>
  /** For how long this station was on the air since then. */
  keyedMs: number
  gate: GateState | undefined
  /** Why nothing could be sent now; undefined when it could. */
  refusal: Refusal | undefined
  /** Whether the station can operate, and if not, why; twice a second. */
  readiness: Readiness | undefined
  onAir: OnAir | undefined
  /** What goes out next by itself: until it is ended, the station is armed. */
  next: Upcoming | undefined
  bandClock: (BandClockEstimate & { utcMs: number; moved?: ReturnType<typeof whoseClockMoved> }) | undefined
  /** All that is known of time, in the world in use. */
  clockState: ClockState | undefined
  /** True while practice or a recording keeps its own time. */
  clockSimulated: boolean
  clockNotes: readonly { utcMs: number; kind: ClockNote['kind']; words: string }[]
  clockPoints: readonly ClockPoint[]
  /** What the server's sources of time do; undefined while it does not answer. */
  serverClock: ServerClock | undefined
  /** What the server's links do; undefined while it does not answer. */
  links: LinkState | undefined
  /** The server's clocks against this device's. */
  serverLink: { roundTripMs: number; wallAheadMs: number } | undefined
  browserReceiver: BrowserReceiver
  /** What is wrong with the practice receiver, as an exercise. */
  practiceFaults: readonly ReceiveFault[]
  /** And with the band itself, by names of its mode's practice band. */
  practiceBandFaults: readonly string[]
  /** How far the practice receiver's volume is turned from where it belongs, in dB. */
  practiceVolumeDb: number
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
  mode: 'ft8',
  source: { kind: 'none' },
  timebase: undefined,
  level: undefined,
  lastBlockUtcMs: undefined,
  audio: undefined,
  levelPoints: [],
  spoiltSlots: [],
  workedPlaces: { locators: [], entities: [] },
  worked: {},
  keyedMs: 0,
  gate: undefined,
  refusal: undefined,
  readiness: undefined,
  onAir: undefined,
  next: undefined,
  bandClock: undefined,
  clockState: undefined,
  clockSimulated: false,
  clockNotes: [],
  clockPoints: [],
  serverClock: undefined,
  links: undefined,
  serverLink: undefined,
  browserReceiver: { state: 'off', detail: 'Off.', serialBaud: null, gps: undefined },
  practiceFaults: [],
  practiceBandFaults: [],
  practiceVolumeDb: 0,
  waitingContacts: 0,
  storeProblem: undefined,
  storedCount: 0,
  outputProblem: undefined,
  notice: undefined,
}
