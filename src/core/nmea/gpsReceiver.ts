// One receiver as heard on one link: sentences, burst timing and judgement together; each part stands in its own file.
import { EARLIEST_UTC_MS, type ClockReading } from '../time/clockReading'
import { positionToLocator } from '../place/locator'
import { BurstTimer } from './burstTimer'
import { EpochFinder, wrapDay, type Epoch } from './epochFinder'
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
  /** Takes sentences without checksums, whose time is then never trusted. Default false. */
  acceptUnchecked?: boolean
  /** False for a recording that carries no times of arrival: then nothing is said of when anything came. Default true. */
  timed?: boolean
}

const READING_EVERY_MS = 10_000
/** A much better one comes sooner; whether there is one is looked at so often. */
const LOOK_EVERY_MS = 1000
const MUCH_BETTER = 0.7
/** A satellite's description is old after this. */
const SATELLITE_KEPT_MS = 15_000
const MOST_SATELLITES = 64
/** Receivers further apart than this are two. */
const APART_DEG = 0.05
/** Times or places that leap back this often within so many epochs come from two receivers. */
const LEAPS_OF_TWO = 2
const LEAPS_WITHIN = 8
const CONFLICT_REMEMBERED_MS = 30_000
/** A receiver that learns its leap seconds has been sure of itself for at least this long before. */
const SURE_BEFORE_LEAP_MS = 10_000
const KNOWN_DELAY_ERROR_MS = 10
const SERIAL_DELAY_ERROR_MS = 100
const NETWORK_DELAY_ERROR_MS = 160
const FEWEST_SATELLITES = 4
/** So many whole sentences without a checksum and none with one make a receiver that never sends it. */
const UNCHECKED_SURE = 5

interface Burst {
  timeOfDayMs: number
  used: number
  /** Each satellite once: a list that comes twice, as datagrams may, must not make four out of two. */
  listed: Set<string>
  fix: boolean
  counted: boolean
  madeBy: NmeaSentence['madeBy']
}

/** Listens to one receiver: bytes in, status and clock readings out. Never throws on what comes in. */
export class GpsReceiver {
  private readonly stream = new NmeaStream()
  private readonly timer: BurstTimer
  private readonly epochs = new EpochFinder()
  private burst: Burst | undefined
  private finished: Burst | undefined
  private lastUtcMs: number | undefined
  private dated: { utcMs: number; monotonicMs: number } | undefined
  private lastReadingMs = -Infinity
  private lastLookMs = -Infinity
  private statedMs = Infinity
  private readonly talkers = new Map<string, number>()
  private readonly satellites = new Map<string, SatelliteSeen & { talker: string; atMs: number }>()
  private usedIds = new Set<number>()
  private place: GpsStatus['position'] = null
  private counts = { accepted: 0, rejected: 0, badChecksums: 0 }
  private unchecked = 0
  private refusedUnchecked = 0
  private lastSentenceMs: number | undefined
  private lastBytesMs: number | undefined
  private latestReason: string | undefined
  private latestOverlooked: string | undefined
  private rollovers = 0
  private impossibleDate = false
  private leapJumpMs = 0
  private lastUnsureMs = -Infinity
  private epochCount = 0
  private leaderTimeMs: number | undefined
  private leapsBack: number[] = []
  private leftPlace: { latitude: number; longitude: number } | undefined
  private placeLeaps: number[] = []
  private conflictUntilMs = -Infinity
  private badRun = 0
  private spoilt = false

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
    this.timer.arrived(this.stream.bytes, monotonicMs)
    this.lastBytesMs = monotonicMs
    const readings: ClockReading[] = []
    for (const line of lines) {
      const reading = this.line(line, monotonicMs, driftPpm)
      if (reading) readings.push(reading)
    }
    return readings
  }

  private line(line: NmeaLine, monotonicMs: number, driftPpm: number): ClockReading | undefined {
    const parsed = parseSentence(line.text, { acceptUnchecked: this.options.acceptUnchecked ?? false })
    if (!parsed.ok) {
      if (parsed.fault === 'empty') return undefined
      this.epochs.push({ label: line.text.slice(0, 6), firstByte: line.firstByte })
      // Sentences that are not used here are no fault of the link.
      if (parsed.fault !== 'unknown') {
        this.badRun++
        this.spoilt = true
        this.latestReason = parsed.reason
      }
      this.counts.rejected++
      if (parsed.fault === 'checksum') this.counts.badChecksums++
      if (parsed.fault === 'noChecksum') this.refusedUnchecked++
      return undefined
    }
    this.counts.accepted++
    this.badRun = 0
    this.lastSentenceMs = monotonicMs
    const { sentence } = parsed
    if (sentence.unchecked) this.unchecked++
    this.latestOverlooked = sentence.overlooked?.[0] ?? this.latestOverlooked
    this.talkers.set(sentence.talker, monotonicMs)
    this.noteSatellites(sentence, monotonicMs)
    const ended = this.epochs.push({
      label: `${sentence.talker}${sentence.type}${sentence.part?.number ?? ''}`,
      type: sentence.type,
      firstByte: line.firstByte,
      ...(sentence.time && { timeOfDayMs: sentence.time.timeOfDayMs }),
    })
    const reading = ended && this.epochEnded(ended, monotonicMs, driftPpm)
    if (sentence.time) this.noteTime(sentence, monotonicMs)
    this.noteFix(sentence)
    this.notePlace(sentence, monotonicMs)
    return reading
  }

  /** All sentences of an instant have come: it is timed, and perhaps tells what time it is. */
  private epochEnded(epoch: Epoch, monotonicMs: number, driftPpm: number): ClockReading | undefined {
    const utcMs = this.dated && resolveUtc(epoch.timeOfDayMs, this.dated.utcMs + monotonicMs - this.dated.monotonicMs)
    if (utcMs === undefined || this.options.timed === false) return undefined
    const doubt = this.doubt(monotonicMs)
    // A doubt about timing alone does not make the receiver's word unsure.
    const sure = this.doubtOfReceiver(monotonicMs) === undefined
    const jump = this.timer.burst({ ...epoch, utcMs, sure, spoilt: this.spoilt })
    this.spoilt = false
    if (!sure) this.lastUnsureMs = monotonicMs
    // One that was without a fix meanwhile may have been wrong by seconds for any reason.
    if (jump?.wholeSeconds && monotonicMs - this.lastUnsureMs > SURE_BEFORE_LEAP_MS) this.leapJumpMs = jump.byMs
    if (jump) this.lastReadingMs = -Infinity
    return this.maybeReading(monotonicMs, driftPpm, doubt)
  }

  private noteTime(sentence: NmeaSentence, monotonicMs: number): void {
    const { timeOfDayMs, dateUtcMs } = sentence.time!
    if (!this.burst || this.burst.timeOfDayMs !== timeOfDayMs) {
      if (this.burst) this.finished = this.burst
      this.burst = { timeOfDayMs, used: 0, listed: new Set(), fix: false, counted: false, madeBy: undefined }
      this.usedIds = new Set()
    }
    if (dateUtcMs !== undefined) this.noteDate(dateUtcMs + timeOfDayMs, monotonicMs)
    if (sentence.type !== this.epochs.leading) return
    if (timeOfDayMs !== this.leaderTimeMs) this.noteLeader(timeOfDayMs, monotonicMs)
    if (this.dated) this.lastUtcMs = resolveUtc(timeOfDayMs, this.dated.utcMs + monotonicMs - this.dated.monotonicMs)
  }

  /** Two receivers on one link tell times that leap back and forth; one that learned its leap seconds leaps back once. */
  private noteLeader(timeOfDayMs: number, monotonicMs: number): void {
    this.epochCount++
    const before = this.leaderTimeMs
    this.leaderTimeMs = timeOfDayMs
    if (before === undefined || wrapDay(timeOfDayMs - before) >= 0) return
    this.leapsBack = [...this.leapsBack.filter((at) => this.epochCount - at < LEAPS_WITHIN), this.epochCount]
    if (this.leapsBack.length >= LEAPS_OF_TWO) this.conflictUntilMs = monotonicMs + CONFLICT_REMEMBERED_MS
  }

  private noteDate(sentUtcMs: number, monotonicMs: number): void {
    const { correctDate = (sent: number) => correctRollover(sent, EARLIEST_UTC_MS) } = this.options
    const corrected = correctDate(sentUtcMs)
    this.impossibleDate = corrected === undefined
    this.rollovers = corrected?.rollovers ?? 0
    if (corrected) this.dated = { utcMs: corrected.utcMs, monotonicMs }
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
    burst.madeBy ??= sentence.madeBy
  }

  private notePlace(sentence: NmeaSentence, monotonicMs: number): void {
    const { latitude, longitude } = sentence
    if (latitude === undefined || longitude === undefined || !sentence.fix) return
    const before = this.place
    const far = (a: { latitude: number; longitude: number }) =>
      Math.abs(a.latitude - latitude) > APART_DEG || Math.abs(a.longitude - longitude) > APART_DEG
    if (before && far({ latitude: before.latitudeDeg, longitude: before.longitudeDeg })) {
      // A place that was left and is come back to at once, again and again, is that of another receiver.
      if (this.leftPlace && !far(this.leftPlace))
        this.placeLeaps = [...this.placeLeaps.filter((at) => this.epochCount - at < LEAPS_WITHIN), this.epochCount]
      if (this.placeLeaps.length >= LEAPS_OF_TWO) this.conflictUntilMs = monotonicMs + CONFLICT_REMEMBERED_MS
      this.leftPlace = { latitude: before.latitudeDeg, longitude: before.longitudeDeg }
    }
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
    const ofReceiver = this.doubtOfReceiver(monotonicMs)
    if (ofReceiver !== undefined || this.options.timed === false) return ofReceiver
    const ofLoad = LOAD_DOUBTS[this.timer.lineLoad(monotonicMs)]
    if (ofLoad !== undefined) return ofLoad
    return this.timer.unsettled
      ? 'its sentences come at other times than before, or some are missing: waiting to see whether it or this computer stumbled'
      : undefined
  }

  private doubtOfReceiver(monotonicMs: number): string | undefined {
    const burst = this.judged()
    const used = this.used()
    if (this.conflictUntilMs > monotonicMs) return 'two receivers talk on this link: unplug or silence one of them'
    if (this.impossibleDate)
      return 'the receiver names a date that cannot be: it has lost its almanac, let it see the sky for a quarter of an hour'
    if (burst?.madeBy) return MADE_UP[burst.madeBy]
    if (burst && this.dated === undefined)
      return 'a time of day has come, but no date: let the receiver send RMC or ZDA sentences as well, or wait for its first fix'
    if (!burst || this.lastUtcMs === undefined) return 'no time yet'
    if (!burst.fix) return 'no fix yet: give the antenna a free view of the sky'
    if (this.unchecked > 0) return 'its sentences carry no checksum, so a spoilt digit would not be noticed'
    if (used === undefined) return 'the receiver does not tell how many satellites it uses'
    if (used === 0) return 'it names a place but says that it uses no satellite: four or more make the time sure'
    if (used < FEWEST_SATELLITES)
      return `only ${used} ${used === 1 ? 'satellite is' : 'satellites are'} used: four or more make the time sure`
    const { odd, leading } = this.epochs
    if (odd.length >= 2 && odd.every((o) => o.byMs === odd[0]!.byMs))
      return `its sentences contradict one another: ${odd.map((o) => o.label).join(' and ')} name another time than ${leading}`
    return undefined
  }

  private maybeReading(monotonicMs: number, driftPpm: number, doubt: string | undefined): ClockReading | undefined {
    const sinceMs = monotonicMs - this.lastReadingMs
    if (sinceMs < READING_EVERY_MS && monotonicMs - this.lastLookMs < LOOK_EVERY_MS) return undefined
    this.lastLookMs = monotonicMs
    const estimate = this.timer.estimate(driftPpm, doubt === undefined)
    if (!estimate) return undefined
    const { source, label, serialBaud, receiverDelayMs } = this.options
    const delayErrorMs =
      receiverDelayMs !== undefined ? KNOWN_DELAY_ERROR_MS : serialBaud === undefined ? NETWORK_DELAY_ERROR_MS : SERIAL_DELAY_ERROR_MS
    // A delay that was measured over a network holds whatever is behind it.
    const biasMs = delayErrorMs + (receiverDelayMs !== undefined && serialBaud === undefined ? 0 : estimate.lineMs)
    const statedMs = Math.hypot(estimate.randomMs, biasMs)
    // What has become known of the line since is told at once.
    if (sinceMs < READING_EVERY_MS && !(doubt === undefined && statedMs < MUCH_BETTER * this.statedMs)) return undefined
    this.lastReadingMs = monotonicMs
    this.statedMs = doubt === undefined ? statedMs : Infinity
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

  private remarks(): string[] {
    const remarks: string[] = []
    const { serialBaud, acceptUnchecked } = this.options
    if (this.rollovers > 0)
      remarks.push(`The receiver’s week counter has rolled over: its date is ${this.rollovers} × 1024 weeks too early and is corrected.`)
    if (this.leapJumpMs !== 0)
      remarks.push(
        `The receiver’s time jumped by ${Math.round(this.leapJumpMs / 1000)} s: it has probably only now learned the leap seconds.`,
      )
    for (const { label, byMs } of this.epochs.odd)
      remarks.push(
        `${label} names a time ${Math.abs(byMs / 1000)} s ${byMs > 0 ? 'later' : 'earlier'} than ${this.epochs.leading}, which is the fix’s own: it is overlooked.`,
      )
    if (this.timer.unpaced && serialBaud !== undefined)
      remarks.push('Bytes come faster than the serial speed allows, as over USB: no time is taken off for it.')
    if (!acceptUnchecked && this.refusedUnchecked >= UNCHECKED_SURE && this.counts.accepted === 0)
      remarks.push('This receiver sends no checksums. Its sentences can be accepted all the same, but its time is then never trusted.')
    else if (this.badRun >= 5) remarks.push('Bytes arrive, but no sentences: probably the wrong serial speed, or another device.')
    if (this.latestOverlooked !== undefined) remarks.push(`Not taken from its sentences: ${this.latestOverlooked}.`)
    return remarks
  }

  /** What is known now. */
  status(monotonicMs: number): GpsStatus {
    const burst = this.judged()
    const doubt = this.doubt(monotonicMs)
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
      remarks: this.remarks(),
      jitterMs: this.timer.estimate(0)?.jitterMs ?? null,
      latestReason: this.latestReason ?? null,
      sendsNoChecksums: this.unchecked > 0 || (this.refusedUnchecked >= UNCHECKED_SURE && this.counts.accepted === 0),
    }
  }
}

const MADE_UP: Record<NonNullable<NmeaSentence['madeBy']>, string> = {
  simulation: 'the receiver is in simulation mode and makes up what it says: switch that off in its own settings',
  hand: 'its place was entered by hand and does not come from satellites',
  estimate: 'it only reckons on from its last fix: give the antenna a free view of the sky',
}

const LOAD_DOUBTS = {
  free: undefined,
  notKnownYet: 'listening whether its sentences leave the line any pause',
  full: 'it sends more than the serial speed carries, so its sentences wait for one another: set a higher serial speed in the receiver, or fewer sentences',
} as const
