import { correctTimebase, monotonicAt, setTimebaseRate, startTimebase, utcAt, type Timebase, type TimebaseSource } from '@/core/time'

/**
 * The running clock of a station: a timebase and the monotonic clock it runs on. For practice and recordings it is set
 * aside for a clock of their own, which may run fast and be held while something is being worked out.
 */
export class StationClock {
  private real: Timebase
  private simulated: { timebase: Timebase; pace: number } | undefined
  private readonly holds = new Set<string>()

  constructor(
    private readonly monotonicMs: () => number,
    wallUtcMs: number,
  ) {
    this.real = startTimebase(wallUtcMs, monotonicMs())
  }

  get timebase(): Timebase {
    return this.simulated?.timebase ?? this.real
  }

  /** UTC now. */
  nowUtcMs(): number {
    return utcAt(this.timebase, this.monotonicMs())
  }

  /** UTC at a monotonic instant. */
  utcAtMonotonic(monotonicMs: number): number {
    return utcAt(this.timebase, monotonicMs)
  }

  /** Monotonic instant of a UTC time. Only meaningful while the clock runs. */
  monotonicAtUtc(utcMs: number): number {
    return monotonicAt(this.timebase, utcMs)
  }

  /** Moves the real clock. */
  correct(byMs: number, source: TimebaseSource, uncertaintyMs: number | undefined): void {
    this.real = correctTimebase(this.real, { byMs, source, uncertaintyMs }, this.monotonicMs())
  }

  /** Sets the real clock aside for one that starts at `startUtcMs` and runs `pace` times as fast. */
  simulate(startUtcMs: number, pace: number): void {
    const now = this.monotonicMs()
    const start = { ...startTimebase(startUtcMs, now), source: 'practice' as const, uncertaintyMs: 0 }
    this.holds.clear()
    this.simulated = { timebase: setTimebaseRate(start, pace, now), pace }
  }

  /** Goes back to the real clock, which has run on meanwhile. */
  endSimulation(): void {
    this.simulated = undefined
    this.holds.clear()
  }

  get pace(): number {
    return this.simulated?.pace ?? 1
  }

  /** Stops a fast clock until released, so that slow work does not come too late in simulated time. Real time cannot be held. */
  hold(why: string): void {
    if (!this.simulated || this.simulated.pace === 1) return
    this.holds.add(why)
    this.simulated.timebase = setTimebaseRate(this.simulated.timebase, 0, this.monotonicMs())
  }

  release(why: string): void {
    if (!this.holds.delete(why) || this.holds.size > 0 || !this.simulated) return
    this.simulated.timebase = setTimebaseRate(this.simulated.timebase, this.simulated.pace, this.monotonicMs())
  }
}
