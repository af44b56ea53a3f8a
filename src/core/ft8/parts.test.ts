import { createGaussian, createRandom } from '../dsp/random'
import { bitLikelihoods } from './bitLikelihoods'
import { BAND_CENTRE_HZ, DEMODULATION_BINS, measureSymbols } from './demodulate'
import { bandOf } from '../log/bands'
import { conventionalDials } from './dials'
import { lnBesselI0 } from './lnBesselI0'
import { encodeLdpc } from './ldpc'
import { withCrc } from './crc14'
import { frequencyPulse, modulate, tonePhase } from './modulate'
import { estimateNoiseFloor } from './noiseFloor'
import { packMessage } from './payload'
import { addSignal, amplitudeForSnr, madeUpCall, simulatedCrowd, SIMULATED_NOISE_RMS } from './simulate'
import { SlotSpectrum, SPECTRUM_SAMPLES } from './slotSpectrum'
import { subtractSignal } from './subtract'
import { payloadToTones } from './symbols'
import { measureGrid } from './powerGrid'
import { findCandidates } from './sync'

const packed = packMessage('CQ Q5RVR JN97')
if (!packed.ok) throw new Error(packed.error)
const tones = payloadToTones(packed.payload)
const codeword = encodeLdpc(withCrc(packed.payload))

/** A clean signal at 1500 Hz that begins one second into 15 s. */
function clean(audioOffsetHz = 1500, startS = 1): Float32Array {
  const audio = new Float32Array(180_000)
  audio.set(modulate(tones, { sampleRateHz: 12_000, audioOffsetHz, amplitude: 0.5 }), startS * 12_000)
  return audio
}

const power = (samples: ArrayLike<number>) => {
  let sum = 0
  for (let i = 0; i < samples.length; i++) sum += samples[i]! ** 2
  return sum
}

describe('the frequency pulse', () => {
  it('has an area of one and is as good as over after one and a half symbols', () => {
    let area = 0
    for (let t = -1.5; t < 1.5; t += 0.001) area += frequencyPulse(t) * 0.001
    expect(area).toBeCloseTo(1, 4)
    expect(frequencyPulse(1.5)).toBeLessThan(1e-6)
    expect(frequencyPulse(0)).toBeGreaterThan(0.98)
  })
  it('turns a steady tone into a steady frequency', () => {
    const phase = tonePhase(new Uint8Array(79).fill(5), 12_000)
    expect((phase[60_000]! - phase[48_000]!) / (2 * Math.PI)).toBeCloseTo(31.25, 6)
  })
})

describe('SlotSpectrum', () => {
  it('gives back what went in, and unharmed what was cut out and put back', () => {
    const audio = clean()
    const spectrum = new SlotSpectrum(audio)
    spectrum.putBack(spectrum.cut(1500, 8192))
    const back = spectrum.toSamples()
    for (let i = 0; i < audio.length; i += 101) expect(back[i]).toBeCloseTo(audio[i]!, 6)
  })
  it('refuses more than it can hold', () => expect(() => new SlotSpectrum(new Float32Array(SPECTRUM_SAMPLES + 1))).toThrow(RangeError))
})

describe('synchronising', () => {
  it('puts the true place first', () => {
    const audio = clean(1512.5)
    const gaussian = createGaussian(createRandom(2))
    for (let i = 0; i < audio.length; i++) audio[i]! += 0.3 * gaussian()
    const [best] = findCandidates(measureGrid(audio, audio.length, 3000), {
      lowestHz: 200,
      highestHz: 3000,
      slotStartS: 0,
      searchS: 2.5,
      minimumRatio: 1.5,
      maximumCandidates: 10,
    })
    expect(best!.frequencyHz).toBeCloseTo(1512.5, 0)
    expect(best!.startS).toBeCloseTo(1, 1)
  })
  it('is fine to a fraction of a hertz and a few milliseconds from a rough guess', () => {
    const band = new SlotSpectrum(clean(1501.3)).cut(1500 + BAND_CENTRE_HZ, DEMODULATION_BINS)
    const symbols = measureSymbols(band, 1.02)
    expect(Math.abs(symbols.frequencyHz - 1501.3)).toBeLessThan(0.1)
    expect(Math.abs(symbols.startS - 1)).toBeLessThan(0.005)
    expect(symbols.costasHits).toBe(21)
    expect(symbols.contrast).toBeGreaterThan(50)
  })
})

describe('bitLikelihoods', () => {
  it.each([1, 2, 3])('has every bit right on a clean signal, %i symbols at a time', (group) => {
    const band = new SlotSpectrum(clean()).cut(1500 + BAND_CENTRE_HZ, DEMODULATION_BINS)
    const llr = new Float64Array(174)
    bitLikelihoods(measureSymbols(band, 1), group, llr)
    llr.forEach((value, i) => expect(value > 0 ? 1 : 0).toBe(codeword[i]))
  })
})

describe('subtractSignal', () => {
  it('takes a known signal away to less than a thousandth', () => {
    const spectrum = new SlotSpectrum(clean())
    subtractSignal(spectrum, tones, { frequencyHz: 1500, startS: 1, driftHzPerS: 0 })
    expect(power(spectrum.toSamples()) / power(clean())).toBeLessThan(1e-3)
  })
  it('leaves a neighbour alone', () => {
    const both = clean()
    const neighbour = clean(1700)
    neighbour.forEach((v, i) => (both[i]! += v))
    const spectrum = new SlotSpectrum(both)
    subtractSignal(spectrum, tones, { frequencyHz: 1500, startS: 1, driftHzPerS: 0 })
    expect(power(spectrum.toSamples()) / power(neighbour)).toBeCloseTo(1, 2)
  })
  it('does no harm at the edges of what was received', () => {
    const spectrum = new SlotSpectrum(clean(1500, 1).subarray(36_000))
    expect(() => subtractSignal(spectrum, tones, { frequencyHz: 1500, startS: -2, driftHzPerS: 0 })).not.toThrow()
    expect(power(spectrum.toSamples()) / power(clean())).toBeLessThan(1e-2)
  })
})

describe('estimateNoiseFloor', () => {
  it('finds the mean power of noise, hardly lifted by signals', () => {
    const gaussian = createGaussian(createRandom(6))
    const noise = Float32Array.from({ length: 180_000 }, () => 0.1 * gaussian())
    // A cell sums 1920 samples of variance 0.01.
    const quiet = estimateNoiseFloor(measureGrid(noise, noise.length, 3000))(1500)
    expect(10 * Math.log10(quiet / (1920 * 0.01))).toBeCloseTo(0, 0)
    for (let i = 0; i < 5; i++)
      addSignal(noise, 0, { text: 'CQ Q5RVR JN97', snrDb: 5, audioOffsetHz: 1000 + 220 * i, timeOffsetS: 0 }, createRandom(i), 0.1)
    const crowded = estimateNoiseFloor(measureGrid(noise, noise.length, 3000))(1500)
    expect(10 * Math.log10(crowded / quiet)).toBeLessThan(4)
  })
})

describe('lnBesselI0', () => {
  it.each([
    [0, 0],
    [1, Math.log(1.2660658777520084)],
    [10, Math.log(2815.716628466254)],
    [100, 100 - 0.5 * Math.log(200 * Math.PI)],
  ])('at %f', (x, wanted) => expect(Math.abs(lnBesselI0(x) - wanted)).toBeLessThan(2e-3))
})

describe('simulation', () => {
  it('sets strengths in 2500 Hz', () => {
    const amplitude = amplitudeForSnr(0)
    expect(amplitude ** 2 / 2 / (SIMULATED_NOISE_RMS ** 2 * (2500 / 6000))).toBeCloseTo(1, 9)
  })
  it('makes up calls that nobody can have, and crowds within their limits', () => {
    const random = createRandom(1)
    for (let i = 0; i < 100; i++) expect(madeUpCall(random)).toMatch(/^Q\d[A-Z]{2,3}$/)
    for (const s of simulatedCrowd(50, random)) {
      expect(s.snrDb).toBeGreaterThanOrEqual(-20)
      expect(s.snrDb).toBeLessThanOrEqual(10)
      expect(packMessage(s.text).ok).toBe(true)
    }
  })
  it('refuses a text that cannot be sent', () => {
    expect(() =>
      addSignal(new Float32Array(10), 0, { text: 'MUCH TOO LONG A TEXT', snrDb: 0, audioOffsetHz: 1000, timeOffsetS: 0 }, createRandom(1)),
    ).toThrow(RangeError)
  })
})

describe('dials', () => {
  it('are within their bands', () => {
    for (const { band, dialFrequencyHz } of conventionalDials) expect(bandOf(dialFrequencyHz)).toBe(band)
    expect(conventionalDials).toHaveLength(15)
  })
})
