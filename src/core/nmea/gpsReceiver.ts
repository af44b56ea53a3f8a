// One receiver as heard on one link: sentences, burst timing and judgement together; each part stands in its own file.
import { EARLIEST_UTC_MS, type ClockReading } from '../time/clockReading'
import { positionToLocator } from '../place/locator'
import { BurstTimer } from './burstTimer'
import type { GpsStatus } from './gpsStatus'
import { NmeaStream, type NmeaLine } from './nmeaStream'
import { parseSentence, type NmeaSentence, type SatelliteSeen } from './sentence'
import { resolveUtc } from './resolveUtc'
import { correctRollover, type RolledOver } from './weekRollover'

export interface GpsReceiverOptions {
  /** Lasting name of the source, such as "gps:serial". */
  source: string
  label: string
  /** Speed of the serial line; absent for a network. */
  serialBaud?: number
  /** How long after the instant it names the receiver sends its first byte, when that is known. */
  receiverDelayMs?: number
  /** Judges a date as sent; undefined for one that cannot be. Default: anything before Zeptik existed has rolled over. */
  correctDate?: (utcMs: number) => RolledOver | undefined
}

const READING_EVERY_MS = 10_000
/** A satellite's description is old after this. */
const SATELLITE_KEPT_MS = 15_000
const MOST_SATELLITES = 64
/** Receivers further apart than this are two. */
const APART_DEG = 0.05
const KNOWN_DELAY_ERROR_MS = 10
const SERIAL_DELAY_ERROR_MS = 60
const NETWORK_DELAY_ERROR_MS = 120
export const FEWEST_SATELLITES = 4

interface Burst {
  timeOfDayMs: number
  told: boolean
  used: number
  /** Each satellite once: a list that comes twice, as datagrams may, must not make four out of two. */
  listed: Set<string>
  fix: boolean
  counted: boolean
}

/** Listens to one receiver: bytes in, status and clock readings out. Never throws on what comes in. */
export class GpsReceiver {
  private readonly stream = new NmeaStream()
  private readonly timer: BurstTimer
  private burst: Burst | undefined
  private finished: Burst | undefined
  private lastUtcMs: number | undefined
  private dated: { utcMs: number; monotonicMs: number } | undefined
  private lastReadingMs = -Infinity
  private readonly talkers = new Map<string, number>()
  private readonly satellites = new Map<string, SatelliteSeen & { talker: string; atMs: number }>()
  private usedIds = new Set<number>()
  private place: GpsStatus['position'] = null
  private counts = { accepted: 0, rejected: 0, badChecksums: 0 }
  private lastSentenceMs: number | undefined
  private lastBytesMs: number | undefined
  private latestReason: string | undefined
  private rollovers = 0
  private impossibleDate = false
  private leapJumpMs = 0
  private leaptBackMs = -Infinity
  private conflictUntilMs = -Infinity
  private badRun = 0

  constructor(private readonly options: GpsReceiverOptions) {
    this.timer = new BurstTimer(options.serialBaud)
  }

  /**
   * Takes a read.
   * @param monotonicMs when it arrived
   * @param driftPpm drift of the computer's clock as known
   * @returns readings for the timebase: one after three bursts, then one every ten seconds
   */
  push(bytes: Uint8Array, monotonicMs: number, driftPpm = 0): ClockReading[] {
    if (bytes.length === 0) return []
    const lines = this.stream.push(bytes)
    this.timer.arrived(bytes.length, this.stream.bytes, monotonicMs)
    this.lastBytesMs = monotonicMs
    const readings: ClockReading[] = []
    for (const line of lines) {
      const reading = this.line(line, monotonicMs, driftPpm)
      if (reading) readings.push(reading)
    }
    return readings
  }

  private line(line: NmeaLine, monotonicMs: number, driftPpm: number): ClockReading | undefined {
    const parsed = parseSentence(line.text)
    if (!parsed.ok) {
      if (parsed.fault === 'empty') return undefined
      // Sentences that are not used here are no fault of the link.
      if (parsed.fault !== 'unknown') {
        this.badRun++
        this.latestReason = parsed.reason
      }
      this.counts.rejected++
      if (parsed.fault === 'checksum') this.counts.badChecksums++
      return undefined
    }
    this.counts.accepted++
    this.badRun = 0
    this.lastSentenceMs = monotonicMs
    const { sentence } = parsed
    this.talkers.set(sentence.talker, monotonicMs)
    this.noteSatellites(sentence, monotonicMs)
    if (sentence.time) this.noteTime(sentence, line, monotonicMs)
    this.noteFix(sentence)
    this.notePlace(sentence, monotonicMs)
    return this.maybeReading(monotonicMs, driftPpm)
  }

  private noteTime(sentence: NmeaSentence, line: NmeaLine, monotonicMs: number): void {
    const { timeOfDayMs, dateUtcMs } = sentence.time!
    if (!this.burst || this.burst.timeOfDayMs !== timeOfDayMs) {
      if (this.burst && this.isOther(timeOfDayMs, monotonicMs)) this.conflictUntilMs = monotonicMs + 30_000
      // A burst that follows without a pause begins with this sentence, unless it began with one that carries no time.
      if (this.burst && !this.burst.told) this.timer.split(line.firstByte, monotonicMs, this.stream.bytes)
      if (this.burst) this.finished = this.burst
      this.burst = { timeOfDayMs, told: false, used: 0, listed: new Set(), fix: false, counted: false }
      this.usedIds = new Set()
    }
    const utcMs = this.utcOf(timeOfDayMs, dateUtcMs, monotonicMs)
    if (utcMs === undefined || this.burst.told) return
    this.burst.told = true
    this.lastUtcMs = utcMs
    const jump = this.timer.burstIs(utcMs)
    if (jump?.wholeSeconds && this.conflictUntilMs < monotonicMs) this.leapJumpMs = jump.byMs
    if (jump) this.lastReadingMs = -Infinity
  }

  /** Two receivers on one link tell times that leap back and forth; one that learned its leap seconds leaps back once. */
  private isOther(timeOfDayMs: number, monotonicMs: number): boolean {
    const step = timeOfDayMs - this.burst!.timeOfDayMs
    if (step >= 0 || step <= -43_200_000) return false
    const again = monotonicMs - this.leaptBackMs < 10_000
    this.leaptBackMs = monotonicMs
    return again
  }

  private utcOf(timeOfDayMs: number, dateUtcMs: number | undefined, monotonicMs: number): number | undefined {
    if (dateUtcMs !== undefined) {
      const { correctDate = (sent: number) => correctRollover(sent, EARLIEST_UTC_MS) } = this.options
      const corrected = correctDate(dateUtcMs + timeOfDayMs)
      this.impossibleDate = corrected === undefined
      this.rollovers = corrected?.rollovers ?? 0
      if (corrected) this.dated = { utcMs: corrected.utcMs, monotonicMs }
      return corrected?.utcMs
    }
    return this.dated && resolveUtc(timeOfDayMs, this.dated.utcMs + monotonicMs - this.dated.monotonicMs)
  }

  private noteFix(sentence: NmeaSentence): void {
    const { burst } = this
    if (!burst) return
    if (sentence.type === 'GGA') {
      burst.counted = true
      burst.used = sentence.satellites ?? 0
    }
    if (sentence.type === 'GSA') {
      burst.counted = true
      for (const id of sentence.usedSatellites ?? []) burst.listed.add(`${sentence.talker}${sentence.system ?? ''} ${id}`)
    }
    if (sentence.fix) burst.fix = true
    // One sentence that denies the fix outweighs the others.
    if (sentence.fix === false && sentence.type !== 'GSA') burst.fix = false
  }

  private notePlace(sentence: NmeaSentence, monotonicMs: number): void {
    const { latitude, longitude } = sentence
    if (latitude === undefined || longitude === undefined || !sentence.fix) return
    const before = this.place
    const isFar =
      before &&
      this.lastSentenceMs !== undefined &&
      (Math.abs(before.latitudeDeg - latitude) > APART_DEG || Math.abs(before.longitudeDeg - longitude) > APART_DEG)
    if (isFar && monotonicMs - (this.dated?.monotonicMs ?? -Infinity) < 5000) this.conflictUntilMs = monotonicMs + 30_000
    this.place = { latitudeDeg: latitude, longitudeDeg: longitude, altitudeM: sentence.altitudeM ?? before?.altitudeM ?? null }
  }

  private noteSatellites(sentence: NmeaSentence, monotonicMs: number): void {
    if (sentence.type === 'GSA') for (const id of sentence.usedSatellites ?? []) this.usedIds.add(id)
    for (const seen of sentence.described ?? []) {
      const key = `${sentence.talker} ${seen.id}`
      if (this.satellites.size < MOST_SATELLITES || this.satellites.has(key))
        this.satellites.set(key, { ...seen, talker: sentence.talker, atMs: monotonicMs })
    }
    for (const [key, seen] of this.satellites) if (monotonicMs - seen.atMs > SATELLITE_KEPT_MS) this.satellites.delete(key)
  }

  /** The newest burst that is known whole: the one before while the present one is still arriving. */
  private judged(): Burst | undefined {
    return this.burst?.counted ? this.burst : (this.finished ?? this.burst)
  }

  /** Satellites used: of the present burst lists may still be missing, so the one before speaks too. */
  private used(): number | undefined {
    const counts = [this.burst, this.finished].flatMap((burst) => (burst?.counted ? [Math.max(burst.used, burst.listed.size)] : []))
    return counts.length > 0 ? Math.max(...counts) : undefined
  }

  private doubt(monotonicMs: number): string | undefined {
    const burst = this.judged()
    const used = this.used()
    if (this.conflictUntilMs > monotonicMs) return 'two receivers talk on this link: unplug or silence one of them'
    if (this.impossibleDate)
      return 'the receiver names a date that cannot be: it has lost its almanac, let it see the sky for a quarter of an hour'
    if (!burst || this.lastUtcMs === undefined) return 'no time yet'
    if (!burst.fix) return 'no fix yet: give the antenna a free view of the sky'
    if (used === undefined) return 'the receiver does not tell how many satellites it uses'
    if (used < FEWEST_SATELLITES) return `only ${used} satellites are used: four or more make the time sure`
    return undefined
  }

  private maybeReading(monotonicMs: number, driftPpm: number): ClockReading | undefined {
    if (monotonicMs - this.lastReadingMs < READING_EVERY_MS) return undefined
    const estimate = this.timer.estimate(driftPpm)
    if (!estimate) return undefined
    this.lastReadingMs = monotonicMs
    const { source, label, serialBaud, receiverDelayMs } = this.options
    const doubt = this.doubt(monotonicMs)
    const biasMs =
      receiverDelayMs !== undefined ? KNOWN_DELAY_ERROR_MS : serialBaud === undefined ? NETWORK_DELAY_ERROR_MS : SERIAL_DELAY_ERROR_MS
    return {
      source,
      kind: 'gps',
      label,
      monotonicMs: estimate.monotonicMs,
      utcMs: estimate.monotonicMs + estimate.offsetMs + (receiverDelayMs ?? 0),
      randomMs: estimate.randomMs,
      biasMs,
      windowMs: estimate.windowMs,
      ...(doubt && { doubt }),
    }
  }

  /** What is known now. */
  status(monotonicMs: number): GpsStatus {
    const burst = this.judged()
    const doubt = this.doubt(monotonicMs)
    const remarks: string[] = []
    if (this.rollovers > 0)
      remarks.push(`The receiver’s week counter has rolled over: its date is ${this.rollovers} × 1024 weeks too early and is corrected.`)
    if (this.leapJumpMs !== 0)
      remarks.push(`The receiver’s time jumped by ${Math.round(this.leapJumpMs / 1000)} s: it has only now learned the leap seconds.`)
    if (this.timer.unpaced && this.options.serialBaud !== undefined)
      remarks.push('Bytes come faster than the serial speed allows, as over USB: no time is taken off for it.')
    if (this.badRun >= 5) remarks.push('Bytes arrive, but no sentences: probably the wrong serial speed, or another device.')
    const recent = [...this.talkers].filter(([, atMs]) => monotonicMs - atMs < 30_000).map(([talker]) => talker)
    return {
      ...this.counts,
      lastSentenceMs: this.lastSentenceMs ?? null,
      lastBytesMs: this.lastBytesMs ?? null,
      talkers: recent,
      utcMs: this.lastUtcMs ?? null,
      fix: burst?.fix ?? false,
      satellitesUsed: this.used() ?? null,
      satellites: [...this.satellites.values()].map(({ atMs: _, ...seen }) => ({ ...seen, used: this.usedIds.has(seen.id) })),
      position: this.place,
      locator: this.place && positionToLocator(this.place, 8),
      trusted: doubt === undefined,
      doubt: doubt ?? null,
      remarks,
      jitterMs: this.timer.estimate(0)?.jitterMs ?? null,
      latestReason: this.latestReason ?? null,
    }
  }
}
