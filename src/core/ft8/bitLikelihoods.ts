import type { SymbolAmplitudes } from './demodulate'
import { lnBesselI0 } from './lnBesselI0'
import { CODEWORD_BITS, DATA_SYMBOLS, GRAY, TONE_COUNT } from './signal'

const { sqrt, exp, log, max, min } = Math

/**
 * Computes log-likelihood ratios of the 174 codeword bits, treating `group` neighbouring symbols as one in phase.
 * A longer group gains sensitivity while the phase holds; a single symbol asks nothing of the phase.
 * @param group 1, 2 or 3
 * @param out 174 values, natural logarithm, positive for a 1
 */
export function bitLikelihoods(symbols: SymbolAmplitudes, group: number, out: Float64Array): void {
  const { re, im, noise, amplitude } = symbols
  const gain = (2 * amplitude) / noise
  const metric = new Float64Array(8 ** group)
  for (const half of [0, 29]) {
    for (let first = half; first < half + 29; first += group) {
      const count = min(group, half + 29 - first)
      const hypotheses = 8 ** count
      let top = -Infinity
      for (let h = 0; h < hypotheses; h++) {
        let zr = 0
        let zi = 0
        for (let s = 0; s < count; s++) {
          const value = (h >> (3 * (count - 1 - s))) & 7
          const at = DATA_SYMBOLS[first + s]! * TONE_COUNT + GRAY[value]!
          zr += re[at]!
          zi += im[at]!
        }
        const m = lnBesselI0(gain * sqrt(zr * zr + zi * zi))
        metric[h] = m
        if (m > top) top = m
      }
      for (let h = 0; h < hypotheses; h++) metric[h] = exp(metric[h]! - top)
      const bits = 3 * count
      for (let bit = 0; bit < bits; bit++) {
        const mask = 1 << (bits - 1 - bit)
        let one = 1e-30
        let zero = 1e-30
        for (let h = 0; h < hypotheses; h++) {
          if (h & mask) one += metric[h]!
          else zero += metric[h]!
        }
        out[first * 3 + bit] = log(one / zero)
      }
    }
  }
  for (let i = 0; i < CODEWORD_BITS; i++) out[i] = max(-25, min(25, out[i]!))
}
