import { createRealFft } from './fft'

/** Length of the filter in seconds: skirts about 100 Hz wide. */
const LENGTH_S = 0.03

/**
 * Creates a filter as a radio has it, streaming: flat between two frequencies, more than 60 dB down beyond the skirts.
 * Half the voltage, 6 dB, remains at either edge. The output is late by half the filter's length.
 */
export function createBandFilter(rateHz: number, lowHz: number, highHz: number): (samples: Float32Array) => Float32Array {
  const half = Math.round((LENGTH_S * rateHz) / 2)
  const size = 2 ** Math.ceil(Math.log2(8 * half))
  const fft = createRealFft(size)
  const window = new Float64Array(size)
  for (let k = -half; k <= half; k++) {
    const ideal =
      k === 0
        ? (2 * (highHz - lowHz)) / rateHz
        : (Math.sin((2 * Math.PI * highHz * k) / rateHz) - Math.sin((2 * Math.PI * lowHz * k) / rateHz)) / (Math.PI * k)
    const share = (k + half) / (2 * half)
    // Blackman's window.
    window[k + half] = ideal * (0.42 - 0.5 * Math.cos(2 * Math.PI * share) + 0.08 * Math.cos(4 * Math.PI * share))
  }
  const bins = size / 2 + 1
  const [hr, hi, re, im] = [new Float64Array(bins), new Float64Array(bins), new Float64Array(bins), new Float64Array(bins)]
  fft.forward(window, hr, hi)
  // Overlap and save: the window begins with what came before, and only what lies whole under the filter is kept.
  window.fill(0)
  const before = 2 * half
  const step = size - before
  return (samples) => {
    const out = new Float32Array(samples.length)
    for (let from = 0; from < samples.length; from += step) {
      const piece = samples.subarray(from, from + step)
      window.set(piece, before)
      const history = window.slice(piece.length, piece.length + before)
      fft.forward(window, re, im)
      for (let k = 0; k < bins; k++) {
        const r = re[k]! * hr[k]! - im[k]! * hi[k]!
        im[k] = re[k]! * hi[k]! + im[k]! * hr[k]!
        re[k] = r
      }
      fft.inverse(re, im, window)
      out.set(window.subarray(before, before + piece.length), from)
      window.set(history)
    }
    return out
  }
}
