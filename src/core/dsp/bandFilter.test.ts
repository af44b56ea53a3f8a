import { createBandFilter } from './bandFilter'
import { whiteNoise } from './random'

const RATE = 12_000

/** Gain in dB at one frequency, after the filter has settled. */
function gainDb(filter: (samples: Float32Array) => Float32Array, hz: number): number {
  const tone = Float32Array.from({ length: RATE }, (_, i) => Math.sin((2 * Math.PI * hz * i) / RATE))
  const power = (samples: Float32Array) => samples.subarray(RATE / 2).reduce((sum, value) => sum + value * value, 0)
  return 10 * Math.log10(power(filter(tone)) / power(tone))
}

describe('a filter as a radio has it', () => {
  test.each([
    [1000, 0, 0.01],
    [1900, 0, 0.01],
    [300, -6, 0.3],
    [2700, -6, 0.3],
  ])('at %d Hz the gain is %d dB', (hz, expected, within) => {
    expect(Math.abs(gainDb(createBandFilter(RATE, 300, 2700), hz) - expected)).toBeLessThan(within)
  })

  test.each([50, 180, 2820, 4000])('at %d Hz nothing is left', (hz) => {
    expect(gainDb(createBandFilter(RATE, 300, 2700), hz)).toBeLessThan(-60)
  })

  test('the pieces of a stream give what the whole gives, late by half the filter', () => {
    const noise = whiteNoise(20_000, 0.1, 7)
    const whole = createBandFilter(RATE, 300, 2700)(noise)
    const filter = createBandFilter(RATE, 300, 2700)
    const pieces: number[] = []
    let at = 0
    for (const length of [1, 0, 359, 1200, 4096, 17, 9000, 20_000]) {
      pieces.push(...filter(noise.subarray(at, at + length)))
      at += length
    }
    expect(pieces).toHaveLength(whole.length)
    expect(Math.max(...whole.map((value, i) => Math.abs(value - pieces[i]!)))).toBeLessThan(1e-6)
    const impulse = createBandFilter(RATE, 300, 2700)(Float32Array.from({ length: 600 }, (_, i) => Number(i === 0)))
    expect(impulse.indexOf(Math.max(...impulse))).toBe(180)
  })
})
