import { createRandom } from '../dsp'
import { Psk31Band, type Psk31Channel } from './band'
import { encodePsk31 } from './modulate'
import { clearNear, OCCUPANCY_STEP_HZ } from './occupancy'
import { SAMPLE_RATE_HZ } from './signal'
import { amplitudeForSnr, simulateBand } from './simulate'
import { withRead } from './stretches'

const TEXT = 'cq cq de Q2LMN Q2LMN Q2LMN pse k and a few words more'

/** A transmitter whose third-order products are so far below: two tones of half an amplitude through a cubic bend. */
function bent(productsDb: number, snrDb: number): Float32Array {
  const ratio = 10 ** (productsDb / 20)
  const half = 0.5
  const bend = ratio / (0.75 * half * half + 2.25 * ratio * half * half)
  const gain = amplitudeForSnr(snrDb) / (1 - 2.25 * bend * half * half)
  return encodePsk31(TEXT, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz: 1103, amplitude: 1 }).map((x) => gain * (x - bend * x ** 3))
}

/** What is told at last of the strongest of all that were heard. */
function observed(samples: Float32Array): { channel: Psk31Channel; band: Psk31Band } {
  const band = new Psk31Band()
  const seen = new Map<number, Psk31Channel>()
  for (let at = 0; at < samples.length; at += 2048) {
    band.push(samples.subarray(at, at + 2048))
    for (const channel of band.channels) if (channel.doing !== 'gone') seen.set(channel.channel, channel)
  }
  const [channel] = [...seen.values()].sort((a, b) => b.snrDb - a.snrDb)
  return { channel: channel!, band }
}

/** All that is read of it, by frequency. */
function conversationsOf(samples: Float32Array): string[] {
  const band = new Psk31Band()
  const texts = new Map<number, string>()
  for (let at = 0; at < samples.length; at += 2048)
    for (const one of band.push(samples.subarray(at, at + 2048))) texts.set(one.channel, withRead(texts.get(one.channel) ?? '', one))
  return [...texts.values()].map((text) => text.trim()).filter(Boolean)
}

function overNoise(signal: Float32Array, seed: number): Float32Array {
  const out = simulateBand([], signal.length / SAMPLE_RATE_HZ + 3, seed)
  signal.forEach((value, i) => (out[i + SAMPLE_RATE_HZ]! += value))
  return out
}

describe('the linearity of a transmitter', () => {
  it.each([
    [-12, 15],
    [-17, 15],
    [-23, 15],
    [-17, 25],
    [-30, 25],
  ])('is told within 2 dB: products at %i dB, heard at %i dB', (productsDb, snrDb) => {
    for (const seed of [1, 2]) {
      const { linearity } = observed(overNoise(bent(productsDb, snrDb), seed)).channel
      expect(linearity!.atMost).toBe(false)
      expect(Math.abs(linearity!.productsDb - productsDb)).toBeLessThan(2)
      expect(linearity!.hum).toBeUndefined()
    }
  })

  it('of a clean one is a limit, and of a weak one is not told', () => {
    const clean = encodePsk31(TEXT, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz: 1103, amplitude: amplitudeForSnr(15) })
    expect(observed(overNoise(clean, 4)).channel.linearity).toMatchObject({ atMost: true })
    const weak = encodePsk31(TEXT, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz: 1103, amplitude: amplitudeForSnr(-8) })
    expect(observed(overNoise(weak, 5)).channel.linearity).toBeUndefined()
  })

  it('does not count what a neighbour puts where its products would be', () => {
    const samples = simulateBand(
      [
        { text: TEXT, frequencyHz: 1103, snrDb: 20, startS: 1 },
        // Talks all the time, some 50 Hz above.
        { text: TEXT, frequencyHz: 1155, snrDb: 8, startS: 0 },
      ],
      18,
      6,
    )
    const { linearity } = observed(samples).channel
    expect(linearity!.productsDb).toBeLessThan(-25)
  })

  it('is not confused with hum, which is told apart', () => {
    const idle = encodePsk31(TEXT, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz: 1103, amplitude: amplitudeForSnr(20) })
    const hummed = idle.map((value, i) => value * (1 + 0.2 * Math.sin((2 * Math.PI * 100 * i) / SAMPLE_RATE_HZ)))
    const { channel, band } = observed(overNoise(hummed, 7))
    const { linearity } = channel
    // Its copies 100 Hz beside it are nobody's; a word may be read before it is found of what they are copies, or after it has ended.
    expect(channel.frequencyHz).toBeCloseTo(1103, 0)
    expect(band.unread).toEqual([])
    const [longest, ...rest] = conversationsOf(overNoise(hummed, 7)).sort((a, b) => b.length - a.length)
    expect(longest).toBe(TEXT)
    for (const text of rest) expect(text.length).toBeLessThan(12)
    expect(linearity!.hum!.hz).toBe(100)
    // Each of its lines is half of a fifth of the amplitude.
    expect(linearity!.hum!.db).toBeCloseTo(20 * Math.log10(0.1), 0)
  })
})

describe('what else is told of a signal', () => {
  it('is of who is heard now: the next one on the frequency is not told of with the figures of the one before', () => {
    const first = bent(-13, 20)
    const second = encodePsk31(TEXT, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz: 1103, amplitude: amplitudeForSnr(8) })
    const samples = simulateBand([], (first.length + second.length) / SAMPLE_RATE_HZ + 5, 12)
    first.forEach((value, i) => (samples[i + SAMPLE_RATE_HZ]! += value))
    second.forEach((value, i) => (samples[i + first.length + 3 * SAMPLE_RATE_HZ]! += value))
    const told: { atS: number; channel: Psk31Channel }[] = []
    const band = new Psk31Band()
    for (let at = 0; at < samples.length; at += 2048) {
      band.push(samples.subarray(at, at + 2048))
      for (const channel of band.channels)
        if (channel.doing === 'text' && Math.abs(channel.frequencyHz - 1103) < 10) told.push({ atS: at / SAMPLE_RATE_HZ, channel })
    }
    const turnS = first.length / SAMPLE_RATE_HZ + 3
    expect(told.filter(({ atS }) => atS < turnS).at(-1)!.channel.linearity!.productsDb).toBeCloseTo(-13, 0)
    const last = told.at(-1)!
    expect(last.atS).toBeGreaterThan(turnS + 5)
    expect(last.channel.linearity?.atMost ?? true).toBe(true)
    expect(last.channel.fading?.depthDb ?? 0).toBeLessThan(4)
  })

  it('drift, and that a steady one is steady', () => {
    const samples = simulateBand([{ text: `${TEXT} ${TEXT}`, frequencyHz: 900, snrDb: 10, startS: 0.5, driftHzS: 0.2 }], 26, 8)
    const { channel } = observed(samples)
    expect(channel.driftHzS).toBeCloseTo(0.2, 1)
    expect(channel.steadiness).toBeGreaterThan(0.8)
    expect(channel.fading!.depthDb).toBeLessThan(4)
  })
})

describe('how full the band is', () => {
  it('shows where a conversation is, and a clear place near it', () => {
    const { band } = observed(simulateBand([{ text: TEXT, frequencyHz: 1000, snrDb: 10, startS: 0 }], 8, 9))
    const at = (hz: number) => band.occupancy[Math.round((hz - 200) / OCCUPANCY_STEP_HZ)]!
    expect(at(1000)).toBeGreaterThan(15)
    expect(at(2000)).toBeLessThan(3)
    const clear = clearNear(band.occupancy, 1000, { withinHz: 300 })!
    expect(Math.abs(clear - 1000)).toBeGreaterThanOrEqual(80)
    expect(Math.abs(clear - 1000)).toBeLessThanOrEqual(140)
    expect(clearNear(band.occupancy, 2000, { withinHz: 300 })).toBeUndefined()
    // The one we work is not in our way; who is beside him is.
    expect(clearNear(band.occupancy, 1000, { withinHz: 300, theirs: true })).toBeUndefined()
    expect(clearNear(band.occupancy, 1070, { withinHz: 300, theirs: true })).toBeGreaterThan(1100)
  })

  it('has nothing better where all is full, and the least bad where that is much clearer', () => {
    const random = createRandom(2)
    const full = Array.from({ length: 141 }, () => 20 + random())
    expect(clearNear(full, 1000, { withinHz: 300 })).toBeUndefined()
    full[55] = 10
    expect(clearNear(full, 1000, { withinHz: 400 })).toBe(200 + 55 * OCCUPANCY_STEP_HZ)
    expect(clearNear([], 1000, { withinHz: 300 })).toBeUndefined()
  })
})
