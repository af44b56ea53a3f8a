// Where in time a receiver's bursts begin: reads, the line's pace and what is left of jitter belong to one estimate.
import { median } from '../time/weightedMedian'
import { edgeOf, type Edge } from './delayEdge'
import type { PossibleStart } from './epochFinder'
import { LineLoadWatch, type LineLoad } from './lineLoad'
import { byteMsAt, judgePace, SLOWEST_BYTE_MS, type BurstRead, type Pace } from './linePace'
import { ReadTimes } from './readTimes'

const WINDOW_MS = 300_000
const MOST_POINTS = 900
/** A burst that moves by more against the ones before is another time, not jitter. */
const JUMP_MS = 700
/** So many bursts, over so long and so near to one another, make a jump of the receiver; fewer are a stall of ours. */
const JUMP_BURSTS = 3
const JUMP_SPAN_MS = 1800
const JUMP_SPREAD_MS = 250
/** When bursts have come at times of all kinds for so long, nothing that was known holds. */
const LOST_SPAN_MS = 15_000
const FEWEST_BURSTS = 3
/** Reads and bursts that are looked back at for the pace. */
const PACE_BURSTS = 40
const READS_OF_A_BURST = 40
const JUDGE_PACE_EVERY = 5
/** Judgements against what was believed of the pace, in a row, that overturn it. */
const CONTRARY_SURE = 3
/** Bursts of the last seconds whose least delays differ by this between the first and the second half are creeping. */
const RECENT_MS = 20_000
const CREEP_MS = 120
/** Of so many bursts this share may be missing, beyond those that were spoilt on the way. */
const RECENT_BURSTS = 30
const MISSING_SHARE = 0.1
/** Pauses before the lines of a burst: which of them begins it is learned from bursts like it. */
const PAUSE_CLEAR_MS = 8
const PAUSE_MEMORY = 0.25
/** A line that was silent for so long had room for what came next. */
const SILENCE_MS = 2000

/** What a receiver said of one instant, with where it stood in the stream. */
export interface Burst {
  utcMs: number
  /** Lines with which it may begin, in their order. */
  starts: readonly PossibleStart[]
  /** First byte after its last sentence that names the instant. */
  endByte: number
  /** First byte of the next burst that is surely its. */
  nextByte: number
  /** Whether the receiver was to be trusted when it said so. Bursts that were not never bear witness for ones that are. */
  sure: boolean
  /** Whether lines were spoilt since the burst before, which explains one that is missing. */
  spoilt: boolean
}

export interface BurstEstimate {
  /** UTC minus the monotonic clock at `monotonicMs`, as if the receiver itself had no delay. */
  offsetMs: number
  monotonicMs: number
  /** 95 % half-width of what jitter leaves. */
  randomMs: number
  /** Half-width of what is not known of the line: where bursts begin, and how bytes follow one another. */
  lineMs: number
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

interface Point {
  utcMs: number
  /** When the burst began if bytes come at the speed of the line, and if they come all at once. */
  lineStartMs: number
  freeStartMs: number
  /** Bytes in front of it of which nobody knows whether they are its own. */
  openBytes: number
  bytes: number
  sure: boolean
  /** Whether the line is known to have had room for it. */
  unhindered: boolean
}

/**
 * Finds when a receiver's bursts began from when their bytes arrived. A receiver sends one burst for each fix; its first
 * byte leaves a fixed time after the instant the burst names, or when the burst before is through. Bytes take ten bits each
 * at the serial speed, reads are late by a scattering delay but never early, and the least delay of the last five minutes
 * is the truth.
 */
export class BurstTimer {
  private readonly reads = new ReadTimes()
  private readonly load = new LineLoadWatch(this.reads)
  private points: Point[] = []
  private strays: Point[] = []
  private bursts: BurstRead[][] = []
  private burstCount = 0
  private pace: Pace
  private readonly toldByteMs: number | undefined
  private readonly pauses = new Map<string, number>()
  private silenceEndedMs = -Infinity
  private lostAtMs: number | undefined
  private lastUtcMs: number | undefined
  private steps: number[] = []
  private missing: boolean[] = []
  private believed: Pace['kind'] | undefined
  private contrary = 0

  /** @param serialBaud speed of the line; undefined where bytes do not come one by one (a network) */
  constructor(serialBaud: number | undefined) {
    this.toldByteMs = serialBaud === undefined ? undefined : byteMsAt(serialBaud)
    this.pace = { kind: 'unknown', byteMs: this.toldByteMs ?? SLOWEST_BYTE_MS }
  }

  /** True when bytes come faster than the line could carry them: a receiver on USB, for which no time is taken off. */
  get unpaced(): boolean {
    return this.toldByteMs !== undefined && this.pace.kind === 'free'
  }

  /** Whether the line has pauses left. */
  lineLoad(monotonicMs: number): LineLoad {
    return this.load.at(monotonicMs)
  }

  /**
   * True while bursts come at other times than those before and nobody knows yet what it is, while they come later and
   * later (a queue that fills) or earlier and earlier (one that empties), and while some are missing without a trace.
   */
  get unsettled(): boolean {
    return this.strays.length > 0 || this.lost() || this.creeps() || this.missing.filter(Boolean).length > MISSING_SHARE * RECENT_BURSTS
  }

  /** After bursts at times of all kinds, those that follow must come steadily for a while. */
  private lost(): boolean {
    const last = this.points.at(-1)
    return this.lostAtMs !== undefined && (last === undefined || this.startOf(last) - this.lostAtMs < RECENT_MS)
  }

  private creeps(): boolean {
    const recent = this.recent()
    if (recent.length < FEWEST_BURSTS) return false
    const middleMs = (this.startOf(recent[0]!) + this.startOf(recent.at(-1)!)) / 2
    const least = (half: readonly Point[]) => Math.min(...half.map((p) => this.delayOf(p)))
    const [earlier, later] = [recent.filter((p) => this.startOf(p) <= middleMs), recent.filter((p) => this.startOf(p) > middleMs)]
    return later.length > 0 && Math.abs(least(later) - least(earlier)) > CREEP_MS
  }

  private recent(): Point[] {
    const last = this.points.at(-1)
    return last ? this.points.filter((p) => this.startOf(last) - this.startOf(p) <= RECENT_MS) : []
  }

  /** Takes note of a read. @param endByte number of the byte after the last one read */
  arrived(endByte: number, monotonicMs: number): void {
    if (monotonicMs - (this.reads.last?.monotonicMs ?? monotonicMs) > SILENCE_MS) this.silenceEndedMs = monotonicMs
    this.reads.push({ endByte, monotonicMs })
    this.watchLoad(monotonicMs)
    // What came since the last silence over a line that proves to have pauses was not kept waiting.
    if (this.lineLoad(monotonicMs) === 'free')
      for (
        let i = this.points.length - 1;
        i >= 0 && !this.points[i]!.unhindered && this.startOf(this.points[i]!) >= this.silenceEndedMs;
        i--
      )
        this.points[i]!.unhindered = true
  }

  private watchLoad(nowMs: number): void {
    const byteMs = this.pace.kind === 'line' ? this.pace.byteMs : this.toldByteMs
    if (this.pace.kind === 'free') this.load.isNoLine()
    else if (byteMs === undefined) this.load.watchNetwork()
    else if (this.load.watchLine(nowMs, byteMs)) {
      // Behind a network it is a faster line than was thought.
      const faster: Pace = this.toldByteMs === undefined ? { kind: 'unknown', byteMs: SLOWEST_BYTE_MS } : { kind: 'free', byteMs: 0 }
      this.believed = this.toldByteMs === undefined ? undefined : 'free'
      this.setPace(faster)
    }
  }

  private setPace(pace: Pace): void {
    if (pace.kind === 'free') this.load.isNoLine()
    // Where the speed is not told, what was reckoned with another one is void.
    if (this.toldByteMs === undefined && pace.kind === 'line' && pace.byteMs !== this.pace.byteMs) this.points = []
    this.pace = pace
  }

  /** How long the line seems to have been idle before a byte. */
  private pauseBefore(byte: number, beforeByte: number): number {
    const before = this.reads.holding(byte - 1)
    const { kind, byteMs } = this.pace
    const left = this.reads.leftBy(byte, beforeByte, kind === 'line' ? byteMs : 0)
    return before && Number.isFinite(left) ? Math.max(0, left - before.monotonicMs) : 0
  }

  /** Takes a burst that is known whole. @returns how it jumped against those before, when it did */
  burst({ utcMs, starts, endByte, nextByte, sure, spoilt }: Burst): BurstJump | undefined {
    this.noteMissing(utcMs, spoilt)
    // What was seen while the receiver named other times says nothing of how bytes follow one another.
    if (sure !== this.points.at(-1)?.sure) this.bursts = []
    const { byte, openBytes } = this.findStart(starts, nextByte)
    const point: Point = {
      utcMs,
      lineStartMs: this.reads.leftBy(byte, nextByte, this.toldByteMs ?? this.pace.byteMs),
      freeStartMs: this.reads.leftBy(byte, nextByte, 0),
      openBytes,
      bytes: endByte - byte,
      sure,
      unhindered: this.lineLoad(this.reads.last!.monotonicMs) === 'free',
    }
    // A burst that was read in one piece with what came after it waited for us: it dates nothing.
    if (!Number.isFinite(point.lineStartMs)) return undefined
    const last = this.points.at(-1)
    const waited = last !== undefined && this.waitedWith(last, point)
    const jump = this.place(point)
    // How bytes follow one another is learned from bursts that came when they should.
    if (waited) this.bursts.pop()
    else if (!this.unsettled) this.notePace(byte, endByte, nextByte, utcMs)
    return jump
  }

  private noteMissing(utcMs: number, spoilt: boolean): void {
    this.load.burstEnded(this.reads.last!.monotonicMs)
    const stepMs = utcMs - (this.lastUtcMs ?? utcMs)
    this.lastUtcMs = utcMs
    if (stepMs <= 0) return
    this.steps = [...this.steps, stepMs].slice(-RECENT_BURSTS)
    this.missing = [...this.missing, stepMs > 1.5 * Math.min(...this.steps) && !spoilt].slice(-RECENT_BURSTS)
  }

  /**
   * A burst begins with the first sentence that names its instant, or with a line before it that follows the line's pause.
   * Which lines follow pauses is learned over many bursts, since single reads scatter. A ZDA before the pause ran ahead.
   */
  private findStart(starts: readonly PossibleStart[], nextByte: number): { byte: number; openBytes: number } {
    if (starts.length === 1) return { byte: starts[0]!.firstByte, openBytes: 0 }
    const pauseMs = starts.map(({ label, firstByte }) => {
      const known = this.pauses.get(label)
      const now = this.pauseBefore(firstByte, nextByte)
      const learned = known === undefined ? now : known + PAUSE_MEMORY * (now - known)
      this.pauses.set(label, learned)
      return learned
    })
    const longestMs = Math.max(...pauseMs)
    let named = starts.findIndex((s) => s.says !== 'maybe')
    if (starts[named]!.says === 'apart') {
      const later = pauseMs.findLastIndex((ms, i) => i > named && ms >= PAUSE_CLEAR_MS && ms >= 3 * pauseMs[named]!)
      if (later >= 0) named = later
    }
    let at = named
    while (at >= 0 && !(pauseMs[at]! >= PAUSE_CLEAR_MS && pauseMs[at]! >= 0.3 * longestMs)) at--
    if (at >= 0) return { byte: starts[at]!.firstByte, openBytes: 0 }
    const byte = starts[named]!.firstByte
    return { byte, openBytes: byte - starts[0]!.firstByte }
  }

  private notePace(firstByte: number, endByte: number, nextByte: number, utcMs: number): void {
    // Beyond the last sentence that names the instant there may be lines of the next burst already.
    const reads = this.reads
      .ofBurst(firstByte, endByte, nextByte, READS_OF_A_BURST)
      .map((read) => ({ bytes: read.endByte - firstByte, afterMs: read.monotonicMs - utcMs }))
    this.bursts.push(reads)
    if (this.bursts.length > PACE_BURSTS) this.bursts.shift()
    if (this.burstCount++ % JUDGE_PACE_EVERY === 0 || this.burstCount <= FEWEST_BURSTS) {
      this.judged(judgePace(this.bursts.flat(), this.toldByteMs))
    }
  }

  /** What was known of the pace holds until something else is seen; seen once, it is unknown; seen again and again, it holds. */
  private judged(pace: Pace): void {
    if (pace.kind === 'unknown') {
      if (this.pace.kind === 'unknown') this.pace = pace
      return
    }
    const agrees = this.believed === undefined || this.believed === pace.kind
    if (agrees || ++this.contrary >= CONTRARY_SURE) {
      this.contrary = 0
      this.believed = pace.kind
      this.setPace(pace)
    } else this.pace = { kind: 'unknown', byteMs: this.toldByteMs ?? SLOWEST_BYTE_MS }
  }

  private startOf(point: Point): number {
    return this.pace.kind === 'line' ? point.lineStartMs : point.freeStartMs
  }

  private delayOf(point: Point): number {
    return this.startOf(point) - point.utcMs
  }

  private place(point: Point): BurstJump | undefined {
    const last = this.points.at(-1)
    if (last && Math.abs(this.delayOf(point) - this.delayOf(last)) > JUMP_MS) return this.stray(point)
    this.strays = []
    this.add(point)
    return undefined
  }

  /** Bursts at another time: a stall of this computer, or a receiver that was set. Only the latter stays. */
  private stray(point: Point): BurstJump | undefined {
    this.strays.push(point)
    const near = this.strays.filter((p) => Math.abs(this.delayOf(p) - this.delayOf(point)) < JUMP_SPREAD_MS)
    const spanMs = this.startOf(point) - this.startOf(near[0]!)
    if (near.length >= JUMP_BURSTS && spanMs >= JUMP_SPAN_MS) {
      const leastMs = (points: readonly Point[]) => Math.min(...points.map((p) => this.delayOf(p)))
      const byMs = leastMs(this.points) - leastMs(near)
      this.points = []
      this.bursts = []
      this.strays = []
      for (const p of near) this.add(p)
      return { byMs, wholeSeconds: Math.abs(byMs - 1000 * Math.round(byMs / 1000)) < 300 && Math.abs(byMs) < 20_500 }
    }
    if (this.startOf(point) - this.startOf(this.strays[0]!) > LOST_SPAN_MS) {
      this.points = []
      this.bursts = []
      this.lostAtMs = this.startOf(point)
    }
    if (this.strays.length > MOST_POINTS) this.strays.shift()
    if (this.points.length === 0) {
      this.strays = []
      this.add(point)
    }
    return undefined
  }

  /** Whether two bursts came together though they name instants that lie apart: they waited for this computer. */
  private waitedWith(before: Point, after: Point): boolean {
    return this.startOf(after) - this.startOf(before) < 0.5 * (after.utcMs - before.utcMs)
  }

  private add(point: Point): void {
    // Bursts that waited for the same read are one piece of evidence: the last of them waited least.
    for (;;) {
      const last = this.points.at(-1)
      if (!last || !this.waitedWith(last, point)) break
      this.points.pop()
    }
    this.points.push(point)
    while (this.startOf(this.points[0]!) < this.startOf(point) - WINDOW_MS || this.points.length > MOST_POINTS) this.points.shift()
  }

  /**
   * What the last minutes say; undefined with fewer than three bursts.
   * @param driftPpm drift of the computer's clock as known
   * @param sureOnly leaves out bursts of times when the receiver was not to be trusted
   */
  estimate(driftPpm: number, sureOnly = false): BurstEstimate | undefined {
    const points = sureOnly ? this.points.filter((p) => p.sure && p.unhindered) : this.points
    if (points.length < FEWEST_BURSTS) return undefined
    const byLine = edgeOf(
      points.map((p) => ({ startMs: p.lineStartMs, utcMs: p.utcMs })),
      driftPpm,
    )
    const byFree = edgeOf(
      points.map((p) => ({ startMs: p.freeStartMs, utcMs: p.utcMs })),
      driftPpm,
    )
    const chosen = this.pace.kind === 'line' ? byLine : byFree
    const typicalBytes = median(points.map((p) => p.bytes))
    const typicalEarlierMs =
      median(points.map((p) => p.openBytes)) * (this.pace.kind === 'free' ? 0 : (this.toldByteMs ?? this.pace.byteMs))
    const [earliest, latest] = this.bounds(byLine, byFree, chosen, typicalBytes)
    const startMs = (earliest - typicalEarlierMs + latest) / 2
    return {
      offsetMs: -startMs,
      monotonicMs: chosen.atMs,
      randomMs: chosen.randomMs,
      lineMs: (latest - earliest + typicalEarlierMs) / 2,
      windowMs: chosen.windowMs,
      jitterMs: chosen.jitterMs,
      bursts: points.length,
    }
  }

  /** Between which delays the bursts begin, as far as the pace of the bytes is known. */
  private bounds(byLine: Edge, byFree: Edge, chosen: Edge, typicalBytes: number): readonly [number, number] {
    if (this.pace.kind !== 'unknown') return [chosen.delayMs, chosen.delayMs]
    if (this.toldByteMs !== undefined) return [Math.min(byLine.delayMs, byFree.delayMs), byFree.delayMs]
    // A network behind which there may be a line: it can only have made the burst later, and as much to either side is kept.
    const mayBeMs = typicalBytes * this.pace.byteMs
    return [chosen.delayMs - mayBeMs, chosen.delayMs + mayBeMs]
  }
}
