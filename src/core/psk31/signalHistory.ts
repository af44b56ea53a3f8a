/** How a signal comes and goes. */
export interface Fading {
  /** From its weak times to its strong ones, in dB. */
  depthDb: number
  /** From one strong time to the next, in seconds; only when it came and went often enough to tell. */
  periodS?: number
}

/** Strength is looked at over the last minute and a half. */
const KEPT = 90
/** With less there is nothing to tell. */
const LEAST_KEPT = 12
/** Between these shares of the time a signal is neither weak nor strong. */
const WEAK_SHARE = 0.1
const STRONG_SHARE = 0.9
/** What is read as strength scatters by itself by so much. */
const LEAST_DEPTH_DB = 4
const LEAST_TURNS = 3
/** Its drift is told over so long. */
const DRIFT_S = 30
const LEAST_DRIFT_S = 10

interface Seen {
  atS: number
  db: number
  hz: number
}

/** Strength and frequency of one signal over time, looked at once a second while it is there. */
export class SignalHistory {
  private seen: Seen[] = []

  push(seen: Seen): void {
    this.seen.push(seen)
    if (this.seen.length > KEPT) this.seen.shift()
  }

  get fading(): Fading | undefined {
    if (this.seen.length < LEAST_KEPT) return undefined
    const sorted = this.seen.map(({ db }) => db).sort((a, b) => a - b)
    const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))]!
    const [weak, strong] = [at(WEAK_SHARE), at(STRONG_SHARE)]
    const depthDb = strong - weak
    if (depthDb < LEAST_DEPTH_DB) return { depthDb }
    // It has turned when it has gone through a good part of its range, and not at each little step.
    const middle = (strong + weak) / 2
    let side = 0
    const turns: number[] = []
    for (const { atS, db } of this.seen) {
      const now = db > middle + depthDb / 6 ? 1 : db < middle - depthDb / 6 ? -1 : 0
      if (now === 0 || now === side) continue
      if (side !== 0) turns.push(atS)
      side = now
    }
    if (turns.length < LEAST_TURNS) return { depthDb }
    return { depthDb, periodS: (2 * (turns.at(-1)! - turns[0]!)) / (turns.length - 1) }
  }

  /** How its frequency moves, in Hz a second: the line through what was seen lately. */
  get driftHzS(): number | undefined {
    const nowS = this.seen.at(-1)?.atS ?? 0
    const late = this.seen.filter(({ atS }) => nowS - atS <= DRIFT_S)
    if (late.length < 2 || nowS - late[0]!.atS < LEAST_DRIFT_S) return undefined
    const meanS = late.reduce((sum, one) => sum + one.atS, 0) / late.length
    const meanHz = late.reduce((sum, one) => sum + one.hz, 0) / late.length
    const [both, square] = late.reduce(([a, b], one) => [a + (one.atS - meanS) * (one.hz - meanHz), b + (one.atS - meanS) ** 2], [0, 0])
    return both / square
  }
}
