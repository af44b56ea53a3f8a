import { z } from 'zod'

/**
 * NMEA 0183 sentences that carry time, place and satellites (NMEA 0183, sections 5 and 6):
 * `$ttSSS,field,...*hh`, where tt is the talker, SSS the sentence and hh the exclusive or of all between $ and *.
 */
const NMEA_TYPES = ['GGA', 'RMC', 'ZDA', 'GSA', 'GSV', 'GLL'] as const
export type NmeaType = (typeof NMEA_TYPES)[number]

/** Time of day in UTC, and the date when the sentence has one. */
export interface NmeaTime {
  /** Milliseconds since midnight; 86 400 000 and above in a leap second. */
  timeOfDayMs: number
  /** Midnight of the date in UTC, as sent. */
  dateUtcMs?: number
}

export interface NmeaSentence {
  talker: string
  type: NmeaType
  time?: NmeaTime
  latitude?: number
  longitude?: number
  altitudeM?: number
  /** Whether the receiver says that it knows where it is. */
  fix?: boolean
  /** 2 or 3 when the receiver says so. */
  fixDimensions?: 2 | 3
  /** GGA: satellites used. GSA: how many are listed as used. */
  satellites?: number
  /** GSA: which ones. */
  usedSatellites?: readonly number[]
  /** GSA since NMEA 4.1: of which system they are, as a hexadecimal digit. */
  system?: string
  /** GSV: all in view, in this and the other sentences of the group. */
  satellitesInView?: number
  /** GSV: those described in this sentence. */
  described?: readonly SatelliteSeen[]
  /** GSV: place in its group, counted from 1. */
  part?: { number: number; of: number }
  hdop?: number
  /** Where the figures come from when it is not satellites. */
  madeBy?: 'estimate' | 'hand' | 'simulation'
  /** Fields that cannot be as they were sent, in words; the sentence counts without them. */
  overlooked?: readonly string[]
  /** True when it came without a checksum and was taken all the same. */
  unchecked?: true
}

export interface SatelliteSeen {
  id: number
  elevationDeg: number | null
  azimuthDeg: number | null
  /** Carrier to noise density in dB-Hz; null when not tracked. */
  snrDbHz: number | null
}

export type NmeaFault = 'checksum' | 'noChecksum' | 'format' | 'field' | 'unknown' | 'tooLong' | 'empty'
export type NmeaResult = { ok: true; sentence: NmeaSentence } | { ok: false; fault: NmeaFault; reason: string }

/** The standard allows 82 characters; some receivers send a little more. */
export const LONGEST_SENTENCE = 120

const refuse = (fault: NmeaFault, reason: string): NmeaResult => ({ ok: false, fault, reason })

/** Exclusive or of the characters between $ and *. */
export function nmeaChecksum(body: string): number {
  let sum = 0
  for (let i = 0; i < body.length; i++) sum ^= body.charCodeAt(i)
  return sum & 0xff
}

/** Puts a sentence around its body. @example frameSentence('GPGLL,,,,,,V') // '$GPGLL,,,,,,V*06' */
export function frameSentence(body: string): string {
  return `$${body}*${nmeaChecksum(body).toString(16).toUpperCase().padStart(2, '0')}`
}

export interface ParseOptions {
  /** Takes whole sentences that carry no checksum at all: some receivers never send one. Default: refused. */
  acceptUnchecked?: boolean
}

/**
 * Reads one line. Never throws; noise before the last $ is overlooked, as a receiver that was cut short leaves it. A field
 * that cannot be (receivers without a fix send positions such as 8960.0000) is left out and named; only an impossible time
 * of day makes the sentence worthless.
 */
export function parseSentence(line: string, { acceptUnchecked = false }: ParseOptions = {}): NmeaResult {
  const text = line.replace(/[\r\n]+$/, '')
  if (text.trim() === '') return refuse('empty', 'the line is empty')
  const dollar = text.lastIndexOf('$')
  if (dollar < 0) return refuse('format', 'no sentence starts in this line')
  const sentence = text.slice(dollar).trimEnd()
  if (sentence.length > LONGEST_SENTENCE) return refuse('tooLong', `longer than ${LONGEST_SENTENCE} characters`)
  if (/[^\x20-\x7e]/.test(sentence)) return refuse('format', 'characters that no sentence has: noise, or the wrong serial speed')
  const match = /^\$([^*]*)(?:\*([0-9A-Fa-f]{2}))?$/.exec(sentence)
  if (!match) return refuse('format', 'cut short or run together')
  const body = match[1]!
  const [address, ...fields] = body.split(',') as [string, ...string[]]
  const name = /^([A-Z0-9]{2})([A-Z]{3})$/.exec(address)
  const type = NMEA_TYPES.find((known) => known === name?.[2])
  const checksum = match[2]
  if (checksum === undefined) {
    if (type === undefined || fields.length < FEWEST_FIELDS[type])
      return refuse('noChecksum', 'the checksum is missing: cut short, or a receiver that sends none')
    if (!acceptUnchecked) return refuse('noChecksum', 'the checksum is missing though the sentence is whole: this receiver may send none')
  } else {
    const sum = nmeaChecksum(body)
    if (sum !== Number.parseInt(checksum, 16))
      return refuse(
        'checksum',
        `the checksum is ${checksum.toUpperCase()} and should be ${sum.toString(16).toUpperCase().padStart(2, '0')}`,
      )
  }
  if (!name || type === undefined) return refuse('unknown', `sentence ${address.slice(0, 8)} is not used here`)
  const overlooked: string[] = []
  try {
    const read = READERS[type](fields, overlooked)
    return {
      ok: true,
      sentence: {
        talker: name[1]!,
        type,
        ...read,
        ...(overlooked.length > 0 && { overlooked }),
        ...(checksum === undefined && { unchecked: true }),
      },
    }
  } catch (error) {
    if (error instanceof FieldProblem) return refuse('field', error.message)
    throw error
  }
}

/** A sentence without a checksum is whole only with this many fields. */
const FEWEST_FIELDS: Record<NmeaType, number> = { GGA: 10, RMC: 9, ZDA: 4, GSA: 17, GSV: 3, GLL: 6 }

class FieldProblem extends Error {}

type Fields = Omit<NmeaSentence, 'talker' | 'type'>

/** Reads a field without which the sentence still counts: what cannot be is noted and left out. */
function lenient<T>(overlooked: string[], read: () => T): T | undefined {
  try {
    return read()
  } catch (error) {
    if (!(error instanceof FieldProblem)) throw error
    overlooked.push(error.message)
    return undefined
  }
}

const numberSchema = z
  .string()
  .regex(/^-?\d{1,9}(\.\d{0,9})?$/)
  .transform(Number)

/** A number, or undefined for an empty field and for one that cannot be, which is noted. */
function number(overlooked: string[], text: string | undefined, what: string, low: number, high: number): number | undefined {
  if (text === undefined || text === '') return undefined
  const parsed = numberSchema.safeParse(text)
  if (parsed.success && parsed.data >= low && parsed.data <= high) return parsed.data
  overlooked.push(`${what} cannot be "${text.slice(0, 16)}"`)
  return undefined
}

/** hhmmss.sss; 23:59:60 is the leap second. */
function timeOfDay(text: string | undefined): number | undefined {
  if (text === undefined || text === '') return undefined
  const m = /^(\d{2})(\d{2})(\d{2}(?:\.\d{0,9})?)$/.exec(text)
  const [hours, minutes, seconds] = [Number(m?.[1]), Number(m?.[2]), Number(m?.[3])]
  if (!m || hours > 23 || minutes > 59 || seconds >= 61) throw new FieldProblem(`the time cannot be "${text.slice(0, 16)}"`)
  return Math.round(((hours * 60 + minutes) * 60 + seconds) * 1000)
}

function date(day: number, month: number, year: number): number {
  const utcMs = Date.UTC(year, month - 1, day)
  if (!(new Date(utcMs).getUTCMonth() === month - 1 && new Date(utcMs).getUTCDate() === day))
    throw new FieldProblem(`the date cannot be ${year}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`)
  return utcMs
}

/** ddmmyy; years from 80 on belong to the last century, which receivers of before 1999 fall back to. */
function shortDate(text: string | undefined): number | undefined {
  if (text === undefined || text === '') return undefined
  const m = /^(\d{2})(\d{2})(\d{2})$/.exec(text)
  if (!m) throw new FieldProblem(`the date cannot be "${text.slice(0, 16)}"`)
  const year = Number(m[3])
  return date(Number(m[1]), Number(m[2]), year >= 80 ? 1900 + year : 2000 + year)
}

/** Degrees and minutes (ddmm.mmm or dddmm.mmm) with N, S, E or W. */
function angle(text: string | undefined, side: string | undefined, degrees: 2 | 3, sides: readonly [string, string]): number | undefined {
  if (!text) return undefined
  const m = new RegExp(`^(\\d{${degrees}})(\\d{2}(?:\\.\\d{0,9})?)$`).exec(text)
  const value = Number(m?.[1]) + Number(m?.[2]) / 60
  if (!m || Number(m[2]) >= 60 || value > (degrees === 2 ? 90 : 180))
    throw new FieldProblem(`the position cannot be "${text.slice(0, 16)}"`)
  if (side !== sides[0] && side !== sides[1])
    throw new FieldProblem(`the side of the position is "${(side ?? '').slice(0, 4)}" instead of ${sides.join(' or ')}`)
  return side === sides[1] ? -value : value
}

function position(overlooked: string[], f: readonly string[], at: number): Fields {
  const latitude = lenient(overlooked, () => angle(f[at], f[at + 1], 2, ['N', 'S']))
  const longitude = lenient(overlooked, () => angle(f[at + 2], f[at + 3], 3, ['E', 'W']))
  return latitude === undefined || longitude === undefined ? {} : { latitude, longitude }
}

const withTime = (timeOfDayMs: number | undefined, dateUtcMs?: number): Fields =>
  timeOfDayMs === undefined ? {} : { time: dateUtcMs === undefined ? { timeOfDayMs } : { timeOfDayMs, dateUtcMs } }

const given = <K extends keyof Fields>(key: K, value: Fields[K] | undefined): Fields => (value === undefined ? {} : { [key]: value })

/** Kinds of GGA quality, and letters of RMC and GLL, that tell of something else than satellites. */
const MADE_BY_QUALITY: Record<number, NmeaSentence['madeBy']> = { 6: 'estimate', 7: 'hand', 8: 'simulation' }
const MADE_BY_MODE: Record<string, NmeaSentence['madeBy']> = { E: 'estimate', M: 'hand', S: 'simulation' }

/** The validity letter, with the mode that newer receivers add. */
function validity(letter: string | undefined, mode = 'A'): Fields {
  const madeBy = MADE_BY_MODE[mode]
  return { fix: letter === 'A' && mode !== 'N' && madeBy === undefined, ...given('madeBy', madeBy) }
}

const READERS: Record<NmeaType, (f: readonly string[], overlooked: string[]) => Fields> = {
  // time, latitude, N/S, longitude, E/W, quality, satellites used, HDOP, altitude, M, ...
  GGA: (f, overlooked) => {
    const quality = number(overlooked, f[5], 'the fix quality', 0, 9) ?? 0
    return {
      ...withTime(timeOfDay(f[0])),
      ...position(overlooked, f, 1),
      fix: quality > 0 && quality < 6,
      ...given('madeBy', MADE_BY_QUALITY[quality]),
      ...given('satellites', number(overlooked, f[6], 'the number of satellites', 0, 99)),
      ...given('hdop', number(overlooked, f[7], 'the dilution', 0, 9999)),
      ...given('altitudeM', number(overlooked, f[8], 'the altitude', -20_000, 1e8)),
    }
  },
  // time, A/V, latitude, N/S, longitude, E/W, speed, course, date, variation, E/W, mode
  RMC: (f, overlooked) => ({
    ...withTime(
      timeOfDay(f[0]),
      lenient(overlooked, () => shortDate(f[8])),
    ),
    ...position(overlooked, f, 2),
    ...validity(f[1], f[11]),
  }),
  // time, day, month, year, zone
  ZDA: (f, overlooked) => {
    const day = number(overlooked, f[1], 'the day', 1, 31)
    const month = number(overlooked, f[2], 'the month', 1, 12)
    const year = number(overlooked, f[3], 'the year', 1980, 2099)
    const whole = day !== undefined && month !== undefined && year !== undefined
    return withTime(timeOfDay(f[0]), whole ? lenient(overlooked, () => date(day, month, year)) : undefined)
  },
  // auto/manual, 1 none 2 plane 3 space, twelve satellites, PDOP, HDOP, VDOP
  GSA: (f, overlooked) => {
    const kind = number(overlooked, f[1], 'the kind of fix', 1, 3) ?? 1
    const used = f.slice(2, 14).flatMap((text) => number(overlooked, text, 'a satellite', 0, 999) ?? [])
    return {
      fix: kind >= 2,
      ...(kind >= 2 && { fixDimensions: kind as 2 | 3 }),
      satellites: used.length,
      usedSatellites: used,
      ...(/^[1-9A-F]$/.test(f[17] ?? '') && { system: f[17]! }),
      ...given('hdop', number(overlooked, f[15], 'the dilution', 0, 9999)),
    }
  },
  // sentences, number of this one, satellites in view, then four times: satellite, elevation, azimuth, dB-Hz
  GSV: (f, overlooked) => {
    const of = number(overlooked, f[0], 'the number of sentences', 1, 9)
    const place = number(overlooked, f[1], 'the number of the sentence', 1, 9)
    const described: SatelliteSeen[] = []
    for (let at = 3; at + 3 < f.length && described.length < 4; at += 4) {
      const id = number(overlooked, f[at], 'a satellite', 0, 999)
      if (id === undefined) continue
      described.push({
        id,
        elevationDeg: number(overlooked, f[at + 1], 'the elevation', -90, 90) ?? null,
        azimuthDeg: number(overlooked, f[at + 2], 'the azimuth', 0, 360) ?? null,
        snrDbHz: number(overlooked, f[at + 3], 'the strength', 0, 99) ?? null,
      })
    }
    return {
      ...given('satellitesInView', number(overlooked, f[2], 'the number of satellites', 0, 99)),
      described,
      ...(of !== undefined && place !== undefined && { part: { number: place, of } }),
    }
  },
  // latitude, N/S, longitude, E/W, time, A/V, mode
  GLL: (f, overlooked) => ({ ...position(overlooked, f, 0), ...withTime(timeOfDay(f[4])), ...validity(f[5], f[6]) }),
}
