import { judgeLevel, measureLevel } from './levelMeter'

const sine = (peak: number) => Float32Array.from({ length: 12_000 }, (_, i) => peak * Math.sin((2 * Math.PI * 1500 * i) / 12_000))

describe('measureLevel', () => {
  it('measures a sine', () => {
    const reading = measureLevel(sine(0.1), 12_000)
    expect(reading.rmsDbfs).toBeCloseTo(-23.01, 1)
    expect(reading.peakDbfs).toBeCloseTo(-20, 1)
    expect(reading).toMatchObject({ clippedSamples: 0, digitalSilence: false, durationS: 1 })
  })
  it('counts clipped runs, not single peaks', () => {
    expect(measureLevel(Float32Array.from([0, 1, 0, 1, 1, 0]), 12_000).clippedSamples).toBe(0)
    expect(measureLevel(Float32Array.from([0, 1, 1, 1, 1, 0]), 12_000).clippedSamples).toBe(4)
  })
  it('refuses nothing at all', () => expect(() => measureLevel(new Float32Array(0), 12_000)).toThrow(RangeError))
})

describe('judgeLevel', () => {
  it.each([
    [sine(0.05), 'good'],
    [sine(0.9), 'high'],
    [sine(1.5).map((v) => Math.max(-1, Math.min(1, v))), 'clipping'],
    [sine(0.0001), 'low'],
    [new Float32Array(1200), 'silent'],
  ])('case %#', (samples, state) => {
    const verdict = judgeLevel(measureLevel(samples, 12_000))
    expect(verdict.state).toBe(state)
    expect(verdict.advice).not.toBe('')
  })
})
