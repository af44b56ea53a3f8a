import { createGaussian, createRandom } from '../../dsp'
import { parseAx25, uiFrame } from '../ax25Frame'
import { fcsOf, isGood, withFcs } from '../fcs'
import { frameOfLine, monitorLine } from '../monitorLine'
import { correctedBits, CorrectionReader } from './correction'
import { HdlcReader } from './hdlcReader'
import { bitsOf, burstBits, levelsOf, stuffedBits } from './hdlcBits'
import type { HeardFrame } from './heardFrame'
import { burstSeconds, PACKET_MODEM_IDS, PACKET_MODEMS, type BurstOptions, type PacketModemId } from './packetModem'
import { PulsePath } from './pulsePath'
import { checkBytes, correctBlock } from './reedSolomon'
import { Descrambler, scramble } from './scrambler'
import { CODE_BLOCK_HEX, FRAME_VECTORS } from './vectors'

const bytesOf = (hex: string) => Uint8Array.from(Buffer.from(hex, 'hex'))
const hexOf = (bytes: Uint8Array) => Buffer.from(bytes).toString('hex')
const bits = (text: string) => [...text].map(Number)

describe.each(FRAME_VECTORS)('the frame "$name"', ({ hex, monitor, fcs, stuffedBits: stuffed, lineLevels, scrambled }) => {
  const frame = bytesOf(hex)

  it('is read as a line', () => {
    const parsed = parseAx25(frame)
    expect(parsed.ok && monitorLine(parsed.value)).toBe(monitor)
  })

  it('becomes bits, levels and scrambled levels', () => {
    expect(fcsOf(frame)).toBe(fcs)
    expect(isGood(withFcs(frame))).toBe(true)
    expect(stuffedBits(frame).join('')).toBe(stuffed)
    const levels = levelsOf(burstBits([stuffedBits(frame)], { leadFlags: 1, tailFlags: 0 }))
    expect(levels.join('')).toBe(lineLevels)
    expect(scramble(levels).join('')).toBe(scrambled)
  })

  it('comes back from its levels, and from scrambled ones', () => {
    const plain = new HdlcReader(() => true)
    // A level before the first flag: what changes needs one to change from.
    expect([1, ...bits(lineLevels)].flatMap((level) => hexOf(plain.push(level ? 9 : -9)?.bytes ?? new Uint8Array()) || [])).toEqual([hex])
    const descrambler = new Descrambler()
    const again = bits(scrambled).map((bit) => (descrambler.push(bit ? 9 : -9) > 0 ? 1 : 0))
    // The scrambler's register is empty at first, which reads as zeros here too.
    expect(again.join('')).toBe(lineLevels)
  })
})

describe('error correction', () => {
  const frame = bytesOf(FRAME_VECTORS[0]!.hex)

  it('has the check bytes of the published code', () => {
    const block = bytesOf(CODE_BLOCK_HEX)
    expect(hexOf(checkBytes(block.subarray(0, 128), 16))).toBe(hexOf(block.subarray(128)))
    expect(correctBlock(block, 16)).toEqual({ block, changed: 0 })
  })

  it('corrects half as many errors as check bytes, twice as many erasures, and says when it cannot', () => {
    const random = createRandom(4)
    for (let trial = 0; trial < 200; trial++) {
      const checks = [16, 32, 64][trial % 3]!
      const data = Uint8Array.from({ length: 20 + Math.floor(100 * random()) }, () => Math.floor(256 * random()))
      const block = Uint8Array.from([...data, ...checkBytes(data, checks)])
      const places = Array.from(block, (_, place) => ({ place, order: random() })).sort((a, b) => a.order - b.order)
      const erasures = Math.floor(random() * (checks + 1))
      const spoiled = places.slice(0, erasures + Math.floor((checks - erasures) / 2)).map(({ place }) => place)
      const received = block.slice()
      for (const place of spoiled) received[place]! ^= 1 + Math.floor(255 * random())
      expect(correctBlock(received, checks, spoiled.slice(0, erasures))?.block).toEqual(block)
    }
    const nonsense = Uint8Array.from({ length: 80 }, () => Math.floor(256 * random()))
    expect(correctBlock(nonsense, 16)).toBeUndefined()
  })

  it.each([16, 32, 64] as const)('is read through %i check bytes with as many spoiled bytes as it can take', (checks) => {
    const code = correctedBits(frame, checks)!
    const levels = levelsOf(burstBits([code], { leadFlags: 4, tailFlags: 2 }))
    const received = bitsAgain(levels)
    // One bit in each of half as many bytes as check bytes.
    for (let k = 0; k < checks / 2; k++) received[32 + 64 + 8 * (3 + k)]! ^= 1
    const reader = new CorrectionReader(() => true)
    const found = [1, ...levelsOf(received)].flatMap((level) => reader.push(level ? 9 : -9) ?? [])
    expect(found).toHaveLength(1)
    expect(hexOf(found[0]!.bytes)).toBe(hexOf(frame))
    expect(found[0]!.corrected).toBe(checks / 2)
  })

  it('leaves frames that fit into no block as they are', () => {
    expect(correctedBits(uiFrame('Q5RVR', 'APZ001', [], 'x'.repeat(256)), 16)).toBeUndefined()
  })

  it('can be read by stations that do not know it', () => {
    const reader = new HdlcReader(() => true)
    const levels = levelsOf(burstBits([correctedBits(frame, 32)!], { leadFlags: 4, tailFlags: 2 }))
    expect([1, ...levels].flatMap((level) => hexOf(reader.push(level ? 9 : -9)?.bytes ?? new Uint8Array()) || [])).toEqual([hexOf(frame)])
  })
})

function bitsAgain(levels: readonly number[]): number[] {
  return levels.map((level, k) => (level === (k === 0 ? 1 : levels[k - 1]) ? 1 : 0))
}

describe('frames from line levels', () => {
  const frame = bytesOf(FRAME_VECTORS[1]!.hex)
  const levels = levelsOf(burstBits([stuffedBits(frame)], { leadFlags: 2, tailFlags: 1 }))

  it('mends what is doubtful, and only that', () => {
    const read = (sure: (k: number) => number) => {
      const reader = new HdlcReader((bytes) => parseAx25(bytes).ok)
      return [1, ...levels].flatMap((level, k) => {
        const wrong = k === 40 || k === 77
        const found = reader.push(((level === 1) !== wrong ? 1 : -1) * sure(k))
        return found ? [found] : []
      })
    }
    expect(read((k) => (k === 40 || k === 77 ? 0.4 : 9))).toEqual([expect.objectContaining({ bytes: frame, mended: 2 })])
    // All as sure as each other: what is wrong cannot be told.
    expect(read(() => 9)).toEqual([])
    expect(read(() => 0.5)).toEqual([])
  })

  it('takes any levels without harm, and finds no frame in them', () => {
    const random = createRandom(3)
    const reader = new HdlcReader((bytes) => parseAx25(bytes).ok)
    const corrections = new CorrectionReader((bytes) => parseAx25(bytes).ok)
    for (let k = 0; k < 300_000; k++) {
      const llr = 10 * (random() - 0.5)
      expect(reader.push(llr) ?? corrections.push(llr)).toBeUndefined()
    }
  })
})

describe('lines', () => {
  it.each([
    ['Q5RVR>APZ001:hello', 'Q5RVR>APZ001:hello'],
    ['Q5RVR-9>APZ001,Q8TOP*,WIDE2-1:a:b>c', 'Q5RVR-9>APZ001,Q8TOP*,WIDE2-1:a:b>c'],
    ['Q5RVR>CQ,Q8TOP,Q9HIL*:', 'Q5RVR>CQ,Q8TOP,Q9HIL*:'],
  ])('%s is a frame', (line, again) => {
    const frame = frameOfLine(line)
    const parsed = frame.ok && parseAx25(frame.value)
    expect(parsed && parsed.ok && monitorLine(parsed.value)).toBe(again)
  })

  it.each([
    ['Q5RVR:hello', /is no frame/],
    ['Q5RVR>APZ001,A,B,C,D,E,F,G,H,I:x', /at most 8 hops, not 9/],
    ['Q5RVR-16>APZ001:x', /SSID up to 15/],
    ['q5rvr>APZ001:x', /"q5rvr" is no address/],
  ])('%s is none', (line, why) => {
    const frame = frameOfLine(line)
    expect(frame.ok ? '' : frame.error).toMatch(why)
  })
})

const FRAMES = ['first', 'the second one, of other length', 'x'.repeat(120)].map((text) => uiFrame('Q5RVR-9', 'APZ001', ['Q8TOP'], text))

interface Air extends Omit<BurstOptions, 'sampleRateHz'> {
  noise?: number
  seed?: number
  invert?: boolean
}

/** What a receiver makes of a burst with a second of noise before and after it. */
function hear(
  id: PacketModemId,
  frames: readonly Uint8Array[],
  { noise = 0.01, seed = 1, invert = false, ...options }: Air = {},
): HeardFrame[] {
  const { sampleRateHz, modulate, createReceiver } = PACKET_MODEMS[id]
  const burst = modulate(frames, { sampleRateHz, amplitude: 0.2, ...options })
  const gaussian = createGaussian(createRandom(seed))
  const samples = new Float32Array(burst.length + 2 * sampleRateHz)
  burst.forEach((value, i) => (samples[sampleRateHz + i] = invert ? -value : value))
  const receiver = createReceiver()
  const out: HeardFrame[] = []
  for (let at = 0; at < samples.length; at += 1000)
    out.push(...receiver.push(samples.slice(at, at + 1000).map((value) => value + noise * gaussian())))
  return out
}

describe.each(PACKET_MODEM_IDS)('%s', (id) => {
  const texts = (heard: readonly HeardFrame[]) => heard.map(({ bytes }) => hexOf(bytes))
  const all = FRAMES.map(hexOf)

  it('hears several frames of one burst, where they stood', () => {
    const heard = hear(id, FRAMES)
    expect(texts(heard)).toEqual(all)
    expect(heard.every(({ mended }) => mended === 0)).toBe(true)
    // Behind a second of noise and 0.3 s of flags.
    expect(heard[0]!.startS).toBeGreaterThan(1.25)
    expect(heard[0]!.startS).toBeLessThan(1.35)
    expect(heard.at(-1)!.endS).toBeLessThan(1 + burstSeconds(id, FRAMES, {}) + 0.05)
  })

  it.each([
    ['little preamble', { txDelayMs: 0 }],
    ['a fast clock', { clockPpm: 200 }],
    ['a slow clock', { clockPpm: -200 }],
    ['the other polarity', { invert: true }],
    ['digital silence around it', { noise: 0 }],
    ['error correction', { correction: 32 }],
    ['a weak signal', { amplitude: 0.002, noise: 0.0002 }],
  ] as [string, Air][])('hears all with %s', (_, air) => {
    expect(texts(hear(id, FRAMES, air))).toEqual(all)
  })

  it('gains by the correction where noise spoils plain frames', () => {
    const noise = { packet1200: 0.21, packet300: 0.36, packet9600: 0.13 }[id]
    const count = (air: Air) =>
      Array.from({ length: 8 }, (_, seed) => hear(id, FRAMES.slice(0, 2), { noise, seed, ...air }).length).reduce((a, b) => a + b)
    expect(count({ correction: 64 })).toBeGreaterThan(count({}) + 4)
  })

  it('hears nothing in noise, and a carrier only while there is one', () => {
    const { sampleRateHz, modulate, createReceiver } = PACKET_MODEMS[id]
    const gaussian = createGaussian(createRandom(8))
    const noise = () => Float32Array.from({ length: sampleRateHz }, () => 0.1 * gaussian())
    const receiver = createReceiver()
    for (let second = 0; second < 10; second++) {
      expect(receiver.push(noise())).toEqual([])
      expect(receiver.carrier).toBe(false)
    }
    const long = modulate(
      Array.from({ length: 12 }, () => FRAMES[2]!),
      { sampleRateHz, amplitude: 0.3 },
    )
    receiver.push(long.slice(0, 0.9 * sampleRateHz).map((value) => value + 0.02 * gaussian()))
    expect(receiver.carrier).toBe(true)
    for (let second = 0; second < 3; second++) receiver.push(noise())
    expect(receiver.carrier).toBe(false)
    // A steady tone is loud, and nobody.
    const tone = (hz: number) =>
      Float32Array.from({ length: 2 * sampleRateHz }, (_, i) => 0.3 * Math.sin((2 * Math.PI * hz * i) / sampleRateHz) + 0.01 * gaussian())
    for (const hz of [1000, 1200, 2200]) {
      receiver.push(tone(hz))
      expect([hz, receiver.carrier]).toEqual([hz, false])
    }
  })
})

describe('1200 baud', () => {
  it.each([9, -9])('loses no strong frame whose tones are %i dB apart, whatever its length', (twistDb) => {
    for (let letters = 0; letters < 24; letters += 3) {
      const frame = uiFrame('Q5RVR', 'TEST', ['Q8TOP'], 'hello '.padEnd(6 + letters, 'x'))
      expect(hear('packet1200', [frame], { twistDb })).toHaveLength(1)
    }
  })

  it.each([8, -8])('hears tones that are %i dB apart, and says so', (twistDb) => {
    const heard = hear('packet1200', FRAMES, { twistDb })
    expect(heard).toHaveLength(3)
    // The closer to the truth the better, but not better than the leak of one tone into the other's integral allows.
    expect(Math.abs(heard[1]!.twistDb! - twistDb)).toBeLessThan(1.5)
  })

  it('hears two stations in a row, one much weaker', () => {
    const { sampleRateHz, modulate, createReceiver } = PACKET_MODEMS.packet1200
    const gaussian = createGaussian(createRandom(5))
    const bursts = [0.4, 0.02, 0.3, 0.02].map((amplitude, k) =>
      modulate([uiFrame(`Q${k}AB`, 'APZ001', [], 'one of four')], { sampleRateHz, amplitude, txDelayMs: 100 }),
    )
    const receiver = createReceiver()
    const samples = [new Float32Array(12_000), ...bursts, new Float32Array(12_000)].flatMap((part) => [...part])
    const heard = receiver.push(Float32Array.from(samples, (value) => value + 0.003 * gaussian()))
    expect(heard.map(({ bytes }) => parseAx25(bytes)).map((parsed) => parsed.ok && parsed.value.source)).toEqual([
      'Q0AB',
      'Q1AB',
      'Q2AB',
      'Q3AB',
    ])
    expect(heard[1]!.levelDb).toBeLessThan(heard[0]!.levelDb - 20)
  })
})

describe('300 baud', () => {
  it('hears a sender anywhere, and says where', () => {
    for (const centreHz of [620, 1180, 1705, 2240, 2700]) {
      const heard = hear('packet300', FRAMES.slice(0, 1), { centreHz })
      expect(heard).toHaveLength(1)
      expect(Math.abs(heard[0]!.offsetHz! + 1700 - centreHz)).toBeLessThan(5)
    }
  })

  it('hears three at once', () => {
    const { sampleRateHz, modulate, createReceiver } = PACKET_MODEMS.packet300
    const gaussian = createGaussian(createRandom(5))
    const samples = Float32Array.from({ length: 6 * sampleRateHz }, () => 0.01 * gaussian())
    ;[700, 1400, 2200].forEach((centreHz, k) =>
      modulate([FRAMES[k]!], { sampleRateHz, amplitude: 0.1, centreHz }).forEach((value, i) => (samples[6000 + 2000 * k + i]! += value)),
    )
    const receiver = createReceiver()
    const heard = receiver.push(samples).map(({ bytes }) => hexOf(bytes))
    expect(heard.sort()).toEqual(FRAMES.map(hexOf).sort())
  })
})

describe('the path of 9600 baud', () => {
  const noise = (length: number) => {
    const gaussian = createGaussian(createRandom(2))
    return Float32Array.from({ length }, () => 0.1 * gaussian())
  }

  it('is wide enough when noise passes above voice', () => {
    const path = new PulsePath()
    path.push(noise(48_000))
    expect(path.problem).toBeUndefined()
  })

  it('is not behind a voice filter', () => {
    const narrow = new PulsePath()
    narrow.push(PACKET_MODEMS.packet1200.modulate(FRAMES, { sampleRateHz: 48_000 }))
    expect(narrow.problem).toMatch(/unfiltered data socket/)
  })

  it('cannot be made at a low sample rate', () => {
    expect(() => PACKET_MODEMS.packet9600.modulate(FRAMES, { sampleRateHz: 12_000 })).toThrow(/44100 or 48000/)
  })
})

it('bytes go least significant bit first', () => {
  expect(bitsOf(Uint8Array.of(0x7e, 0x01))).toEqual([0, 1, 1, 1, 1, 1, 1, 0, 1, 0, 0, 0, 0, 0, 0, 0])
})
