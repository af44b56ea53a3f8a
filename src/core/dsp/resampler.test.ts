import { createResampler, resample } from './resampler'

const tone = (hz: number, rate: number, seconds: number) =>
  Float32Array.from({ length: Math.round(rate * seconds) }, (_, i) => Math.sin((2 * Math.PI * hz * i) / rate))

/** Amplitude of a tone in the middle half of some audio. */
function amplitudeOf(samples: Float32Array, hz: number, rate: number): number {
  const from = samples.length >> 2
  const to = 3 * from
  let re = 0
  let im = 0
  for (let i = from; i < to; i++) {
    re += samples[i]! * Math.cos((2 * Math.PI * hz * i) / rate)
    im += samples[i]! * Math.sin((2 * Math.PI * hz * i) / rate)
  }
  return (2 * Math.hypot(re, im)) / (to - from)
}

describe('createResampler', () => {
  it.each([8000, 11_025, 16_000, 22_050, 44_100, 48_000, 96_000, 192_000])('keeps a 1500 Hz tone from %i Hz, and its instant', (rate) => {
    const out = resample(tone(1500, rate, 1), rate, 12_000)
    expect(out.length).toBe(12_000)
    expect(amplitudeOf(out, 1500, 12_000)).toBeCloseTo(1, 2)
    const wanted = tone(1500, 12_000, 1)
    for (let i = 3000; i < 9000; i += 97) expect(Math.abs(out[i]! - wanted[i]!)).toBeLessThan(0.01)
  })

  it('keeps tones above the new band from folding back', () => {
    const out = resample(tone(9500, 48_000, 1), 48_000, 12_000)
    expect(amplitudeOf(out, 2500, 12_000)).toBeLessThan(1e-4)
  })

  it('gives the same in pieces as in one', () => {
    const input = tone(1234, 44_100, 0.5)
    const whole = createResampler(44_100, 12_000).push(input)
    const pieces = createResampler(44_100, 12_000)
    const joined: number[] = []
    for (let at = 0; at < input.length; at += 777) joined.push(...pieces.push(input.subarray(at, at + 777)))
    expect(joined.length).toBe(whole.length)
    joined.forEach((value, i) => expect(Math.abs(value - whole[i]!)).toBeLessThan(1e-6))
  })

  it.each([0, -1, 12_000.5, 1e6])('refuses %p samples a second', (rate) =>
    expect(() => createResampler(rate, 12_000)).toThrow(/sample rate/),
  )
})
