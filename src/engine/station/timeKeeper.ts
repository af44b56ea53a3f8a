// What the running station does about time: sources, the band's opinion, notes and history.
import type { ClockHistoryEntry } from '@/core/links'
import {
  estimateFromBand,
  rememberedDrift,
  SLOT_MS,
  utcAt,
  viewSources,
  whoseClockMoved,
  type ClockEvent,
  type ClockNote,
  type ClockReading,
  type Drift,
  type Occupancy,
  type OffsetReading,
} from '@/core/time'
import { ClockRecorder } from './clockRecorder'
import { describeClockNote } from './clockWords'
import type { StationClock } from './stationClock'
import type { ClockPoint, StationState } from './state'

export interface TimeKeeperHost {
  monotonicMs: () => number
  newId: () => string
  sendClockHistory: (entries: ClockHistoryEntry[]) => Promise<boolean>
  /** Where what was learned of this device's crystal is kept between sessions. */
  driftStore: { load(): Drift | undefined; save(drift: Drift): void }
}

/** A slot's start that the operator took: on the monotonic clock, and in UTC. */
export interface FoundSlots {
  stations: number
  monotonicMs: number
  utcMs: number
  uncertaintyMs: number
  /** Over how long it was listened. */
  windowMs: number
}

/** The band's opinion comes from these many slots. */
const CLOCK_SLOTS = 8
/** A decode's time is read to about this, and everybody's audio is late by some tens of milliseconds. */
const BAND_BIAS_MS = 50
const KEPT_POINTS = 1500
const KEPT_NOTES = 30
const TICK_MS = 200
const SHOW_MS = 500
const COMPUTER_POINT_MS = 30_000
const SAVE_DRIFT_MS = 60_000
/** A drift known less well than this is not worth remembering. */
const WORTH_KEEPING_PPM = 8

export class TimeKeeper {
  private offsets: HeardSlot[] = []
  /** Whole slots by which the operator moves the clock, until it has been looked at. */
  private takenMs = 0
  private readonly recorder: ClockRecorder
  private lastTickMs = -Infinity
  private lastShownMs = -Infinity
  private lastComputerMs = -Infinity
  private lastSavedMs = 0

  constructor(
    private readonly clock: StationClock,
    private readonly host: TimeKeeperHost,
    private readonly get: () => StationState,
    private readonly set: (change: Partial<StationState>) => void,
  ) {
    this.recorder = new ClockRecorder(host.newId, host.sendClockHistory)
    const remembered = host.driftStore.load()
    if (remembered) this.clock.sendReal({ type: 'driftLearned', drift: rememberedDrift(remembered) })
    this.show()
  }

  /** Looks at the clocks; called often. */
  tick(occupancy: Occupancy, slotOver: boolean): void {
    const now = this.host.monotonicMs()
    if (now - this.lastTickMs < TICK_MS / this.clock.pace) return
    this.lastTickMs = now
    const { notes, realNotes } = this.clock.tick(occupancy, slotOver)
    this.takenMs = 0
    this.tell(notes)
    this.keep(realNotes)
    this.recorder.tick(now)
    if (now - this.lastComputerMs >= COMPUTER_POINT_MS) this.noteComputer(now)
    if (notes.length > 0 || now - this.lastShownMs >= SHOW_MS) this.show()
    if (now - this.lastSavedMs >= SAVE_DRIFT_MS) {
      this.lastSavedMs = now
      const { drift } = this.clock.realState
      if (drift.uncertaintyPpm < WORTH_KEEPING_PPM) this.host.driftStore.save(drift)
    }
  }

  private show(): void {
    this.lastShownMs = this.host.monotonicMs()
    this.set({ clockState: this.clock.state, clockSimulated: this.clock.simulated, timebase: this.clock.timebase })
  }

  /** The source of audio was changed: what was heard before does not belong to what comes. */
  sourceChanged(): void {
    this.offsets = []
    this.lastComputerMs = -Infinity
    this.set({ bandClock: undefined, clockPoints: this.clock.simulated ? [] : this.get().clockPoints })
    this.show()
  }

  private tell(notes: readonly ClockNote[]): void {
    if (notes.length === 0) return
    const utcMs = this.clock.nowUtcMs()
    const worded = notes.map((note) => ({ utcMs, kind: note.kind, words: describeClockNote(note) }))
    this.set({ clockNotes: [...this.get().clockNotes, ...worded].slice(-KEPT_NOTES) })
  }

  private keep(notes: readonly ClockNote[]): void {
    const state = this.clock.realState
    for (const note of notes) {
      this.recorder.note({
        kind: note.kind === 'stepped' ? 'step' : 'event',
        utcMs: utcAt(state.timebase, this.host.monotonicMs()),
        source: note.kind === 'stepped' ? note.source : 'computer',
        label: note.kind,
        errorMs: 'byMs' in note ? note.byMs : null,
        uncertaintyMs: null,
        words: describeClockNote(note).slice(0, 300),
      })
    }
  }

  private send(event: ClockEvent): void {
    this.tell(this.clock.send(event))
    this.show()
  }

  // Sources

  /** A source has said something about real time. */
  read(reading: ClockReading): void {
    const notes = this.clock.sendReal({ type: 'reading', reading })
    this.keep(notes)
    if (!this.clock.simulated) this.tell(notes)
    const state = this.clock.realState
    const view = viewSources(state, this.host.monotonicMs()).find((s) => s.source === reading.source)
    if (!view) return
    const point = {
      utcMs: utcAt(state.timebase, this.host.monotonicMs()),
      source: reading.source,
      errorMs: view.clockErrorMs,
      uncertaintyMs: view.uncertaintyMs,
    }
    this.recorder.reading({ ...point, label: reading.label, words: reading.doubt ?? '' })
    if (!this.clock.simulated) this.point(point)
    this.show()
  }

  private point(point: ClockPoint): void {
    this.set({ clockPoints: [...this.get().clockPoints, point].slice(-KEPT_POINTS) })
  }

  private noteComputer(nowMs: number): void {
    this.lastComputerMs = nowMs
    const { wall, timebase } = this.clock.state
    const utcMs = this.clock.nowUtcMs()
    this.point({ utcMs, source: 'computer', errorMs: wall.wallUtcMs - utcAt(timebase, wall.monotonicMs), uncertaintyMs: null })
  }

  follow(source: string): void {
    this.send({ type: 'follow', source })
  }

  leaveOut(source: string, leftOut: boolean): void {
    this.send({ type: 'leaveOut', source, leftOut })
  }

  forget(source: string): void {
    this.send({ type: 'forget', source })
  }

  /** Moves the clock by hand. */
  byHand(byMs: number): void {
    this.send({ type: 'byHand', byMs, monotonicMs: this.clock.monotonicMs() })
  }

  // The band

  /**
   * Judges the clock by when stations were heard in a slot.
   * @param correctionMs the timebase's correction when the slot was received
   */
  heard(slotIndex: number, heard: readonly OffsetReading[], correctionMs: number): void {
    const { correctionMs: nowMs } = this.clock.timebase
    this.offsets = [...this.offsets, { slotIndex, readings: heard, correctionMs }].slice(-CLOCK_SLOTS).map((slot) => corrected(slot, nowMs))
    const moved = this.moved()
    // After a jump of this clock, what was heard before it says nothing.
    if (moved?.whose === 'mine') this.offsets = this.offsets.slice(-1)
    const estimate = estimateFromBand(this.offsets.flatMap((o) => o.readings))
    if (!estimate) {
      this.set({ bandClock: undefined })
      return
    }
    const { offsetMs } = estimate
    this.set({
      bandClock: { ...estimate, utcMs: this.offsets.at(-1)!.slotIndex * SLOT_MS, ...(moved && moved.whose !== 'nobody' && { moved }) },
    })
    const monotonicMs = this.clock.monotonicMs()
    const utcMs = this.clock.nowUtcMs()
    const reading: ClockReading = {
      source: 'band',
      kind: 'band',
      label: `The band, ${estimate.stations} stations`,
      monotonicMs,
      // The band knows where slots begin, not which slot it is: a minute that was set and is still to come stands.
      utcMs: utcMs - offsetMs + (this.takenMs || wholeSlots(this.clock.state.waitingMs)),
      randomMs: estimate.uncertaintyMs,
      biasMs: BAND_BIAS_MS,
      windowMs: (this.offsets.at(-1)!.slotIndex + 1 - this.offsets[0]!.slotIndex) * SLOT_MS,
    }
    this.send({ type: 'reading', reading })
    const point = { utcMs, source: 'band', errorMs: offsetMs, uncertaintyMs: Math.hypot(estimate.uncertaintyMs, BAND_BIAS_MS) }
    this.point(point)
    if (!this.clock.simulated) this.recorder.reading({ ...point, label: reading.label, words: '' })
  }

  /** Whose clock moved between the last two slots of the same parity. */
  private moved() {
    const now = this.offsets.at(-1)!
    const before = this.offsets.find((o) => o.slotIndex === now.slotIndex - 2)
    return before && whoseClockMoved(before.readings, now.readings)
  }

  /** The operator confirms where slots begin, found by ear alone. */
  takeSlots({ stations, monotonicMs, utcMs, uncertaintyMs, windowMs }: FoundSlots): void {
    this.takenMs = wholeSlots(utcMs - utcAt(this.clock.timebase, monotonicMs))
    this.send({ type: 'forget', source: 'band' })
    this.send({
      type: 'reading',
      reading: {
        ...{ source: 'band', kind: 'band', label: `The band, ${stations} stations found blind`, monotonicMs, utcMs },
        ...{ randomMs: uncertaintyMs, biasMs: BAND_BIAS_MS, windowMs },
      },
    })
    this.offsets = []
    this.send({ type: 'follow', source: 'band' })
    this.set({ bandClock: undefined })
  }
}

function wholeSlots(ms: number): number {
  return Math.round(ms / SLOT_MS) * SLOT_MS
}

/** What was heard in a slot, by the clock as it was corrected then. */
interface HeardSlot {
  slotIndex: number
  readings: readonly OffsetReading[]
  correctionMs: number
}

/**
 * What was heard in a slot as it would be with another correction of the clock, so that a correction does not void it.
 * Whole slots between the two change which slot it was: a station is heard where its slot begins.
 */
function corrected(slot: HeardSlot, correctionMs: number): HeardSlot {
  const byMs = correctionMs - slot.correctionMs
  const wholeMs = wholeSlots(byMs)
  return {
    slotIndex: slot.slotIndex + wholeMs / SLOT_MS,
    readings: slot.readings.map((reading) => ({ ...reading, timeOffsetS: reading.timeOffsetS + (byMs - wholeMs) / 1000 })),
    correctionMs,
  }
}
