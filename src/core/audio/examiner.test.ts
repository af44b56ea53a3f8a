import { createBandFilter, createRandom, whiteNoise } from '../dsp'
import { addSignal, simulatedCrowd } from '../ft8'
import { createAudioExaminer, createMonoMix, createRecordingExaminer, examineAudio } from './index'

const RATE = 12_000
const NOISE = 0.02
const sine = (hz: number, amplitude: number, seconds: number, rate = RATE, phase = 0) =>
  Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / rate + phase))
const add = (...parts: Float32Array[]) => parts[0]!.map((_, i) => parts.reduce((sum, part) => sum + part[i]!, 0))
const noise = (seconds = 10, rms = NOISE, seed = 3, rate = RATE) => whiteNoise(Math.round(seconds * rate), rms, seed)

describe('measurements against signals whose truth is known', () => {
  test('a sine: mean 3.01 dB under its peak, peak, headroom and crest', () => {
    const r = examineAudio([sine(1000, 0.5, 4)], RATE)
    expect(r.rmsDbfs).toBeCloseTo(20 * Math.log10(0.5 / Math.SQRT2), 1)
    expect(r.peakDbfs).toBeCloseTo(-6.02, 1)
    expect(r.headroomDb).toBeCloseTo(6.02, 1)
    expect(r.crestDb).toBeCloseTo(3.01, 1)
    expect(r.clippedFraction).toBe(0)
  })
  test('white noise: density within 0.5 dB at three levels', () => {
    for (const rms of [0.001, 0.02, 0.15]) {
      const r = examineAudio([noise(10, rms)], RATE)
      expect(Math.abs(r.noiseFloorDbfsPerHz - (20 * Math.log10(rms) - 10 * Math.log10(6000)))).toBeLessThan(0.5)
    }
  })
  test('the floor is found under strong carriers, and at 48 kHz as at 12', () => {
    const truth = 20 * Math.log10(NOISE) - 10 * Math.log10(6000)
    const carriers = add(noise(), sine(700, 0.2, 10), sine(1501, 0.1, 10), sine(2333, 0.3, 10))
    expect(Math.abs(examineAudio([carriers], RATE).noiseFloorDbfsPerHz - truth)).toBeLessThan(0.5)
    const fast = examineAudio([noise(6, NOISE, 5, 48_000)], 48_000)
    expect(Math.abs(fast.noiseFloorDbfsPerHz - (20 * Math.log10(NOISE) - 10 * Math.log10(24_000)))).toBeLessThan(0.5)
  })
  test.each([
    [250, 2750],
    [300, 2700],
    [1250, 1750],
  ])('passband %i to %i Hz, each edge within 60 Hz', (low, high) => {
    const r = examineAudio([createBandFilter(RATE, low, high)(noise(8))], RATE)
    expect(Math.abs(r.passbandHz![0] - low)).toBeLessThan(60)
    expect(Math.abs(r.passbandHz![1] - high)).toBeLessThan(60)
  })
  test('clipping is counted as it happened, also where it happened below full scale', () => {
    const loud = noise(6, 0.4, 9)
    for (const top of [1, 0.5]) {
      const truth = loud.filter((value) => Math.abs(value) >= top).length / loud.length
      const r = examineAudio([loud.map((value) => Math.max(-top, Math.min(top, value)))], RATE)
      expect(Math.abs(r.clippedFraction / truth - 1)).toBeLessThan(0.1)
    }
  })
  test.each([50, 60] as const)('hum of %i Hz: which, and how strong', (mains) => {
    const lines = [1, 2, 3, 5].map((k) => sine(mains * k * 1.0008, 0.01, 12, RATE, k))
    const r = examineAudio([add(noise(12, 0.005), ...lines)], RATE)
    expect(r.humHz).toBe(mains)
    expect(r.humDbfs!).toBeCloseTo(20 * Math.log10((0.01 / Math.SQRT2) * 2), 0)
    expect(examineAudio([noise(12, 0.005)], RATE).humHz).toBeNull()
  })
  test('a carrier or two are no hum', () => {
    expect(examineAudio([add(noise(), sine(1000, 0.05, 10), sine(1500, 0.05, 10))], RATE).humHz).toBeNull()
  })
  test('pauses of digital silence do not count as noise', () => {
    const muted = noise(12)
    for (let s = 1; s < 12; s += 3) muted.fill(0, s * RATE, (s + 0.8) * RATE)
    const r = examineAudio([muted], RATE)
    expect(Math.abs(r.noiseFloorDbfsPerHz - (20 * Math.log10(NOISE) - 10 * Math.log10(6000)))).toBeLessThan(0.5)
    expect(r.findings.map((f) => f.code)).toEqual(['noise-gate'])
  })
  test('offset', () => {
    expect(examineAudio([noise(3).map((value) => value + 0.1)], RATE).dcOffset).toBeCloseTo(0.1, 3)
  })
})

test('mono of two channels leaves out a dead one and one that would cancel', () => {
  const loud = noise(1)
  const level = (channels: Float32Array[]) => examineAudio([createMonoMix().push(channels)], RATE).rmsDbfs
  const alone = level([loud])
  expect(level([loud, new Float32Array(loud.length)])).toBeCloseTo(alone, 3)
  expect(level([loud, loud.map((value) => -value)])).toBeCloseTo(alone, 3)
  expect(level([loud, loud])).toBeCloseTo(alone, 3)
})

test('streamed in odd pieces the report is the same as at once', () => {
  const samples = noise(6)
  const whole = examineAudio([samples], RATE)
  const examiner = createAudioExaminer(RATE)
  for (let at = 0; at < samples.length; at += 1777) examiner.push([samples.subarray(at, at + 1777)])
  examiner.flush()
  const pieces = examiner.report()!
  expect(pieces.rmsDbfs).toBeCloseTo(whole.rmsDbfs, 6)
  expect(pieces.noiseFloorDbfsPerHz).toBeCloseTo(whole.noiseFloorDbfsPerHz, 2)
  expect(createAudioExaminer(RATE).report()).toBeUndefined()
})

test('a fault in the middle of a long recording is found, with its place', () => {
  const samples = noise(60, NOISE, 6)
  samples.fill(1, 25 * RATE, 25 * RATE + 200)
  const examiner = createRecordingExaminer(RATE, samples.length)
  for (let at = 0; at < samples.length; at += 50_000) examiner.push([samples.subarray(at, at + 50_000)])
  const r = examiner.finish()
  expect(r.durationS).toBeCloseTo(60, 6)
  expect(r.findings.find((f) => f.code === 'clipping')?.fromS).toBeCloseTo(20, 3)
  expect(r.clippedFraction).toBeCloseTo(200 / samples.length, 7)
  expect(() => createRecordingExaminer(RATE, 10).finish()).toThrow(RangeError)
})

describe('a strong carrier that is keyed on and off', () => {
  /** 1.6 s on and 1.4 s off, 30 dB over the noise in 2500 Hz, with an automatic gain that comes down by so much under it. */
  const keyed = (duckDb: number, seed: number) => {
    const rms = 0.004
    const noise2500 = rms ** 2 * (2500 / 6000)
    const power = noise2500 * 1000
    const samples = noise(20, rms, seed)
    let gainDb = 0
    for (let i = 0; i < samples.length; i++) {
      const on = (i / RATE + 0.3 * seed) % 3 < 1.6
      gainDb += (on ? -duckDb - gainDb : -gainDb) * (on ? 0.004 : 0.0004)
      const carrier = on ? Math.sqrt(2 * power) * Math.sin((2 * Math.PI * 1234 * i) / RATE) : 0
      // Another station is as strong as what the gain leaves of the first one, so that the strongest never changes.
      const other = Math.sqrt(2 * noise2500 * 10 ** (1.5 + (15 - duckDb) / 10)) * Math.sin((2 * Math.PI * 777 * i) / RATE)
      samples[i] = (samples[i]! + carrier + other) * 10 ** (gainDb / 20)
    }
    return examineAudio([samples], RATE).findings.map((f) => f.code)
  }
  test.each([1, 2, 3, 4])('and ducks the noise by 15 dB is found, seed %i', (seed) => expect(keyed(15, seed)).toContain('agc-pumping'))
  test.each([1, 2, 3, 4])('and ducks it by 6 dB is found, seed %i', (seed) => expect(keyed(6, seed)).toContain('agc-pumping'))
  test.each([1, 2, 3, 4])('and leaves it alone is no fault, seed %i', (seed) => expect(keyed(0, seed)).toEqual([]))
})

test('what could not have been found in what is on is named', () => {
  expect(examineAudio([noise(20)], RATE).unseen).toEqual([expect.stringMatching(/noise reduction of less than/)])
  expect(examineAudio([new Float32Array(5 * RATE)], RATE).unseen).toEqual([])
  const crowd = noise(20)
  const random = createRandom(4)
  for (const startS of [-6, 9])
    for (const signal of simulatedCrowd(50, random, { lowestHz: 250, highestHz: 2750 }))
      addSignal(crowd, Math.round(startS * RATE), signal, random, NOISE)
  expect(examineAudio([createBandFilter(RATE, 200, 2900)(crowd)], RATE).unseen).toContain('speech in the room')
})
