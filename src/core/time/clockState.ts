import { CLOCK_KIND_WORDS, EARLIEST_UTC_MS, LATEST_UTC_MS, type ClockReading } from './clockReading'
import {
  estimateSource,
  findConsensus,
  standingOf,
  wholeSecondsApart,
  type Consensus,
  type SourceChoices,
  type SourceEstimate,
  type Standing,
} from './consensus'
import { estimateDrift, UNKNOWN_DRIFT, type Drift } from './driftEstimate'
import { UNKNOWN_DRIFT_PPM } from './holdover'
import { steer, type Occupancy } from './steering'
import { setTimebaseRate, startTimebase, uncertaintyAt, utcAt, type Timebase } from './timebase'
import { formatClockError } from './clockError'
import { compareWall, type WallSample } from './wallWatch'

/** All that is known of time: the timebase, what the sources said, what the operator decided. Plain data. */
export interface ClockState {
  timebase: Timebase
  readings: Readonly<Record<string, readonly ClockReading[]>>
  choices: SourceChoices
  drift: Drift
  driftPrior: Drift
  consensus: Consensus | undefined
  /** A correction that waits for the end of the slot. */
  waitingMs: number
  /** Since when it waits, on the monotonic clock. */
  waitingSinceMs?: number
  wall: WallSample
  slotMs: number
}

export type ClockEvent =
  | { type: 'reading'; reading: ClockReading }
  | { type: 'tick'; monotonicMs: number; wallUtcMs: number; occupancy: Occupancy; slotOver?: boolean }
  /** The operator follows a source: one that waits to be told, or one of those that contradict. */
  | { type: 'follow'; source: string }
  | { type: 'leaveOut'; source: string; leftOut: boolean }
  /** The operator moves the clock by hand. */
  | { type: 'byHand'; byMs: number; monotonicMs: number }
  | { type: 'forget'; source: string }
  | { type: 'driftLearned'; drift: Drift }

/** What is worth telling, or keeping. */
export type ClockNote =
  | { kind: 'stepped'; byMs: number; source: Timebase['source'] }
  | { kind: 'wallStepped'; byMs: number }
  | { kind: 'sleptOrStepped'; byMs: number }
  | { kind: 'paused'; forMs: number }
  | { kind: 'contradiction'; words: string }
  | { kind: 'refused'; words: string }

const KEPT_READINGS = 120
/** Readings older than this say nothing about the clock and little about its drift. */
const KEPT_MS = 6 * 3_600_000
const HAND_ERROR_MS = 500
/** A computer's clock may be minutes off; hours and days are as likely an error of the one source that says so. */
const LARGEST_ON_ONE_WORD_MS = 15 * 60_000

/** Starts with the computer's clock, of unknown error. */
export function createClockState(wallUtcMs: number, monotonicMs: number, slotMs: number): ClockState {
  return {
    timebase: startTimebase(wallUtcMs, monotonicMs),
    readings: {},
    choices: { leftOut: [], followed: [] },
    drift: UNKNOWN_DRIFT,
    driftPrior: UNKNOWN_DRIFT,
    consensus: undefined,
    waitingMs: 0,
    wall: { monotonicMs, wallUtcMs },
    slotMs,
  }
}

/** The clock as a pure machine: what happens to it, and what is worth telling. */
export function reduceClock(state: ClockState, event: ClockEvent): [ClockState, readonly ClockNote[]] {
  switch (event.type) {
    case 'reading':
      return takeReading(state, event.reading)
    case 'tick':
      return tick(state, event)
    case 'follow': {
      const { choices } = state
      const followed = choices.followed.includes(event.source) ? choices.followed : [...choices.followed, event.source]
      const leftOut = choices.leftOut.filter((s) => s !== event.source)
      // Only a source that the others contradict must be preferred to them; one that agrees joins them.
      const decided: ClockState = { ...state, choices: { followed, leftOut, preferred: undefined } }
      return [contradicted(decided, event.source) ? { ...decided, choices: { ...decided.choices, preferred: event.source } } : decided, []]
    }
    case 'leaveOut': {
      const others = state.choices.leftOut.filter((s) => s !== event.source)
      const { preferred } = state.choices
      return [
        {
          ...state,
          choices: {
            ...state.choices,
            preferred: event.leftOut && preferred === event.source ? undefined : preferred,
            leftOut: event.leftOut ? [...others, event.source] : others,
          },
        },
        [],
      ]
    }
    case 'byHand': {
      if (!Number.isFinite(event.byMs)) throw new RangeError(`byMs must be a finite number of milliseconds, got ${event.byMs}`)
      const reading: ClockReading = {
        source: 'hand',
        kind: 'hand',
        label: 'Set by hand',
        monotonicMs: event.monotonicMs,
        // A correction that still waits for the end of the slot is part of what the operator sees as coming.
        utcMs: utcAt(state.timebase, event.monotonicMs) + state.waitingMs + event.byMs,
        randomMs: 0,
        biasMs: HAND_ERROR_MS,
        windowMs: 0,
      }
      const next = {
        ...state,
        choices: { ...state.choices, preferred: 'hand', leftOut: state.choices.leftOut.filter((s) => s !== 'hand') },
      }
      return takeReading({ ...next, readings: { ...next.readings, hand: [] } }, reading)
    }
    case 'forget': {
      const readings = Object.fromEntries(Object.entries(state.readings).filter(([source]) => source !== event.source))
      const { preferred } = state.choices
      return [{ ...state, readings, choices: { ...state.choices, preferred: preferred === event.source ? undefined : preferred } }, []]
    }
    case 'driftLearned':
      return [{ ...state, driftPrior: event.drift, drift: estimateDrift(Object.values(state.readings), event.drift) }, []]
  }
}

/** Whether a source would not be used without being preferred. */
function contradicted(state: ClockState, source: string): boolean {
  const { monotonicMs } = state.wall
  const estimates = estimateAll(state, monotonicMs)
  const own = estimates.find((e) => e.source === source)
  const found = findConsensus(estimates, state.choices, state.consensus?.members ?? [])
  if (!own || !found) return true
  const consensus = heldAgainst(found, estimates, state, monotonicMs)
  return consensus.undecided || standingOf(own, consensus, state.choices) !== 'used'
}

function takeReading(state: ClockState, reading: ClockReading): [ClockState, readonly ClockNote[]] {
  if (!(reading.utcMs >= EARLIEST_UTC_MS && reading.utcMs <= LATEST_UTC_MS))
    return [
      state,
      [
        {
          kind: 'refused',
          words: `${CLOCK_KIND_WORDS[reading.kind]} names the year ${yearOf(reading.utcMs)}, which cannot be: not taken. Check ${reading.label}.`,
        },
      ],
    ]
  const own = (state.readings[reading.source] ?? []).filter((r) => reading.monotonicMs - r.monotonicMs < KEPT_MS)
  const last = own[own.length - 1]
  // A source that jumps against itself was set, woke up or learned the leap seconds: what it said before is void.
  const jumped =
    last !== undefined &&
    (!refines([last, reading]) ||
      Math.abs(reading.utcMs - reading.monotonicMs - (last.utcMs - last.monotonicMs)) >
        2 * (reading.randomMs + last.randomMs) + 100 + (reading.monotonicMs - last.monotonicMs) * 100e-6)
  // A new manner of doubt starts a new row, so that doubtful and trusted readings are not mixed.
  const kept = jumped || (last && (last.doubt === undefined) !== (reading.doubt === undefined)) ? [] : own
  const readings = { ...state.readings, [reading.source]: [...kept, reading].slice(-KEPT_READINGS) }
  return [{ ...state, readings, drift: estimateDrift(Object.values(readings), state.driftPrior) }, []]
}

function yearOf(utcMs: number): number | string {
  return Math.abs(utcMs) > 8e15 ? '?' : new Date(utcMs).getUTCFullYear()
}

function tick(state: ClockState, event: Extract<ClockEvent, { type: 'tick' }>): [ClockState, readonly ClockNote[]] {
  const { monotonicMs, wallUtcMs, occupancy, slotOver } = event
  const notes: ClockNote[] = []
  const wall = { monotonicMs, wallUtcMs }
  const happened = compareWall(state.wall, wall)
  let next: ClockState = { ...state, wall }
  if (happened) notes.push(happened)
  if (happened?.kind === 'sleptOrStepped') next = afterSleep(next, happened.byMs, monotonicMs)

  const estimates = estimateAll(next, monotonicMs)
  const found = findConsensus(estimates, next.choices, next.consensus?.members ?? [])
  const consensus = found && heldAgainst(found, estimates, next, monotonicMs)
  if (consensus?.undecided && !state.consensus?.undecided)
    notes.push({ kind: 'contradiction', words: contradictionWords(estimates, consensus) })
  next = { ...next, consensus }
  const { waitingSinceMs, ...settled } = next
  if (!consensus || consensus.members.length === 0) return [{ ...settled, waitingMs: 0 }, notes]

  const steered = steer(
    next.timebase,
    {
      offsetMs: consensus.offsetMs,
      uncertaintyMs: consensus.uncertaintyMs,
      source: consensus.kind,
      driftPpm: next.drift.ppm,
      driftUncertaintyPpm: next.drift.uncertaintyPpm,
      wanderPpm: next.drift.wanderPpm,
      driftAgeMs: consensus.driftAgeMs,
    },
    {
      ...{ monotonicMs, occupancy, slotMs: state.slotMs, waitedMs: waitingSinceMs === undefined ? 0 : monotonicMs - waitingSinceMs },
      ...(slotOver !== undefined && { slotOver }),
    },
  )
  if (steered.steppedMs !== 0) notes.push({ kind: 'stepped', byMs: steered.steppedMs, source: consensus.kind })
  return [
    {
      ...{ ...settled, timebase: steered.timebase, waitingMs: steered.waitingMs },
      ...(steered.waitingMs !== 0 && { waitingSinceMs: waitingSinceMs ?? monotonicMs }),
    },
    notes,
  ]
}

/**
 * A timebase that is sure of itself is a voice too: a single source that suddenly contradicts it (a server that lies by a
 * day, a receiver that learned its leap seconds) is not obeyed until the operator says so or a second one agrees.
 */
function heldAgainst(consensus: Consensus, estimates: readonly SourceEstimate[], state: ClockState, monotonicMs: number): Consensus {
  const { timebase, choices } = state
  const sole = estimates.find((e) => e.source === consensus.members[0])
  // A source that refines what the timebase has from it does not contradict; one that jumped has begun anew.
  if (sole && state.consensus?.members.includes(sole.source) && refines(state.readings[sole.source]!)) return consensus
  const nowUtcMs = utcAt(timebase, monotonicMs)
  const own = uncertaintyAt(timebase, nowUtcMs)
  if (consensus.members.length !== 1 || consensus.members[0] === choices.preferred) return consensus
  const byMs = monotonicMs + consensus.offsetMs - nowUtcMs
  const apartMs = Math.abs(byMs)
  if (own === undefined) {
    // The computer's clock is no witness when it names a time that cannot be, as boards without a clock chip do.
    const possible = nowUtcMs >= EARLIEST_UTC_MS && nowUtcMs <= LATEST_UTC_MS
    if (!possible || apartMs <= LARGEST_ON_ONE_WORD_MS) return consensus
    return { ...consensus, members: [], undecided: true, unwitnessed: { label: sole?.label ?? 'A source', byMs } }
  }
  // A correction that waits for the end of its slot was agreed to already.
  if (apartMs <= own + consensus.uncertaintyMs || state.waitingMs !== 0) return consensus
  return { ...consensus, members: [], undecided: true }
}

/** Whether a source's last two readings could both be right. */
function refines(readings: readonly ClockReading[]): boolean {
  const [before, last] = [readings.at(-2), readings.at(-1)]
  if (!before || !last) return false
  const apartMs = last.utcMs - last.monotonicMs - (before.utcMs - before.monotonicMs)
  const statedMs = Math.hypot(last.randomMs, last.biasMs) + Math.hypot(before.randomMs, before.biasMs)
  return Math.abs(apartMs) <= statedMs + (last.monotonicMs - before.monotonicMs) * UNKNOWN_DRIFT_PPM * 1e-6
}

/**
 * After a sleep the monotonic clock of most tablets has stood still: what was read before it is void, and the timebase
 * follows the computer's clock for the length of it, with an uncertainty that says that it may also have been a step.
 */
function afterSleep(state: ClockState, byMs: number, monotonicMs: number): ClockState {
  const nowUtcMs = utcAt(state.timebase, monotonicMs)
  const before = uncertaintyAt(state.timebase, nowUtcMs)
  const moved = setTimebaseRate(state.timebase, state.timebase.rate, monotonicMs)
  return {
    ...state,
    readings: {},
    consensus: undefined,
    choices: { ...state.choices, preferred: undefined },
    timebase: {
      ...moved,
      anchorUtcMs: nowUtcMs + byMs,
      correctionMs: state.timebase.correctionMs + byMs,
      setUtcMs: nowUtcMs + byMs,
      uncertaintyMs: before === undefined ? undefined : before + byMs,
    },
  }
}

/** Each source carried on to an instant. */
function estimateAll(state: ClockState, monotonicMs: number): SourceEstimate[] {
  return Object.values(state.readings)
    .map((readings) => estimateSource(readings, state.drift, monotonicMs))
    .filter((e) => e !== undefined)
}

function contradictionWords(estimates: readonly SourceEstimate[], consensus: Consensus): string {
  if (consensus.unwitnessed) return `${unwitnessedWords(consensus.unwitnessed)} Not followed until then.`
  const inside = estimates.find((e) => consensus.members.includes(e.source))
  if (!inside) {
    const alone = estimates.find((e) => e.kind === consensus.kind)
    return `${alone?.label ?? 'A source'}: suddenly another time than before. Zeptik keeps its own; choose on the Clock screen.`
  }
  const outside = estimates.find(
    (e) => !consensus.members.includes(e.source) && Math.abs(e.offsetMs - inside.offsetMs) > e.uncertaintyMs + inside.uncertaintyMs,
  )
  if (!outside) return 'Two sources of time contradict each other. Choose one on the Clock screen.'
  const apartS = Math.abs(outside.offsetMs - inside.offsetMs) / 1000
  const apart =
    apartS < 120 ? `${apartS.toFixed(2)} s` : apartS < 7200 ? `${(apartS / 60).toFixed(0)} min` : `${(apartS / 3600).toFixed(0)} h`
  return (
    wholeSecondsApart(inside, outside) ??
    `${inside.label} and ${outside.label} are ${apart} apart. Zeptik keeps to ${inside.label}; choose on the Clock screen.`
  )
}

/** @example unwitnessedWords({ label: 'Time server a', byMs: 86_400_000 }) */
export function unwitnessedWords({ label, byMs }: NonNullable<Consensus['unwitnessed']>): string {
  return `${label} alone says that this clock is ${formatClockError(-byMs)}: follow it if you know that it is right, or let a second source agree.`
}

/** A source as a screen shows it. */
export interface SourceView extends SourceEstimate {
  standing: Standing
  /** What the source says the timebase's error is; positive when the timebase is fast. */
  clockErrorMs: number
}

/** All sources with how they stand to the timebase, the most exact first. */
export function viewSources(state: ClockState, monotonicMs: number): SourceView[] {
  const nowUtcMs = utcAt(state.timebase, monotonicMs)
  return estimateAll(state, monotonicMs)
    .map((e) => ({
      ...e,
      standing: standingOf(e, state.consensus, state.choices),
      clockErrorMs: nowUtcMs - (monotonicMs + e.offsetMs),
    }))
    .sort((a, b) => a.uncertaintyMs - b.uncertaintyMs || a.source.localeCompare(b.source))
}
