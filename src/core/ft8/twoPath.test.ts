import { createRandom } from '../dsp/random'
import { blankClicks } from './blankClicks'
import { simulateSlot } from './simulate'
import { overTwoPaths } from './twoPath'

const RATE = 2000
const tone = (shift: number) => Float32Array.from({ length: 10 * RATE }, (_, i) => Math.cos((2 * Math.PI * 300 * i) / RATE + shift))
const meanSquare = (x: ArrayLike<number>) => Array.from(x).reduce((sum, v) => sum + v * v, 0) / x.length

describe('overTwoPaths', () => {
  it('keeps the mean power over many draws, and fades', () => {
    let sum = 0
    let faded = 0
    const random = createRandom(5)
    for (let n = 0; n < 40; n++) {
      const out = overTwoPaths(tone(0), tone(-Math.PI / 2), RATE, { spreadHz: 1 }, random)
      sum += meanSquare(out) / 0.5
      const pieces = Array.from({ length: 20 }, (_, i) => meanSquare(out.subarray((i * RATE) / 2, ((i + 1) * RATE) / 2)))
      if (Math.min(...pieces) < 0.1 * Math.max(...pieces)) faded++
    }
    expect(sum / 40).toBeGreaterThan(0.8)
    expect(sum / 40).toBeLessThan(1.2)
    expect(faded).toBeGreaterThan(34)
  })

  it('spreads a tone by about its spread', () => {
    const out = overTwoPaths(tone(0), tone(-Math.PI / 2), RATE, { spreadHz: 0.5, delayS: 0 }, createRandom(8))
    const powerAt = (hz: number) => {
      let re = 0
      let im = 0
      out.forEach((v, i) => {
        re += v * Math.cos((2 * Math.PI * hz * i) / RATE)
        im += v * Math.sin((2 * Math.PI * hz * i) / RATE)
      })
      return re * re + im * im
    }
    const near = [299.75, 299.9, 300, 300.1, 300.25].map(powerAt).reduce((a, b) => a + b)
    const far = [297, 298, 302, 303].map(powerAt).reduce((a, b) => a + b)
    expect(near).toBeGreaterThan(50 * far)
  })
})

describe('blankClicks', () => {
  it('silences a click and leaves noise and signals as they are', () => {
    const slot = simulateSlot([{ text: 'CQ Q5RVR JN97', snrDb: 15, audioOffsetHz: 1500, timeOffsetS: 0 }], 3)
    expect(blankClicks(slot)).toBe(slot)
    const clicked = slot.slice()
    for (let i = 60_000; i < 60_012; i++) clicked[i] = 0.9
    const quiet = blankClicks(clicked)
    expect(quiet.subarray(60_000, 60_012).every((v) => v === 0)).toBe(true)
    expect(clicked[60_000]).toBeCloseTo(0.9)
    expect(quiet.subarray(0, 59_000)).toEqual(slot.subarray(0, 59_000))
  })

  it('does not take a strong signal that begins in the middle of a stretch for clicks', () => {
    const samples = simulateSlot([], 4)
    for (let i = 4900; i < 9000; i++) samples[i]! += Math.sin(i / 2)
    expect(blankClicks(samples)).toBe(samples)
  })

  it('bears silence and values that are no numbers', () => {
    const silent = new Float32Array(4800)
    expect(blankClicks(silent)).toBe(silent)
    silent[7] = Number.NaN
    expect(() => blankClicks(silent)).not.toThrow()
  })
})
