import { createFft, createRealFft } from './fft'
import { createRandom } from './random'

const random = createRandom(3)
const noise = (n: number) => Float64Array.from({ length: n }, () => random() - 0.5)

/** The definition, summed term by term. */
function slowBin(re: Float64Array, im: Float64Array, k: number): [number, number] {
  let sumRe = 0
  let sumIm = 0
  re.forEach((value, n) => {
    const angle = (-2 * Math.PI * k * n) / re.length
    sumRe += value * Math.cos(angle) - im[n]! * Math.sin(angle)
    sumIm += value * Math.sin(angle) + im[n]! * Math.cos(angle)
  })
  return [sumRe, sumIm]
}

describe('createFft', () => {
  it.each([1, 2, 3, 4, 5, 6, 8, 15, 30, 60, 120, 225, 1920])('agrees with the definition at %i points', (n) => {
    const re = noise(n)
    const im = noise(n)
    const wanted = Array.from({ length: n }, (_, k) => slowBin(re, im, k))
    createFft(n).forward(re, im)
    wanted.forEach(([wr, wi], k) => {
      expect(re[k]).toBeCloseTo(wr, 8)
      expect(im[k]).toBeCloseTo(wi, 8)
    })
  })

  it('comes back by the inverse', () => {
    const re = noise(4096)
    const im = noise(4096)
    const before = [re.slice(), im.slice()]
    const fft = createFft(4096)
    fft.forward(re, im)
    fft.inverse(re, im)
    re.forEach((value, i) => expect(Math.abs(value - before[0]![i]!)).toBeLessThan(1e-12))
    im.forEach((value, i) => expect(Math.abs(value - before[1]![i]!)).toBeLessThan(1e-12))
  })

  it.each([0, 7, 22, 1.5])('refuses %p points', (n) => expect(() => createFft(n)).toThrow(RangeError))
})

describe('createRealFft', () => {
  it.each([2, 10, 60, 3840])('agrees with the definition at %i real samples', (n) => {
    const samples = noise(n)
    const re = new Float64Array(n / 2 + 1)
    const im = new Float64Array(n / 2 + 1)
    createRealFft(n).forward(samples, re, im)
    for (const k of [0, 1, Math.floor(n / 3), n / 2]) {
      const [wr, wi] = slowBin(samples, new Float64Array(n), k)
      expect(re[k]).toBeCloseTo(wr, 8)
      expect(im[k]).toBeCloseTo(wi, 8)
    }
  })

  it('comes back by the inverse', () => {
    const samples = noise(1920)
    const re = new Float64Array(961)
    const im = new Float64Array(961)
    const back = new Float64Array(1920)
    const fft = createRealFft(1920)
    fft.forward(samples, re, im)
    fft.inverse(re, im, back)
    back.forEach((value, i) => expect(Math.abs(value - samples[i]!)).toBeLessThan(1e-12))
  })

  it('refuses an odd length', () => expect(() => createRealFft(15)).toThrow(/even/))
})
