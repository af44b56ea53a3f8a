import { createRandom } from '../dsp/random'
import { decodeSlot } from './decode'
import { encodeFt8 } from './encode'
import { addSignal, simulatedCrowd, simulateSlot } from './simulate'

const signal = (over: Partial<Parameters<typeof addSignal>[2]> = {}) => ({
  text: 'CQ Q5RVR JN97',
  snrDb: -10,
  audioOffsetHz: 1234.5,
  timeOffsetS: 0.21,
  ...over,
})

describe('decodeSlot', () => {
  it('finds one signal where, when and as strong as it was sent', () => {
    const [found, ...more] = decodeSlot(simulateSlot([signal()], 1))
    expect(more).toEqual([])
    expect(found).toMatchObject({ text: 'CQ Q5RVR JN97', pass: 1 })
    expect(found!.frequencyHz).toBeCloseTo(1234.5, 0)
    expect(Math.abs(found!.timeOffsetS - 0.21)).toBeLessThan(0.02)
    expect(Math.abs(found!.snrDb + 10)).toBeLessThan(1.5)
  })

  it.each([-2.4, -1, 0, 1, 2.4])('finds a signal whose clock is %s s off', (timeOffsetS) => {
    const samples = simulateSlot([], 2, { durationS: 20 })
    addSignal(samples, 2.5 * 12_000, signal({ timeOffsetS, snrDb: -12 }), createRandom(4))
    const found = decodeSlot(samples, { slotStartS: 2.5 })
    expect(found.map((d) => d.text)).toEqual(['CQ Q5RVR JN97'])
    expect(Math.abs(found[0]!.timeOffsetS - timeOffsetS)).toBeLessThan(0.02)
  })

  it.each([205, 640.7, 2940])('finds a signal at %s Hz', (audioOffsetHz) => {
    expect(decodeSlot(simulateSlot([signal({ audioOffsetHz })], 3)).map((d) => d.text)).toEqual(['CQ Q5RVR JN97'])
  })

  it('copies at least nine of ten at -20 dB', () => {
    let copied = 0
    for (let seed = 100; seed < 120; seed++) {
      const slot = simulateSlot([signal({ snrDb: -20, audioOffsetHz: 400 + 110.3 * (seed - 100) })], seed)
      if (decodeSlot(slot).some((d) => d.text === 'CQ Q5RVR JN97')) copied++
    }
    expect(copied).toBeGreaterThanOrEqual(18)
  })

  it('hears nothing in noise', () => {
    for (let seed = 0; seed < 8; seed++) expect(decodeSlot(simulateSlot([], seed))).toEqual([])
  })

  it('takes strong signals away to find weak ones beneath them', () => {
    const slot = simulateSlot(
      [signal({ text: 'Q1ABC Q2DEF JO31', snrDb: 5, audioOffsetHz: 1500 }), signal({ snrDb: -12, audioOffsetHz: 1518, timeOffsetS: -0.3 })],
      5,
    )
    const found = decodeSlot(slot)
    expect(found.map((d) => d.text).sort()).toEqual(['CQ Q5RVR JN97', 'Q1ABC Q2DEF JO31'])
    expect(found.find((d) => d.text === 'CQ Q5RVR JN97')!.pass).toBeGreaterThan(0)
  })

  it('merges the same message heard twice and keeps the stronger', () => {
    const found = decodeSlot(simulateSlot([signal({ snrDb: -3, audioOffsetHz: 900 }), signal({ snrDb: -12, audioOffsetHz: 2100 })], 6))
    expect(found).toHaveLength(1)
    expect(found[0]!.frequencyHz).toBeCloseTo(900, 0)
  })

  it('copies a busy slot', () => {
    const crowd = simulatedCrowd(30, createRandom(9))
    const texts = new Set(decodeSlot(simulateSlot(crowd, 10)).map((d) => d.text))
    const strong = crowd.filter((s) => s.snrDb >= -16)
    expect(strong.filter((s) => texts.has(s.text)).length).toBeGreaterThanOrEqual(0.85 * strong.length)
    expect([...texts].filter((t) => !crowd.some((s) => s.text === t))).toEqual([])
  })

  it('measures strengths in a crowd as in solitude', () => {
    const crowd = simulatedCrowd(30, createRandom(21))
    const found = decodeSlot(simulateSlot(crowd, 22))
    const errors = found.map((d) => d.snrDb - crowd.find((s) => s.text === d.text)!.snrDb).sort((a, b) => a - b)
    expect(Math.abs(errors[errors.length >> 1]!)).toBeLessThan(1.5)
  })

  it('bears drift, fading, clipping and gaps', () => {
    const drifting = simulateSlot([signal({ snrDb: -8, driftHzPerS: 0.2 })], 11)
    expect(decodeSlot(drifting)).toHaveLength(1)
    const fading = simulateSlot([signal({ snrDb: -8, fadingHz: 0.3 })], 12)
    expect(decodeSlot(fading)).toHaveLength(1)
    const clipped = simulateSlot([signal({ snrDb: 10 })], 13).map((v) => Math.max(-0.03, Math.min(0.03, v)))
    expect(decodeSlot(clipped)).toHaveLength(1)
    const gap = simulateSlot([signal({ snrDb: -5 })], 14)
    gap.fill(0, 60_000, 84_000)
    expect(decodeSlot(gap)).toHaveLength(1)
  })

  it('bears silence, no samples and values that are no numbers', () => {
    expect(decodeSlot(new Float32Array(180_000))).toEqual([])
    expect(decodeSlot(new Float32Array(0))).toEqual([])
    const odd = simulateSlot([signal({ snrDb: 0 })], 15)
    odd[5000] = Number.NaN
    odd[5001] = Infinity
    expect(decodeSlot(odd).map((d) => d.text)).toEqual(['CQ Q5RVR JN97'])
  })

  it('refuses more audio than a slot can have', () => expect(() => decodeSlot(new Float32Array(300_000))).toThrow(/245760/))

  it('keeps to its time: the surest first, and what was found so far is kept', () => {
    const crowd = simulatedCrowd(20, createRandom(31))
    const slot = simulateSlot(crowd, 32)
    let asked = 0
    const some = decodeSlot(slot, { outOfTime: () => ++asked > 25 })
    const all = decodeSlot(slot)
    expect(some.length).toBeGreaterThan(3)
    expect(some.length).toBeLessThan(all.length)
    expect(some.every((d) => all.some((other) => other.text === d.text))).toBe(true)
    expect(decodeSlot(slot, { outOfTime: () => true })).toEqual([])
  })

  it('copies what drifts and what is clicked upon', () => {
    const slot = simulateSlot([signal({ snrDb: -14, driftHzPerS: -0.9 })], 33)
    for (let i = 1000; i < slot.length; i += 1500) slot.fill(0.8, i, i + 10)
    const found = decodeSlot(slot)
    expect(found.map((d) => d.text)).toEqual(['CQ Q5RVR JN97'])
    // Where it is in its middle: 6.3 s at -0.9 Hz/s below its start.
    expect(Math.abs(found[0]!.frequencyHz - (1234.5 - 0.9 * 6.32))).toBeLessThan(1)
  })

  it('gives the same for the same', () => {
    const slot = simulateSlot(simulatedCrowd(8, createRandom(16)), 17)
    expect(decodeSlot(slot)).toEqual(decodeSlot(slot))
  })
})

describe('encodeFt8', () => {
  it.each([8000, 12_000, 44_100, 48_000])('makes 12.64 s at %i Hz with soft ends and no more than its amplitude', (sampleRateHz) => {
    const encoded = encodeFt8('CQ Q5RVR JN97', { sampleRateHz, audioOffsetHz: 1500, amplitude: 0.5 })
    if (!encoded.ok) throw new Error(encoded.error)
    expect(encoded.samples.length).toBe(Math.round(12.64 * sampleRateHz))
    expect(Math.abs(encoded.samples[0]!)).toBeLessThan(0.01)
    expect(Math.abs(encoded.samples[encoded.samples.length - 1]!)).toBeLessThan(0.01)
    expect(encoded.samples.reduce((most, v) => Math.max(most, Math.abs(v)), 0)).toBeLessThanOrEqual(0.5)
  })
  it('refuses tones outside the band', () => {
    expect(() => encodeFt8('CQ Q5RVR JN97', { sampleRateHz: 8000, audioOffsetHz: 3990 })).toThrow(/audioOffsetHz/)
  })
})
