import { positionToLocator } from '../place/locator'
import { EARLIEST_UTC_MS } from '../time/clockReading'
import { GpsReceiver } from './gpsReceiver'
import { resolveUtc } from './resolveUtc'
import { parseSentence, type NmeaSentence } from './sentence'
import { correctRollover, ROLLOVER_MS, type RolledOver } from './weekRollover'

/** What one line of a recording says. */
export interface NmeaLineReport {
  /** Counted from 1. */
  line: number
  ok: boolean
  /** Why the line was not accepted, or what of it was left out. */
  reason?: string
  type?: string
  talker?: string
  /** ISO 8601; the date is filled in from the dated sentence before it, or the first one of the recording. */
  utc?: string
  latitude?: number
  longitude?: number
  altitudeM?: number
  fix?: boolean
  fixDimensions?: 2 | 3
  satellites?: number
  satellitesInView?: number
  /** How many times 1024 weeks had to be added to the date. */
  weekRollovers?: number
}

export interface NmeaSummary {
  summary: true
  utc: string | null
  latitude: number | null
  longitude: number | null
  locator: string | null
  satellitesUsed: number | null
  trusted: boolean
  accepted: number
  rejected: number
  badChecksums: number
  doubt: string | null
  remarks: readonly string[]
  /** What `utc` would be if the receiver's week counter had rolled over, where the recording itself does not tell. */
  utcIfRolledOver: string | null
  /** True when its sentences come without checksums, so that they must be accepted to be read. */
  sendsNoChecksums: boolean
}

export interface RecordingOptions {
  /** A corrected date cannot lie after this: the recording was made before now. */
  notAfterUtcMs: number
  /** Takes sentences without checksums. Default false. */
  acceptUnchecked?: boolean
}

/** Sentences of these talkers, and lists that name their system, came with NMEA 4.1 in 2012: no earlier date is true beside them. */
const NEWER_TALKERS: readonly string[] = ['GA', 'GB', 'GQ', 'GI']
const NEWER_FROM_UTC_MS = Date.UTC(2012, 0, 1)

const isNewer = ({ talker, system }: NmeaSentence) => NEWER_TALKERS.includes(talker) || system !== undefined

const lines = function* (bytes: Uint8Array): Generator<string> {
  let start = 0
  for (let at = 0; at <= bytes.length; at++) {
    if (at < bytes.length && bytes[at] !== 0x0a) continue
    // The line end of the last line starts no further line.
    if (at === bytes.length && start === at) return
    yield decode(bytes.subarray(start, at))
    start = at + 1
  }
}

/** The longest line that is looked at; more of it is noise. */
const LONGEST_LOOK = 2000

function decode(bytes: Uint8Array): string {
  let text = ''
  for (const byte of bytes.subarray(0, LONGEST_LOOK)) text += String.fromCharCode(byte)
  return text
}

/**
 * Reads a recording of a receiver: every line is reported once, then all is summed up. A recording carries no times of
 * arrival, so nothing is said of when anything came, and it says what it was then, never what it is now. An early date is
 * either an old recording or a week counter that has rolled over: it is taken as sent unless the recording shows that it
 * cannot be that old.
 */
export function readNmeaRecording(bytes: Uint8Array, options: RecordingOptions, onLine: (line: NmeaLineReport) => void): NmeaSummary {
  const { acceptUnchecked = false, notAfterUtcMs } = options
  const parse = (text: string) => parseSentence(text, { acceptUnchecked })
  let newer = false
  let firstDated: NmeaSentence | undefined
  for (const text of lines(bytes)) {
    const parsed = parse(text)
    if (!parsed.ok) continue
    newer ||= isNewer(parsed.sentence)
    if (firstDated === undefined && parsed.sentence.time?.dateUtcMs !== undefined) firstDated = parsed.sentence
    if (newer && firstDated) break
  }
  const correctDate = (utcMs: number): RolledOver =>
    (newer ? correctRollover(utcMs, NEWER_FROM_UTC_MS, notAfterUtcMs) : undefined) ?? { utcMs, rollovers: 0 }
  const dated = ({ time }: NmeaSentence) => (time?.dateUtcMs === undefined ? undefined : correctDate(time.dateUtcMs + time.timeOfDayMs))
  let about = firstDated && dated(firstDated)?.utcMs

  const receiver = new GpsReceiver({ source: 'gps:recording', label: 'Recording', correctDate, acceptUnchecked, timed: false })
  // Only what is remembered for a while needs a clock at all: it follows the recording's own times.
  let clockMs = 0
  let number = 0
  let lastUtcMs: number | undefined
  let accepted = 0
  let rejected = 0
  let badChecksums = 0
  for (const text of lines(bytes)) {
    number++
    clockMs++
    const parsed = parse(text)
    if (!parsed.ok) {
      rejected++
      if (parsed.fault === 'checksum') badChecksums++
      onLine({ line: number, ok: false, reason: parsed.reason })
      if (parsed.fault === 'noChecksum') receiver.push(asLine(text), clockMs)
      continue
    }
    accepted++
    const { sentence } = parsed
    const corrected = dated(sentence)
    const utcMs = sentence.time && (corrected?.utcMs ?? (about === undefined ? undefined : resolveUtc(sentence.time.timeOfDayMs, about)))
    if (utcMs !== undefined && utcMs !== lastUtcMs) {
      if (lastUtcMs !== undefined) clockMs += Math.max(0, utcMs - lastUtcMs)
      about = lastUtcMs = utcMs
    }
    receiver.push(asLine(text), clockMs)
    onLine(reportOf(number, sentence, utcMs, corrected?.rollovers ?? 0))
  }
  const status = receiver.status(clockMs)
  const place = status.position
  const toldUtcMs = status.utcMs ?? lastUtcMs
  const rolledUtcMs = toldUtcMs === undefined ? undefined : latestRollover(toldUtcMs, notAfterUtcMs)
  return {
    summary: true,
    utc: toldUtcMs === undefined ? null : iso(toldUtcMs),
    latitude: place?.latitudeDeg ?? null,
    longitude: place?.longitudeDeg ?? null,
    locator: place ? positionToLocator(place, 8) : null,
    satellitesUsed: status.satellitesUsed,
    trusted: status.trusted,
    accepted,
    rejected,
    badChecksums,
    doubt: status.doubt,
    remarks:
      toldUtcMs === undefined || rolledUtcMs === undefined
        ? status.remarks
        : [
            `This is either an old recording, or one of a receiver whose week counter has rolled over: then it was ${iso(rolledUtcMs).slice(0, 10)} instead of ${iso(toldUtcMs).slice(0, 10)}.`,
            ...status.remarks,
          ],
    utcIfRolledOver: rolledUtcMs === undefined ? null : iso(rolledUtcMs),
    sendsNoChecksums: status.sendsNoChecksums,
  }
}

const asLine = (text: string): Uint8Array => Uint8Array.from(`${text.slice(text.lastIndexOf('$')).trimEnd()}\n`, (c) => c.charCodeAt(0))

/** The latest time that a rolled-over date may mean; undefined for dates that need no such explanation. */
function latestRollover(utcMs: number, notAfterUtcMs: number): number | undefined {
  if (utcMs >= EARLIEST_UTC_MS) return undefined
  const times = Math.floor((notAfterUtcMs - utcMs) / ROLLOVER_MS)
  return times > 0 ? utcMs + times * ROLLOVER_MS : undefined
}

/** @example iso(0) // '1970-01-01T00:00:00.000Z' */
const iso = (utcMs: number) => new Date(utcMs).toISOString()

function reportOf(line: number, s: NmeaSentence, utcMs: number | undefined, weekRollovers: number): NmeaLineReport {
  return {
    line,
    ok: true,
    ...(s.overlooked && { reason: s.overlooked.join('; ') }),
    type: s.type,
    talker: s.talker,
    ...(utcMs !== undefined && { utc: iso(utcMs) }),
    ...(s.latitude !== undefined && { latitude: s.latitude, longitude: s.longitude! }),
    ...(s.altitudeM !== undefined && { altitudeM: s.altitudeM }),
    ...(s.fix !== undefined && { fix: s.fix }),
    ...(s.fixDimensions !== undefined && { fixDimensions: s.fixDimensions }),
    ...(s.satellites !== undefined && { satellites: s.satellites }),
    ...(s.satellitesInView !== undefined && { satellitesInView: s.satellitesInView }),
    ...(weekRollovers > 0 && { weekRollovers }),
  }
}
