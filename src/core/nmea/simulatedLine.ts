// A receiver on a line and the computer that reads it, simulated byte by byte: the judge of all claims about GPS time.
import { createRandom, type Random } from '../dsp/random'
import { byteMsAt } from './linePace'
import { frameSentence } from './sentence'

/** What a receiver says of each fix, in this order; GSV and GSA may be sent less often. */
export type LineSentence = 'RMC' | 'GGA' | 'GLL' | 'ZDA' | 'GSA' | 'GSV' | 'VTG' | 'TXT'

/** How the computer gets to see the bytes. */
export type Reading =
  /** A driver that looks every so often. */
  | { kind: 'timer'; everyMs: number }
  /** A driver that waits for so many bytes, or for a pause. */
  | { kind: 'pieces'; bytes: number; idleMs: number }
  /** Datagrams or segments, one for a sentence or for a burst. */
  | { kind: 'packets'; of: 'sentence' | 'burst'; latencyMs: number }

export interface LineCase {
  seed: number
  seconds: number
  /** Fixes a second, and what they change to on the way. */
  fixHz: number
  changesTo?: { atS: number; fixHz: number }
  sentences: readonly LineSentence[]
  /** GSV and GSA come with every n-th fix only. */
  listsEvery: number
  /** Speed of the wire; null where bytes come all at once. */
  lineBaud: number | null
  /** What the computer takes the speed for; undefined on a network. */
  toldBaud: number | undefined
  /** From the instant named to the first byte, when nothing is in the way. */
  delayMs: number
  /** Between the sentences of a burst, for the receiver to think. */
  gapMs: number
  /** What the receiver can keep waiting before it drops sentences. */
  queueBytes: number
  reading: Reading
  jitterMs: number
  /** When this computer did nothing. */
  stalls: readonly { atS: number; forMs: number; merged: boolean }[]
  /** ZDA names a time this much later than the fix's own. */
  zdaOffByS: number
  /** ZDA of a fix is sent with the next one. */
  zdaLate: boolean
  /** The receiver starts anew: silence, then a time of its own that is off by this until the fix is back. */
  reset?: { atS: number; silentS: number; clockOffMs: number; noFixS: number }
  /** Share of bytes that are lost or spoilt. */
  lossShare: number
  driftPpm: number
}

export interface SimulatedRead {
  monotonicMs: number
  bytes: Uint8Array
}

export interface SimulatedLine {
  reads: SimulatedRead[]
  /** True time at an instant of the computer's monotonic clock. */
  utcAt(monotonicMs: number): number
}

const START_UTC_MS = Date.UTC(2026, 5, 1, 12)
const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)]!
const RECEIVER_RATES = [1, 1, 1, 1, 1, 1, 2, 4, 5, 5, 8, 10, 10, 20] as const
const SPEEDS = [4800, 4800, 9600, 9600, 9600, 19_200, 38_400, 38_400, 57_600, 115_200, 230_400] as const
/** Driver buffers of serial ports hold this much. */
const DRIVER_BYTES = 4095

const LAYOUTS: readonly (readonly LineSentence[])[] = [
  ['GGA', 'RMC'],
  ['RMC'],
  ['GGA'],
  ['RMC', 'VTG', 'GGA', 'GSA', 'GSV', 'GLL'],
  ['GGA', 'GSA', 'GSV', 'RMC'],
  ['GGA', 'GLL', 'GSA', 'GSV', 'RMC', 'VTG', 'ZDA'],
  ['GSV', 'GSA', 'GGA', 'RMC'],
  ['VTG', 'RMC', 'GGA', 'ZDA'],
  ['ZDA', 'GGA', 'RMC'],
  ['TXT', 'GSV', 'RMC', 'GGA', 'GSA', 'TXT'],
  ['RMC', 'GGA', 'GSA', 'GSA', 'GSV', 'GSV', 'TXT', 'TXT', 'GLL', 'ZDA'],
]

/** Draws a receiver, a line and a computer, ordinary or odd. */
export function drawLineCase(seed: number): LineCase {
  const random = createRandom(seed)
  const chance = (share: number) => random() < share
  const way = pick(random, ['serial', 'serial', 'serial', 'usb', 'network', 'bridge'] as const)
  const fixHz = pick(random, RECEIVER_RATES)
  const lineBaud = way === 'usb' || way === 'network' ? null : pick(random, SPEEDS)
  const seconds = Math.round(Math.max(30, 90 / Math.sqrt(fixHz)))
  const layout = pick(random, LAYOUTS)
  const withGsa: readonly LineSentence[] = layout.includes('GSA') || layout.includes('GGA') ? layout : [...layout, 'GSA']
  const stalls = chance(0.4)
    ? Array.from({ length: 1 + Math.floor(4 * random()) }, () => ({
        atS: random() * seconds,
        forMs: 10 * 500 ** random(),
        merged: chance(0.5),
      }))
    : []
  const longestDelayMs = Math.min(chance(0.97) ? 80 : 280, 900 / fixHz)
  return {
    seed,
    seconds,
    fixHz,
    ...(chance(0.1) && { changesTo: { atS: seconds * (0.3 + 0.4 * random()), fixHz: pick(random, RECEIVER_RATES) } }),
    sentences: withGsa.includes('RMC') || withGsa.includes('ZDA') ? withGsa : [...withGsa, pick(random, ['RMC', 'ZDA'] as const)],
    listsEvery: chance(0.5) ? 1 : Math.max(1, Math.round(fixHz * pick(random, [1, 5]))),
    lineBaud,
    toldBaud: way === 'serial' ? lineBaud! : way === 'usb' ? pick(random, [4800, 9600, 9600, 115_200]) : undefined,
    delayMs: longestDelayMs * random(),
    gapMs: chance(0.3) ? 12 * random() : 0,
    queueBytes: pick(random, [256, 1024, 4096, 16_384]),
    reading: drawReading(random, way),
    jitterMs: chance(0.5) ? 60 * random() : 3 * random(),
    stalls,
    zdaOffByS: chance(0.1) ? pick(random, [-2, 1, 2, 2, 37]) : 0,
    zdaLate: chance(0.1),
    ...(chance(0.08) && {
      reset: {
        atS: seconds * (0.2 + 0.3 * random()),
        silentS: 6 * random(),
        clockOffMs: 3000 * (random() - 0.5),
        noFixS: 2 + 8 * random(),
      },
    }),
    lossShare: chance(0.15) ? 10 ** (-4.5 + 2 * random()) : 0,
    driftPpm: 60 * (random() - 0.5),
  }
}

function drawReading(random: Random, way: 'serial' | 'usb' | 'network' | 'bridge'): Reading {
  if (way === 'network') return { kind: 'packets', of: pick(random, ['sentence', 'burst'] as const), latencyMs: 2 + 60 * random() }
  if (way === 'usb' && random() < 0.5) return { kind: 'packets', of: pick(random, ['sentence', 'burst'] as const), latencyMs: 2 * random() }
  return random() < 0.6
    ? { kind: 'timer', everyMs: 1 + 15 * random() }
    : { kind: 'pieces', bytes: Math.ceil(2 ** (10 * random())), idleMs: 2 + 18 * random() }
}

interface Sent {
  text: string
  readyMs: number
}

/** Runs a case: what the computer read, and when, on a monotonic clock of its own. */
export function simulateLine(kase: LineCase): SimulatedLine {
  const random = createRandom(kase.seed ^ 0x11e5)
  const bytes = wire(kase, sentences(kase, random), random)
  const monotonic = (atMs: number) => atMs * (1 - kase.driftPpm * 1e-6) + 777
  const reads = readAll(kase, bytes, random).map(({ monotonicMs, bytes: read }) => ({ monotonicMs: monotonic(monotonicMs), bytes: read }))
  return { reads, utcAt: (monotonicMs) => START_UTC_MS + (monotonicMs - 777) / (1 - kase.driftPpm * 1e-6) }
}

/** What the receiver has to say and when it is ready to, after START_UTC_MS. */
function sentences(kase: LineCase, random: Random): Sent[] {
  const { reset, changesTo } = kase
  const sent: Sent[] = []
  let late: string | undefined
  let atMs = 0
  for (let fix = 0; atMs < kase.seconds * 1000; fix++) {
    const since = reset ? atMs - reset.atS * 1000 : -1
    const silent = reset !== undefined && since >= 0 && since < reset.silentS * 1000
    const lost = reset !== undefined && since >= 0 && since < (reset.silentS + reset.noFixS) * 1000
    if (!silent) {
      const shownMs = START_UTC_MS + atMs + (lost ? reset.clockOffMs : 0)
      const texts = kase.sentences.flatMap((kind) => {
        if ((kind === 'GSV' || kind === 'GSA') && fix % kase.listsEvery !== 0) return []
        if (kind !== 'ZDA') return sentence(kind, shownMs, !lost, random)
        const [now] = sentence('ZDA', shownMs + 1000 * kase.zdaOffByS, !lost, random)
        const out = kase.zdaLate ? late : now
        late = now
        return out ?? []
      })
      const readyMs = atMs + kase.delayMs + 2 * random()
      texts.forEach((text, i) => sent.push({ text: `${text}\r\n`, readyMs: readyMs + i * kase.gapMs * random() }))
    }
    const hz = changesTo && atMs >= changesTo.atS * 1000 ? changesTo.fixHz : kase.fixHz
    // Fixes lie on whole multiples of their interval.
    atMs = Math.round(Math.floor(atMs / (1000 / hz) + 1.0001) * (1000 / hz))
  }
  return sent
}

const two = (n: number, digits = 2) => String(n).padStart(digits, '0')

function sentence(kind: LineSentence, utcMs: number, fix: boolean, random: Random): string[] {
  const d = new Date(utcMs)
  const time = `${two(d.getUTCHours())}${two(d.getUTCMinutes())}${two(d.getUTCSeconds())}.${two(d.getUTCMilliseconds(), 3)}`
  const date = `${two(d.getUTCDate())}${two(d.getUTCMonth() + 1)}${two(d.getUTCFullYear() % 100)}`
  const place = fix ? '4726.2320,N,01857.3780,E' : ',,,'
  switch (kind) {
    case 'RMC':
      return [frameSentence(`GPRMC,${time},${fix ? 'A' : 'V'},${place},0.02,0.0,${date},,,${fix ? 'A' : 'N'}`)]
    case 'GGA':
      return [frameSentence(`GPGGA,${time},${place},${fix ? '1,09,1.1' : '0,00,'},104.3,M,43.0,M,,`)]
    case 'GLL':
      return [frameSentence(`GPGLL,${place},${time},${fix ? 'A,A' : 'V,N'}`)]
    case 'ZDA':
      return [frameSentence(`GPZDA,${time},${two(d.getUTCDate())},${two(d.getUTCMonth() + 1)},${d.getUTCFullYear()},00,00`)]
    case 'GSA':
      return [frameSentence(fix ? 'GPGSA,A,3,02,05,07,11,13,16,20,24,28,,,,2.0,1.1,1.7' : 'GPGSA,A,1,,,,,,,,,,,,,,,')]
    case 'GSV': {
      const of = 1 + Math.floor(3 * random())
      return Array.from({ length: of }, (_, i) =>
        frameSentence(`GPGSV,${of},${i + 1},${two(4 * of)},02,45,123,38,05,10,000,29,07,33,211,41,11,70,002,44`),
      )
    }
    case 'VTG':
      return [frameSentence('GPVTG,0.0,T,,M,0.02,N,0.04,K,A')]
    case 'TXT':
      return [frameSentence(`GPTXT,01,01,02,${'made-up words of a receiver'.slice(0, 4 + Math.floor(23 * random()))}`)]
  }
}

interface WireByte {
  code: number
  atMs: number
  /** Ends a sentence or a burst, which is where packets are cut. */
  ends: 'sentence' | 'burst' | undefined
}

/** Puts sentences on the wire, one after the other; what does not fit into the receiver's queue is dropped whole. */
function wire(kase: LineCase, sent: readonly Sent[], random: Random): WireByte[] {
  const byteMs = kase.lineBaud === null ? 0 : byteMsAt(kase.lineBaud)
  const bytes: WireByte[] = []
  let freeMs = 0
  sent.forEach(({ text, readyMs }, i) => {
    const startMs = Math.max(freeMs, readyMs)
    if ((startMs - readyMs) / (byteMs || 1) > kase.queueBytes) return
    const next = sent[i + 1]
    const lastOfBurst = next === undefined || next.readyMs - readyMs > kase.gapMs + 0.01
    for (let k = 0; k < text.length; k++) {
      const atMs = startMs + (k + 1) * byteMs
      const last = k === text.length - 1
      if (random() < kase.lossShare) {
        // Half are lost on the way, half come as something else.
        if (random() < 0.5) continue
        bytes.push({ code: text.charCodeAt(k) ^ (1 << Math.floor(7 * random())), atMs, ends: undefined })
      } else bytes.push({ code: text.charCodeAt(k), atMs, ends: !last ? undefined : lastOfBurst ? 'burst' : 'sentence' })
    }
    freeMs = startMs + text.length * byteMs
  })
  return bytes
}

/** When the computer gets each byte to see, and in what pieces. */
function readAll(kase: LineCase, bytes: readonly WireByte[], random: Random): SimulatedRead[] {
  const reads: SimulatedRead[] = []
  const { reading } = kase
  const phaseMs = 16 * random()
  let beforeMs = 0
  let waiting: WireByte[] = []
  const deliver = (dueMs: number) => {
    if (waiting.length === 0) return
    let atMs = Math.max(beforeMs, dueMs + kase.jitterMs * random())
    const stall = kase.stalls.find((s) => atMs >= s.atS * 1000 && atMs < s.atS * 1000 + s.forMs)
    if (stall) atMs = stall.atS * 1000 + stall.forMs
    const piece = Uint8Array.from(waiting, (b) => b.code)
    waiting = []
    const last = reads.at(-1)
    if (stall && last && last.monotonicMs === atMs) {
      // The driver holds only so much for a program that does not ask.
      const held = reads.filter((r) => r.monotonicMs === atMs).reduce((sum, r) => sum + r.bytes.length, 0)
      const kept = piece.subarray(0, Math.max(0, DRIVER_BYTES - held))
      if (kept.length === 0) return
      if (stall.merged) last.bytes = Uint8Array.from([...last.bytes, ...kept])
      else reads.push({ monotonicMs: atMs, bytes: kept })
    } else reads.push({ monotonicMs: atMs, bytes: piece })
    beforeMs = atMs
  }
  bytes.forEach((byte, i) => {
    waiting.push(byte)
    const nextMs = bytes[i + 1]?.atMs ?? Infinity
    if (reading.kind === 'timer') {
      const looksMs = Math.ceil((byte.atMs - phaseMs) / reading.everyMs) * reading.everyMs + phaseMs
      if (nextMs > looksMs) deliver(looksMs)
    } else if (reading.kind === 'pieces') {
      if (waiting.length >= reading.bytes) deliver(byte.atMs)
      else if (nextMs > byte.atMs + reading.idleMs) deliver(byte.atMs + reading.idleMs)
    } else if (byte.ends === 'burst' || byte.ends === reading.of || nextMs === Infinity) deliver(byte.atMs + reading.latencyMs)
  })
  return reads
}
