import { positionToLocator } from '../place/locator'
import { EARLIEST_UTC_MS } from '../time/clockReading'
import { BITS_PER_BYTE } from './burstTimer'
import { GpsReceiver } from './gpsReceiver'
import { resolveUtc } from './resolveUtc'
import { parseSentence, type NmeaSentence } from './sentence'
import { correctRollover } from './weekRollover'

/** What one line of a recording says. */
export interface NmeaLineReport {
  /** Counted from 1. */
  line: number
  ok: boolean
  /** Why the line was not accepted. */
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
}

export interface RecordingOptions {
  /** A corrected date cannot lie after this: the recording was made before now. */
  notAfterUtcMs: number
  /** Speed of the line it was taken from; says how far apart the bytes were. */
  serialBaud?: number
}

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
 * Reads a recording of a receiver: every line is reported once, then all is summed up. Time runs by the recording's own
 * bursts, so a recording says what it was then, never what it is now.
 */
export function readNmeaRecording(bytes: Uint8Array, options: RecordingOptions, onLine: (line: NmeaLineReport) => void): NmeaSummary {
  // A recording may be old: a date that no rollover explains is taken as it was sent.
  const correctDate = (utcMs: number) => correctRollover(utcMs, EARLIEST_UTC_MS, options.notAfterUtcMs) ?? { utcMs, rollovers: 0 }
  const dated = ({ time }: NmeaSentence) => (time?.dateUtcMs === undefined ? undefined : correctDate(time.dateUtcMs + time.timeOfDayMs))
  let about: number | undefined
  for (const text of lines(bytes)) {
    const parsed = parseSentence(text)
    about = parsed.ok ? dated(parsed.sentence)?.utcMs : undefined
    if (about !== undefined) break
  }

  const receiver = new GpsReceiver({ source: 'gps:recording', label: 'Recording', correctDate })
  let clockMs = 0
  let burstStartMs = 0
  let number = 0
  let lastUtcMs: number | undefined
  let accepted = 0
  let rejected = 0
  let badChecksums = 0
  const byteMs = (BITS_PER_BYTE * 1000) / (options.serialBaud ?? 4800)
  for (const text of lines(bytes)) {
    number++
    const parsed = parseSentence(text)
    clockMs += text.length * byteMs
    if (!parsed.ok) {
      rejected++
      if (parsed.fault === 'checksum') badChecksums++
      onLine({ line: number, ok: false, reason: parsed.reason })
      continue
    }
    accepted++
    const { sentence } = parsed
    const corrected = dated(sentence)
    const utcMs = sentence.time && (corrected?.utcMs ?? (about === undefined ? undefined : resolveUtc(sentence.time.timeOfDayMs, about)))
    if (utcMs !== undefined && utcMs !== lastUtcMs) {
      // The recording's clock follows its own bursts: jumps of the recording are not the receiver's.
      if (lastUtcMs !== undefined && utcMs > lastUtcMs) clockMs = Math.max(clockMs, burstStartMs + utcMs - lastUtcMs)
      burstStartMs = clockMs
      about = lastUtcMs = utcMs
    }
    receiver.push(
      Uint8Array.from(`${text.slice(text.lastIndexOf('$')).trimEnd()}\n`, (c) => c.charCodeAt(0)),
      clockMs,
    )
    onLine(reportOf(number, sentence, utcMs, corrected?.rollovers ?? 0))
  }
  const status = receiver.status(clockMs)
  const place = status.position
  return {
    summary: true,
    utc: lastUtcMs === undefined ? null : iso(lastUtcMs),
    latitude: place?.latitudeDeg ?? null,
    longitude: place?.longitudeDeg ?? null,
    locator: place ? positionToLocator(place, 8) : null,
    satellitesUsed: status.satellitesUsed,
    trusted: status.trusted,
    accepted,
    rejected,
    badChecksums,
    doubt: status.doubt,
    remarks: status.remarks,
  }
}

/** @example iso(0) // '1970-01-01T00:00:00.000Z' */
const iso = (utcMs: number) => new Date(utcMs).toISOString()

function reportOf(line: number, s: NmeaSentence, utcMs: number | undefined, weekRollovers: number): NmeaLineReport {
  return {
    line,
    ok: true,
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
