import { lowerEnvelope, type DelayPoint } from '../time/lowerEnvelope'
import { median } from '../time/weightedMedian'

/** A byte on a serial line: a start bit, eight data bits, a stop bit. */
export const BITS_PER_BYTE = 10
const WINDOW_MS = 300_000
const MOST_POINTS = 900
/** A line this long idle has ended its burst. */
const IDLE_MS = 90
/** From this span on the points themselves tell how the computer's clock drifts against the satellites'. */
const SLOPE_FROM_MS = 150_000
/** A burst that moves by more against the ones before is another time, not jitter. */
const JUMP_MS = 700
const FEWEST_BURSTS = 3
/** Few bursts cannot show how large the jitter is. */
const UNSEEN_JITTER_MS = 120

export interface BurstEstimate {
  /** UTC minus the monotonic clock at `monotonicMs`, as if the receiver itself had no delay. */
  offsetMs: number
  monotonicMs: number
  /** 95 % half-width of what jitter leaves. */
  randomMs: number
  windowMs: number
  /** Typical delay above the least one. */
  jitterMs: number
  bursts: number
}

/** What a burst said when it jumped against those before. */
export interface BurstJump {
  byMs: number
  wholeSeconds: boolean
}

/**
 * Finds when a receiver's bursts began from when their bytes arrived. A receiver sends one burst for each fix; its
 * first byte leaves a fixed time after the instant the burst names. Bytes take ten bits each at the serial speed, reads
 * are late by a scattering delay but never early, and the least delay of the last five minutes is the truth.
 */
export class BurstTimer {
  private points: DelayPoint[] = []
  private firstByte = 0
  private startMs = Infinity
  private burstBytes = 0
  private firstArrivalMs = 0
  private firstChunkBytes = 0
  private lastArrivalMs = -Infinity
  private fast = 0
  private originUtcMs = 0

  /** @param serialBaud speed of the line; undefined where bytes do not come one by one (a network) */
  constructor(private readonly serialBaud: number | undefined) {}

  /** True when bytes come faster than the line could carry them: a receiver on USB, for which no time is taken off. */
  get unpaced(): boolean {
    return this.fast >= 2
  }

  private get byteMs(): number {
    return this.serialBaud === undefined || this.unpaced ? 0 : (BITS_PER_BYTE * 1000) / this.serialBaud
  }

  /** Takes note of a read. @param endByte number of the byte after the last one read */
  arrived(count: number, endByte: number, monotonicMs: number): void {
    const beganMs = monotonicMs - count * this.byteMs
    if (beganMs - this.lastArrivalMs > IDLE_MS) this.begin(endByte - count, monotonicMs, count)
    this.startMs = Math.min(this.startMs, monotonicMs - (endByte - this.firstByte) * this.byteMs)
    this.burstBytes = endByte - this.firstByte
    this.lastArrivalMs = monotonicMs
  }

  /** A sentence of another time has come without a pause before it. */
  split(firstByte: number, monotonicMs: number, endByte: number): void {
    this.begin(firstByte, monotonicMs, endByte - firstByte)
    this.startMs = monotonicMs - (endByte - firstByte) * this.byteMs
  }

  private begin(firstByte: number, monotonicMs: number, count: number): void {
    this.judgePace()
    this.firstByte = firstByte
    this.startMs = Infinity
    this.firstArrivalMs = monotonicMs
    this.firstChunkBytes = count
    this.burstBytes = 0
  }

  private judgePace(): void {
    if (this.serialBaud === undefined) return
    const after = this.burstBytes - this.firstChunkBytes
    if (after < 60) return
    const neededMs = (after * BITS_PER_BYTE * 1000) / this.serialBaud
    const tookMs = this.lastArrivalMs - this.firstArrivalMs
    // Jitter may squeeze a burst a little, not to a third.
    if (tookMs < neededMs / 3 && neededMs - tookMs > 60) this.fast = Math.min(4, this.fast + 1)
    else this.fast = Math.max(0, this.fast - 1)
    if (this.fast === 2) this.points = []
  }

  /** The burst now arriving belongs to this UTC. Called once for each burst. @returns how it jumped, when it did */
  burstIs(utcMs: number): BurstJump | undefined {
    if (!Number.isFinite(this.startMs)) return undefined
    if (this.points.length === 0) this.originUtcMs = utcMs - this.startMs
    const y = this.startMs - utcMs + this.originUtcMs
    const last = this.points[this.points.length - 1]
    let jump: BurstJump | undefined
    if (last && Math.abs(y - last.y) > JUMP_MS) {
      const byMs = last.y - y
      jump = { byMs, wholeSeconds: Math.abs(byMs - 1000 * Math.round(byMs / 1000)) < 300 && Math.abs(byMs) < 20_500 }
      this.points = []
      return (this.burstIs(utcMs), jump)
    }
    this.points.push({ x: this.startMs, y })
    while (this.points[0]!.x < this.startMs - WINDOW_MS || this.points.length > MOST_POINTS) this.points.shift()
    return undefined
  }

  /** What the last minutes say; undefined with fewer than three bursts. @param driftPpm drift of the computer's clock as known */
  estimate(driftPpm: number): BurstEstimate | undefined {
    const { points } = this
    if (points.length < FEWEST_BURSTS) return undefined
    const last = points[points.length - 1]!
    const windowMs = last.x - points[0]!.x
    const line = lowerEnvelope(points, last.x, -driftPpm * 1e-6, SLOPE_FROM_MS)
    const jitterMs = median(points.map((p) => p.y - (line.y - line.slope * (last.x - p.x))))
    // Of delays with this mean the least is late by a share of it: corrected, and allowed for.
    const lateMs = jitterMs / (points.length + 1)
    return {
      offsetMs: this.originUtcMs - line.y + lateMs,
      monotonicMs: last.x,
      // Nineteen times in twenty the least of n even delays lies in the lowest 1 - 0.05^(1/n) of their range.
      randomMs: Math.max(2, (2.5 * jitterMs + UNSEEN_JITTER_MS / points.length) * (1 - 0.05 ** (1 / points.length))),
      windowMs,
      jitterMs,
      bursts: points.length,
    }
  }
}
