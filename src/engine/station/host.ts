import type { LevelHistoryEntry } from '@/core/levels'
import type { ClockHistoryEntry, LinkState } from '@/core/links'
import type { HeardReport } from '@/core/station/heardContract'
import type { ClockReading, Drift } from '@/core/time'
import type { AudioSource, OnBlock } from './audioBlock'
import type { AudioOutput } from './audioOutput'
import type { SendKey } from './keyer'
import type { ExaminerClient } from './levels/examiner.client'
import type { ModeResources } from '../modes'
import type { OutboxStore, SendContacts } from './outbox'
import type { PracticeClient } from './practice/practice.client'
import type { StationClock } from './stationClock'
import type { StationState, WorkedBefore, WorkedPlaces } from './state'

/** What a station needs from where it runs; a browser gives it, and tests do. */
export interface StationHost {
  monotonicMs: () => number
  wallUtcMs: () => number
  newId: () => string
  modes: ModeResources
  createPractice: () => PracticeClient
  createExaminer: () => ExaminerClient
  openMicrophone: (
    deviceId: string | undefined,
    clock: StationClock,
    onBlock: OnBlock,
    onLost: (why: string) => void,
  ) => Promise<{ ok: true; source: AudioSource; warnings: string[] } | { ok: false; error: string }>
  openOutput: (
    deviceId: string | undefined,
    clock: StationClock,
  ) => Promise<{ ok: true; output: AudioOutput } | { ok: false; error: string }>
  outboxStore: OutboxStore
  sendContacts: SendContacts
  sendHeard: (reports: HeardReport[]) => Promise<boolean>
  askWorked: (calls: string[], practice: boolean) => Promise<WorkedBefore[] | undefined>
  askPlaces: (practice: boolean) => Promise<WorkedPlaces | undefined>
  sendLevelHistory: (entries: LevelHistoryEntry[]) => Promise<boolean>
  sendClockHistory: (entries: ClockHistoryEntry[]) => Promise<boolean>
  driftStore: { load(): Drift | undefined; save(drift: Drift): void }
  /** Listens to what the server knows of time. @returns a function that ends it */
  openServerClock: (listener: ServerClockListener) => () => void
  /** Listens to what the server knows of its links. @returns a function that ends it */
  openServerLinks: (onState: (links: LinkState | undefined) => void) => () => void
  sendKey: SendKey
}

/** Who is told what the server knows of time. */
export interface ServerClockListener {
  /** Readings, carried over to this device's monotonic clock. */
  onReadings(readings: readonly ClockReading[]): void
  onState(change: Partial<Pick<StationState, 'serverClock' | 'serverLink'>>): void
}
