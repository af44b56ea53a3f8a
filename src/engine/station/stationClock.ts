import { SLOT_MS } from '@/core/time'
import {
  createClockState,
  monotonicAt,
  reduceClock,
  setTimebaseRate,
  startTimebase,
  utcAt,
  type ClockEvent,
  type ClockNote,
  type ClockState,
  type Occupancy,
  type Timebase,
} from '@/core/time'

/** A band or recording that keeps its own time: true time there, and the clock that a station on it has. */
interface Simulation {
  /** True time of the simulated world as a function of the real monotonic clock. */
  world: Timebase
  pace: number
  /** The station's clock in that world; its monotonic clock is the world's true time. */
  clock: ClockState
  wallErrorMs: number
}

export interface SimulationOptions {
  startUtcMs: number
  /** How many times as fast as real time it runs. */
  pace: number
  /** How far off the simulated computer's clock is; 0 gives a perfect clock that says so. */
  clockErrorMs?: number
}

/**
 * The running clock of a station: what is known of time, and the monotonic clock it runs on. For practice and recordings
 * it is set aside for a world of their own, which may run fast and be held while something is being worked out.
 */
export class StationClock {
  private real: ClockState
  private simulation: Simulation | undefined
  private readonly holds = new Set<string>()

  constructor(
    private readonly realMonotonicMs: () => number,
    private readonly wallUtcMs: () => number,
  ) {
    this.real = createClockState(wallUtcMs(), realMonotonicMs(), SLOT_MS)
  }

  /** All that is known of time, in the world that is in use. */
  get state(): ClockState {
    return this.simulation?.clock ?? this.real
  }

  /** What is known of real time, also while a simulation runs. */
  get realState(): ClockState {
    return this.real
  }

  get simulated(): boolean {
    return this.simulation !== undefined
  }

  get timebase(): Timebase {
    return this.state.timebase
  }

  /** The monotonic clock on which `timebase` runs: in a simulation, the true time of its world. */
  monotonicMs(): number {
    return this.simulation ? this.worldUtcMs() : this.realMonotonicMs()
  }

  /** True time of the simulated world; only meaningful in a simulation. */
  worldUtcMs(): number {
    return this.simulation ? utcAt(this.simulation.world, this.realMonotonicMs()) : Number.NaN
  }

  /** UTC now, as the station believes. */
  nowUtcMs(): number {
    return utcAt(this.timebase, this.monotonicMs())
  }

  /** UTC at an instant of the real monotonic clock. */
  utcAtMonotonic(realMonotonicMs: number): number {
    return utcAt(this.timebase, this.simulation ? utcAt(this.simulation.world, realMonotonicMs) : realMonotonicMs)
  }

  /** What the station's clock shows at a true time of the simulated world. */
  utcAtWorld(worldUtcMs: number): number {
    return utcAt(this.timebase, worldUtcMs)
  }

  /** True time of the simulated world when the station's clock shows a time. */
  worldAtUtc(utcMs: number): number {
    return monotonicAt(this.timebase, utcMs)
  }

  /** Real monotonic instant of a UTC time. Only meaningful while the clock runs. */
  monotonicAtUtc(utcMs: number): number {
    const own = monotonicAt(this.timebase, utcMs)
    return this.simulation ? monotonicAt(this.simulation.world, own) : own
  }

  /**
   * Real UTC of what the station's clock dated in a practice world, which may run fast; never later than now. Times while the
   * world was held count as if it had run.
   */
  realUtcAt(utcMs: number): number {
    if (!this.simulation) return utcMs
    const realNowMs = utcAt(this.real.timebase, this.realMonotonicMs())
    return Math.round(realNowMs - Math.max(0, this.nowUtcMs() - utcMs) / this.simulation.pace)
  }

  /** Something happened to the clock in use. */
  send(event: ClockEvent): readonly ClockNote[] {
    if (!this.simulation) return this.sendReal(event)
    const [clock, notes] = reduceClock(this.simulation.clock, event)
    this.simulation.clock = clock
    return notes
  }

  /** Something happened to the real clock, such as a reading of a real source. */
  sendReal(event: ClockEvent): readonly ClockNote[] {
    const [real, notes] = reduceClock(this.real, event)
    this.real = real
    return notes
  }

  /**
   * Looks at all clocks.
   * @param occupancy what the station does in the world in use
   * @param slotOver whether the present slot has been handed to the decoder
   */
  tick(occupancy: Occupancy, slotOver = true): { notes: readonly ClockNote[]; realNotes: readonly ClockNote[] } {
    const { simulation } = this
    const realNotes = this.sendReal({
      type: 'tick',
      monotonicMs: this.realMonotonicMs(),
      wallUtcMs: this.wallUtcMs(),
      occupancy: simulation ? 'free' : occupancy,
      slotOver: simulation !== undefined || slotOver,
    })
    if (!simulation) return { notes: realNotes, realNotes }
    const worldUtcMs = this.worldUtcMs()
    return {
      realNotes,
      notes: this.send({ type: 'tick', monotonicMs: worldUtcMs, wallUtcMs: worldUtcMs + simulation.wallErrorMs, occupancy, slotOver }),
    }
  }

  /** Sets the real clock aside for a world that starts at `startUtcMs`. */
  simulate({ startUtcMs, pace, clockErrorMs = 0 }: SimulationOptions): void {
    const now = this.realMonotonicMs()
    const clock = createClockState(startUtcMs + clockErrorMs, startUtcMs, SLOT_MS)
    const perfect: Timebase = { ...clock.timebase, source: 'practice', uncertaintyMs: 0, driftPpm: 0, wanderPpm: 0 }
    this.holds.clear()
    this.simulation = {
      world: setTimebaseRate(startTimebase(startUtcMs, now), pace, now),
      pace,
      clock: clockErrorMs === 0 ? { ...clock, timebase: perfect } : clock,
      wallErrorMs: clockErrorMs,
    }
  }

  /** Goes back to the real clock, which has run on meanwhile. */
  endSimulation(): void {
    this.simulation = undefined
    this.holds.clear()
  }

  get pace(): number {
    return this.simulation?.pace ?? 1
  }

  /** Stops a fast world until released, so that slow work does not come too late in simulated time. Real time cannot be held. */
  hold(why: string): void {
    if (!this.simulation || this.simulation.pace === 1) return
    this.holds.add(why)
    this.simulation.world = setTimebaseRate(this.simulation.world, 0, this.realMonotonicMs())
  }

  release(why: string): void {
    if (!this.holds.delete(why) || this.holds.size > 0 || !this.simulation) return
    this.simulation.world = setTimebaseRate(this.simulation.world, this.simulation.pace, this.realMonotonicMs())
  }
}
