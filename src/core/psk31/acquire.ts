import { basebandOf, basebandHz, between, SAMPLES_PER_SYMBOL } from './baseband'
import type { BandSpectrum } from './bandSpectra'
import { agreement, refined, squared, type CarrierPlace } from './carrierTrack'
import type { Baud } from './signal'

/** Where a signal is taken to begin: its carrier, and the time of its symbols. */
export interface Acquired {
  baud: Baud
  /** Carrier at the time of the first sample. */
  place: CarrierPlace
  /** Energy by place within the symbol, per sample, from the first sample. */
  timing: { cos: number; sin: number }
  /** Share of the squared symbols that line up: 1 for a signal without noise. */
  aligned: number
}

/** Steps in which a carrier is looked for about where a hump was found, and how far, in shares of the symbol rate. */
const WITHIN = 0.05
const DRIFTS_HZ_S = [-0.5, -0.25, 0, 0.25, 0.5]
/** Of what the length of the stretch tells apart. */
const STEP = 0.35

/** Finds carrier and timing of a signal over some spectra as a whole. @param frequencyHz where it was found, over the last of them */
export function acquire(spectra: readonly BandSpectrum[], frequencyHz: number, baud: Baud): Acquired {
  const pieces = spectra.map((spectrum) => basebandOf(spectrum, frequencyHz, baud))
  const re = pieces.flatMap((piece) => [...piece.re])
  const im = pieces.flatMap((piece) => [...piece.im])
  const timing = { cos: 0, sin: 0 }
  for (let i = 0; i < re.length; i++) {
    const energy = re[i]! ** 2 + im[i]! ** 2
    timing.cos += (energy * Math.cos((2 * Math.PI * i) / SAMPLES_PER_SYMBOL)) / re.length
    timing.sin += (energy * Math.sin((2 * Math.PI * i) / SAMPLES_PER_SYMBOL)) / re.length
  }
  const middle = (Math.atan2(timing.sin, timing.cos) / (2 * Math.PI)) * SAMPLES_PER_SYMBOL + SAMPLES_PER_SYMBOL
  const symbols = []
  for (let at = middle; at + 2 < re.length; at += SAMPLES_PER_SYMBOL) {
    const whole = Math.floor(at)
    const value = (values: readonly number[]) => between(values, whole, at - whole)
    symbols.push({ re: value(re), im: value(im), atS: at / basebandHz(baud) })
  }
  const all = squared(symbols)
  const lengthS = re.length / basebandHz(baud)
  // Hump and line were found in the second half.
  const foundS = 0.75 * lengthS
  const step = STEP / (2 * lengthS)
  let best: { place: CarrierPlace; agrees: number } = { place: { hz: 0, driftHzS: 0 }, agrees: -1 }
  for (const driftHzS of DRIFTS_HZ_S)
    for (let hz = -WITHIN * baud; hz <= WITHIN * baud; hz += step) {
      const agrees = agreement(all, { hz, driftHzS }, foundS)
      if (agrees > best.agrees) best = { place: { hz, driftHzS }, agrees }
    }
  const steps = { hz: step / 2, driftHzS: 0.12 }
  const { hz, driftHzS } = refined(all, refined(all, best.place, foundS, steps), foundS, steps)
  const agrees = agreement(all, { hz, driftHzS }, foundS)
  const sizes = all.re.reduce((sum, a, k) => sum + Math.hypot(a, all.im[k]!), 0)
  const place = { hz: frequencyHz + hz - driftHzS * foundS, driftHzS }
  return { baud, place, timing, aligned: sizes > 0 ? agrees / sizes : 0 }
}
