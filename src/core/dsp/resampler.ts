/** Zero crossings of the filter on either side of its centre. */
const HALF_CROSSINGS = 24
/** Kaiser window parameter for about 90 dB of stop-band attenuation. */
const KAISER_BETA = 9
/** The filter is half down here, as a share of the lower of the two half rates: nothing audible folds back below 0.9 of it. */
const CUTOFF = 0.95

/** Converts a stream of samples from one rate to another. */
export interface Resampler {
  /** Takes any number of samples and returns those of the new rate that can be computed by now. */
  push(block: Float32Array): Float32Array
  /** Returns the samples still waiting for input, as if silence followed. */
  flush(): Float32Array
}

function bessel0(x: number): number {
  let sum = 1
  let term = 1
  for (let k = 1; term > 1e-12 * sum; k++) {
    term *= (x / 2 / k) ** 2
    sum += term
  }
  return sum
}

function greatestCommonDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestCommonDivisor(b, a % b)
}

/**
 * Creates a polyphase resampler with a Kaiser-windowed sinc filter; linear phase, output aligned with input.
 * @param fromHz and toHz whole samples per second, 1 to 768 000
 * @throws {RangeError} other rates
 */
export function createResampler(fromHz: number, toHz: number): Resampler {
  for (const rate of [fromHz, toHz])
    if (!Number.isInteger(rate) || rate < 1 || rate > 768_000) throw new RangeError(`sample rate must be 1 to 768000, got ${rate}`)
  const divisor = greatestCommonDivisor(fromHz, toHz)
  const up = toHz / divisor
  const down = fromHz / divisor
  if (up === 1 && down === 1) return { push: (block) => block.slice(), flush: () => new Float32Array(0) }

  const scale = Math.min(1, toHz / fromHz) * CUTOFF
  const reach = Math.ceil(HALF_CROSSINGS / scale)
  const taps = 2 * reach
  const phases = new Array<Float32Array>(up)
  const normal = bessel0(KAISER_BETA)
  const phaseFilter = (phase: number): Float32Array => {
    const filter = new Float32Array(taps)
    let sum = 0
    for (let k = 0; k < taps; k++) {
      const t = k - reach + 1 - phase / up
      const share = t / reach
      const window = Math.abs(share) >= 1 ? 0 : bessel0(KAISER_BETA * Math.sqrt(1 - share * share)) / normal
      const x = Math.PI * t * scale
      filter[k] = (Math.abs(x) < 1e-9 ? 1 : Math.sin(x) / x) * window
      sum += filter[k]!
    }
    for (let k = 0; k < taps; k++) filter[k]! /= sum
    return filter
  }

  // The buffer starts with the silence that precedes the first sample.
  let buffer = new Float32Array(taps * 4)
  let filled = reach - 1
  let position = 0
  let phase = 0

  const push = (block: Float32Array): Float32Array => {
    if (filled + block.length > buffer.length) {
      const bigger = new Float32Array((filled + block.length) * 2)
      bigger.set(buffer.subarray(0, filled))
      buffer = bigger
    }
    buffer.set(block, filled)
    filled += block.length
    const out = new Float32Array(Math.max(0, Math.ceil(((filled - position) * up) / down) + 1))
    let count = 0
    while (position + taps <= filled) {
      const filter = (phases[phase] ??= phaseFilter(phase))
      let sum = 0
      for (let k = 0; k < taps; k++) sum += buffer[position + k]! * filter[k]!
      out[count++] = sum
      phase += down
      position += Math.floor(phase / up)
      phase %= up
    }
    const spent = Math.min(position, filled)
    buffer.copyWithin(0, spent, filled)
    filled -= spent
    position -= spent
    return out.slice(0, count)
  }

  return { push, flush: () => push(new Float32Array(reach)) }
}

/** Converts a whole recording at once. */
export function resample(samples: Float32Array, fromHz: number, toHz: number): Float32Array {
  if (fromHz === toHz) return samples
  const resampler = createResampler(fromHz, toHz)
  const head = resampler.push(samples)
  const tail = resampler.flush()
  const out = new Float32Array(Math.min(head.length + tail.length, Math.ceil((samples.length * toHz) / fromHz)))
  out.set(head.subarray(0, out.length))
  out.set(tail.subarray(0, out.length - Math.min(out.length, head.length)), Math.min(out.length, head.length))
  return out
}
