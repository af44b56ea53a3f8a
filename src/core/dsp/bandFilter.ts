/** Length of the filter in seconds: skirts about 100 Hz wide. */
const LENGTH_S = 0.03

/**
 * Creates a filter as a radio has it, streaming: flat between two frequencies, more than 60 dB down beyond the skirts.
 * Half the voltage, 6 dB, remains at either edge. The output is late by half the filter's length.
 */
export function createBandFilter(rateHz: number, lowHz: number, highHz: number): (samples: Float32Array) => Float32Array {
  const half = Math.round((LENGTH_S * rateHz) / 2)
  const taps = new Float32Array(2 * half + 1)
  for (let k = -half; k <= half; k++) {
    const ideal =
      k === 0
        ? (2 * (highHz - lowHz)) / rateHz
        : (Math.sin((2 * Math.PI * highHz * k) / rateHz) - Math.sin((2 * Math.PI * lowHz * k) / rateHz)) / (Math.PI * k)
    const share = (k + half) / (2 * half)
    // Blackman's window.
    taps[k + half] = ideal * (0.42 - 0.5 * Math.cos(2 * Math.PI * share) + 0.08 * Math.cos(4 * Math.PI * share))
  }
  let before = new Float32Array(2 * half)
  return (samples) => {
    const joined = new Float32Array(before.length + samples.length)
    joined.set(before)
    joined.set(samples, before.length)
    const out = new Float32Array(samples.length)
    for (let i = 0; i < out.length; i++) {
      let sum = 0
      for (let k = 0; k < taps.length; k++) sum += taps[k]! * joined[i + k]!
      out[i] = sum
    }
    before = joined.slice(samples.length)
    return out
  }
}
