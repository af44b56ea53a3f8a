import { z } from 'zod'
import { createRandom } from '@/core/dsp'
import { BITS_PER_BYTE, frameSentence, ROLLOVER_MS } from '@/core/nmea'
import type { Position } from '@/core/place'

/** What can be wrong with the stand-in receiver. */
export const GPS_FAULTS = {
  noFix: 'no fix',
  threeSatellites: 'three satellites only',
  wrongSpeed: 'wrong serial speed: garbage',
  jitter: 'up to 60 ms of jitter',
  badChecksums: 'every fifth checksum is wrong',
  weekRollover: 'dates 1024 weeks too early',
  leapSeconds: 'leap seconds not known: two seconds fast',
  noise: 'noise between sentences',
  twoReceivers: 'a second receiver on the same link',
  silence: 'silent',
} as const
export type GpsFault = keyof typeof GPS_FAULTS
export const gpsFaultSchema = z.enum(Object.keys(GPS_FAULTS) as [GpsFault, ...GpsFault[]])

export interface GpsStandinOptions {
  seed: number
  position: Position
  /** Paces the bytes; undefined sends each sentence whole, as a phone does. */
  serialBaud?: number
  /** Delay of the first byte after the second it names. */
  receiverDelayMs?: number
  /** How far the receiver's own time is off, for practice. */
  errorMs?: number
}

/** Bytes and when they leave, after the whole second that the burst names. */
export interface TimedBytes {
  atMs: number
  bytes: Uint8Array
}

export interface GpsStandin {
  /** What the receiver sends for one whole second. */
  burst(utcMs: number, faults: ReadonlySet<GpsFault>): TimedBytes[]
}

const two = (n: number, digits = 2) => String(n).padStart(digits, '0')
const LARGEST_JITTER_MS = 60
/** Reads of a serial port come in pieces of about this length. */
const PIECE_BYTES = 16
const SATELLITES = [2, 5, 7, 11, 13, 16, 20, 24, 28, 30]

/** A simulated receiver that speaks NMEA 0183 as the common ones do. Built from a seed, so every run is the same. */
export function createGpsStandin({ seed, position, serialBaud, receiverDelayMs = 0, errorMs = 0 }: GpsStandinOptions): GpsStandin {
  const random = createRandom(seed)
  let sentences = 0

  const text = (utcMs: number, faults: ReadonlySet<GpsFault>, place: Position): string[] => {
    const shownMs = utcMs + errorMs + (faults.has('leapSeconds') ? 2000 : 0)
    const d = new Date(shownMs - (faults.has('weekRollover') ? ROLLOVER_MS : 0))
    const time = `${two(d.getUTCHours())}${two(d.getUTCMinutes())}${two(d.getUTCSeconds())}.${two(d.getUTCMilliseconds(), 3)}`
    const date = `${two(d.getUTCDate())}${two(d.getUTCMonth() + 1)}${two(d.getUTCFullYear() % 100)}`
    const fixed = !faults.has('noFix')
    const used = fixed ? SATELLITES.slice(0, faults.has('threeSatellites') ? 3 : 9) : []
    const wobble = () => (random() - 0.5) * 2e-5
    const where = fixed
      ? [...degrees(place.latitudeDeg + wobble(), 2, 'N', 'S'), ...degrees(place.longitudeDeg + wobble(), 3, 'E', 'W')].join(',')
      : ',,,'
    const kind = !fixed ? 1 : used.length < 4 ? 2 : 3
    const bodies = [
      `GPRMC,${time},${fixed ? 'A' : 'V'},${where},${fixed ? '0.02,0.0' : ','},${date},,,${fixed ? 'A' : 'N'}`,
      `GPGGA,${time},${where},${fixed ? 1 : 0},${two(used.length)},${fixed ? '1.1' : ''},${fixed && kind === 3 ? '104.3' : ''},M,43.0,M,,`,
      `GPGSA,A,${kind},${Array.from({ length: 12 }, (_, i) => (used[i] === undefined ? '' : two(used[i]!))).join(',')},2.0,1.1,1.7`,
    ]
    if (d.getUTCSeconds() % 5 === 0) bodies.push(...inView(random))
    bodies.push(
      `GPGLL,${where},${time},${fixed ? 'A' : 'V'},${fixed ? 'A' : 'N'}`,
      `GPZDA,${time},${two(d.getUTCDate())},${two(d.getUTCMonth() + 1)},${d.getUTCFullYear()},00,00`,
    )
    return bodies.map((body) => {
      const sentence = frameSentence(body)
      sentences++
      return faults.has('badChecksums') && sentences % 5 === 0
        ? `${sentence.slice(0, -2)}${sentence.endsWith('00') ? '01' : '00'}`
        : sentence
    })
  }

  const pace = (bytes: Uint8Array, startMs: number, faults: ReadonlySet<GpsFault>): TimedBytes[] => {
    const late = () => (faults.has('jitter') ? LARGEST_JITTER_MS * random() : 0)
    if (serialBaud === undefined) return [{ atMs: startMs + late(), bytes }]
    const pieces: TimedBytes[] = []
    let before = 0
    for (let at = 0; at < bytes.length; at += PIECE_BYTES) {
      const piece = bytes.slice(at, at + PIECE_BYTES)
      const leftMs = startMs + ((at + piece.length) * BITS_PER_BYTE * 1000) / serialBaud
      // Reads come in order, however late one of them is.
      before = Math.max(before, leftMs + late())
      pieces.push({ atMs: before, bytes: piece })
    }
    return pieces
  }

  return {
    burst(utcMs, faults) {
      if (faults.has('silence')) return []
      let sent = text(utcMs, faults, position)
      if (faults.has('twoReceivers'))
        sent = sent.flatMap((s, i) => [
          s,
          text(utcMs - 37_000, new Set(), { latitudeDeg: position.latitudeDeg + 1, longitudeDeg: position.longitudeDeg })[i]!,
        ])
      if (faults.has('noise')) sent = sent.flatMap((s, i) => (i % 2 === 0 ? [s] : [`\u0007~${Math.floor(random() * 1e9)}`, s]))
      const encode = (s: string) => Uint8Array.from(s, (c) => c.charCodeAt(0))
      const garble = (bytes: Uint8Array) => (faults.has('wrongSpeed') ? garbled(bytes, random) : bytes)
      // A phone sends a datagram for each sentence; a serial line carries one stream.
      if (serialBaud === undefined) return sent.flatMap((s) => pace(garble(encode(`${s}\r\n`)), receiverDelayMs, faults))
      return pace(garble(encode(sent.map((s) => `${s}\r\n`).join(''))), receiverDelayMs, faults)
    },
  }
}

function degrees(value: number, digits: 2 | 3, positive: string, negative: string): [string, string] {
  const size = Math.abs(value)
  const whole = Math.floor(size)
  return [`${two(whole, digits)}${((size - whole) * 60).toFixed(4).padStart(7, '0')}`, value < 0 ? negative : positive]
}

function inView(random: () => number): string[] {
  const all = SATELLITES.map(
    (id, i) => `${two(id)},${two(10 + ((i * 37) % 75))},${two((i * 67) % 360, 3)},${two(24 + Math.floor(22 * random()))}`,
  )
  const of = Math.ceil(all.length / 4)
  return Array.from({ length: of }, (_, i) => `GPGSV,${of},${i + 1},${two(all.length)},${all.slice(4 * i, 4 * i + 4).join(',')}`)
}

/** What a port set to another speed reads: other bytes, some of them lost. */
export function garbled(bytes: Uint8Array, random: () => number): Uint8Array {
  return bytes.filter(() => random() < 0.6).map((byte) => (byte ^ Math.floor(random() * 256)) | 0x80)
}
