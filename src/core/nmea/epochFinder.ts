import type { NmeaType } from './sentence'

/** A line of the stream as far as the beginnings of bursts are concerned. */
export interface EpochLine {
  /** What it is: the address of the sentence, or anything that is the same each time. */
  label: string
  type?: NmeaType
  /** Milliseconds since midnight; absent for lines that name no time. */
  timeOfDayMs?: number
  firstByte: number
}

/** A line with which an epoch may begin, and what its name says of that. */
export interface PossibleStart {
  label: string
  firstByte: number
  /** `maybe` names no time; `fix` names the instant and is of the fix; `apart` names it too, but ZDA may run ahead by a fix. */
  says: 'maybe' | 'fix' | 'apart'
}

/** All that a receiver said of one instant: where it stood in the stream. */
export interface Epoch {
  timeOfDayMs: number
  /** Lines from after the last sentence of the epoch before on, up to the first of this one that is of the fix; at least one. */
  starts: readonly PossibleStart[]
  /** First byte after the last sentence that names the instant without another one between. */
  endByte: number
  /** First byte of the next epoch's first sentence that names its time and is of the fix. */
  nextByte: number
}

/** Whose word counts for the instant of a fix: RMC is the fix's own, the others stand in where it is not sent. */
const LEADERS: readonly NmeaType[] = ['RMC', 'GGA', 'GLL', 'ZDA']
/** A leader that has not been heard for this many lines has fallen silent. */
const SILENT_LINES = 80
const MOST_LINES = 400
const DAY_MS = 86_400_000
/** A sentence is called odd after it has named another time in this many epochs in a row. */
const ODD_RUNS = 3
/** Coarser sentences round to whole seconds. */
const ODD_FROM_MS = 1100

/** A kind of sentence whose time is another one than the fix's. */
export interface OddSentence {
  label: string
  /** Its time less that of the fix. */
  byMs: number
}

/** Between minus half a day and plus half a day. */
export const wrapDay = (ms: number): number => ms - Math.round(ms / DAY_MS) * DAY_MS

/**
 * Cuts the stream of lines into epochs by what they say, whatever the pauses: a new time of the leading kind of sentence
 * ends the epoch before, and an epoch begins with the first sentence that names its time. Sentences of other times (late,
 * early, or simply odd) count for nothing.
 */
export class EpochFinder {
  private leader: NmeaType | undefined
  private lines: EpochLine[] = []
  /** Where the lines after the leader's sentences of the last two epochs begin, within `lines`. */
  private afterPrevious = 0
  private current: number | undefined
  private previous: number | undefined
  private lineCount = 0
  private readonly seen = new Map<NmeaType, number>()
  private readonly oddRuns = new Map<string, { byMs: number; runs: number }>()

  /** Sentences that keep naming another time than the fix's own. */
  get odd(): OddSentence[] {
    return [...this.oddRuns].flatMap(([label, { byMs, runs }]) => (runs >= ODD_RUNS ? [{ label, byMs }] : []))
  }

  /** What the leading sentences are. */
  get leading(): NmeaType | undefined {
    return this.leader
  }

  /** Takes a line. @returns the epoch that has ended with it */
  push(line: EpochLine): Epoch | undefined {
    this.lineCount++
    if (line.type !== undefined && line.timeOfDayMs !== undefined) this.seen.set(line.type, this.lineCount)
    const leader = LEADERS.find((type) => this.lineCount - (this.seen.get(type) ?? -Infinity) < SILENT_LINES)
    if (leader !== this.leader) {
      this.leader = leader
      this.previous = this.current = undefined
      this.afterPrevious = 0
      this.oddRuns.clear()
    }
    const leads = line.type === this.leader && line.timeOfDayMs !== undefined && line.timeOfDayMs !== this.current
    const ended = leads ? this.end(line) : undefined
    this.lines.push(line)
    if (leads) {
      this.lines.splice(0, this.afterPrevious)
      this.afterPrevious = this.lines.length
      this.previous = this.current
      this.current = line.timeOfDayMs
    }
    if (this.lines.length > MOST_LINES) {
      const cut = this.lines.length - MOST_LINES
      this.lines.splice(0, cut)
      this.afterPrevious = Math.max(0, this.afterPrevious - cut)
    }
    return ended
  }

  private end(next: EpochLine): Epoch | undefined {
    const { current, previous } = this
    if (current === undefined || previous === undefined) return undefined
    this.noteOdd(next.timeOfDayMs!)
    const isOfFix = ({ type }: Pick<EpochLine, 'type'>) => type !== 'ZDA' || this.leader === 'ZDA'
    const first = this.lines.findIndex((l) => l.timeOfDayMs === current)
    const ofFix = this.lines.findIndex((l) => l.timeOfDayMs === current && isOfFix(l))
    if (first < 0 || ofFix < 0) return undefined
    let from = first
    while (from > 0 && this.lines[from - 1]!.timeOfDayMs === undefined) from--
    const after = this.lines.slice(this.afterPrevious)
    let last = first
    for (let at = first; at < this.lines.length && [undefined, current].includes(this.lines[at]!.timeOfDayMs); at++)
      if (this.lines[at]!.timeOfDayMs === current) last = at
    return {
      timeOfDayMs: current,
      starts: this.lines.slice(from, ofFix + 1).map(({ label, firstByte, timeOfDayMs, type }) => ({
        label,
        firstByte,
        says: timeOfDayMs !== current ? 'maybe' : isOfFix(type ? { type } : {}) ? 'fix' : 'apart',
      })),
      endByte: (this.lines[last + 1] ?? next).firstByte,
      nextByte: (after.find((l) => l.timeOfDayMs === next.timeOfDayMs && isOfFix(l)) ?? next).firstByte,
    }
  }

  /** Compares what stood around the leader's sentence with the times before, of and after it. */
  private noteOdd(nextMs: number): void {
    const near = [this.previous, this.current, nextMs]
    const judged = new Set<string>()
    for (const { label, timeOfDayMs } of this.lines.slice(this.afterPrevious)) {
      if (timeOfDayMs === undefined || judged.has(label)) continue
      judged.add(label)
      const byMs = wrapDay(timeOfDayMs - this.current!)
      if (near.includes(timeOfDayMs) || Math.abs(byMs) < ODD_FROM_MS) this.oddRuns.delete(label)
      else this.oddRuns.set(label, { byMs, runs: (this.oddRuns.get(label)?.runs ?? 0) + 1 })
    }
  }
}
