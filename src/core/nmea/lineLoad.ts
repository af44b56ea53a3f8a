import { byteMsAt, USUAL_BAUDS } from './linePace'
import type { ReadTimes } from './readTimes'

/** How full a line is: `full` leaves bursts waiting for one another, for nobody knows how long. */
export type LineLoad = 'free' | 'notKnownYet' | 'full'

const WINDOW_MS = 10_000
const KNOWN_MS = 8000
/** A line this full has no pause left in which its queue could have run empty. */
const FULL_SHARE = 0.985
const NEARLY_FULL_SHARE = 0.9
/** No line carries more than it can. */
const IMPOSSIBLE_SHARE = 1.15
/** A line with room shows it within this. */
const LEAST_MS = 2500
/** The last moments alone; a second's burst leaves its pause within them. */
const LATEST_MS = 1200
/** As many bytes a second as a usual line carries, within this share, may well come off a full one. */
const LIKE_FULL = 0.03
const REMEMBERED_MS = 30_000
/** So many reads that follow one another evenly, several to a burst, show no pause. */
const EVEN_READS = 40
const FEWEST_PIECES = 3

/** Watches whether a line has pauses left between bursts. */
export class LineLoadWatch {
  private fullUntilMs = -Infinity
  private load: LineLoad = 'free'
  private impossibleSinceMs: number | undefined
  private burstsEndedMs: number[] = []

  constructor(private readonly reads: ReadTimes) {}

  at(monotonicMs: number): LineLoad {
    return monotonicMs < this.fullUntilMs ? 'full' : this.load
  }

  burstEnded(monotonicMs: number): void {
    this.burstsEndedMs = [...this.burstsEndedMs, monotonicMs].slice(-EVEN_READS)
  }

  /** What comes all at once leaves room always. */
  isNoLine(): void {
    this.fullUntilMs = -Infinity
    this.load = 'free'
  }

  /** Looks at a line whose speed is known. @returns true when more comes than it could carry, so that it is none */
  watchLine(nowMs: number, byteMs: number): boolean {
    const { spanMs, share } = this.reads.busy(WINDOW_MS, byteMs)
    if (spanMs < KNOWN_MS) {
      this.load = spanMs > LEAST_MS && share < NEARLY_FULL_SHARE ? 'free' : 'notKnownYet'
      return false
    }
    // After a silence the whole window says little of the last moments.
    const filledUp = share < NEARLY_FULL_SHARE && this.reads.busy(LATEST_MS, byteMs).share > FULL_SHARE
    this.load = filledUp ? 'notKnownYet' : 'free'
    if (share > FULL_SHARE) this.fullUntilMs = nowMs + REMEMBERED_MS
    if (share <= IMPOSSIBLE_SHARE) this.impossibleSinceMs = undefined
    else return nowMs - (this.impossibleSinceMs ??= nowMs) > WINDOW_MS
    return false
  }

  /** Looks at a network, behind which there may be a line of any speed. */
  watchNetwork(): void {
    this.load = this.neverPauses() || this.likeFullLine() ? 'notKnownYet' : 'free'
  }

  /** Bursts in several pieces that follow one another evenly leave the line no pause. */
  private neverPauses(): boolean {
    const last = this.reads.newest(EVEN_READS)
    const bursts = this.burstsEndedMs.filter((atMs) => atMs > (last[0]?.monotonicMs ?? 0)).length
    if (last.length < EVEN_READS || bursts === 0 || last.length < FEWEST_PIECES * bursts) return false
    const gaps = last.slice(1).map((read, i) => read.monotonicMs - last[i]!.monotonicMs)
    const meanMs = gaps.reduce((sum, gap) => sum + gap, 0) / gaps.length
    // A pause of each burst is looked for; single ones are stalls of this computer.
    return gaps.filter((gap) => gap >= 3 * meanMs).length < bursts / 2
  }

  private likeFullLine(): boolean {
    return USUAL_BAUDS.some((baud) => {
      const { spanMs, share } = this.reads.busy(WINDOW_MS, byteMsAt(baud))
      return spanMs >= KNOWN_MS && Math.abs(share - 1) < LIKE_FULL
    })
  }
}
