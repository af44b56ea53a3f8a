/** Step of a 16-bit converter, the coarsest that is met. */
const LSB = 1 / 32_768
/** At and above this a sample is at full scale, whatever the converter's code for it. */
const FULL_SCALE = 0.999
/** Flat tops below full scale (clipped earlier in the chain) are looked for down to here; below it steps of the converter look flat. */
const LOWEST_PLATEAU = 0.02
/** A wave that really turns comes to its top in small steps; one that is cut off arrives at it in a large one. */
const SHARP_ENTRY = 0.02
/** A value that stands still for longer than this was not converted from anything. */
const HELD_MS = 2
/** Longer pauses are no lost blocks but something that was muted. */
const LONGEST_DROPOUT_MS = 150
/** Below this the steps of the converter themselves stand still for a while. */
const QUIETEST_FOR_DROPOUTS = 3e-4

/** What one second of one channel measures, full scale ±1. */
export interface ChannelSecond {
  count: number
  sum: number
  sumSquares: number
  peak: number
  /** Samples on a flat top. */
  clipped: number
  /** Flat tops that no wave makes by itself. */
  clipRuns: number
  /** Stretches of 2 to 150 ms in which the value stood still, and how long they were together. */
  dropouts: number
  dropoutS: number
  /** Seconds within longer stretches of one value. */
  heldS: number
  /** True when every sample is exactly the same. */
  constant: boolean
}

/** Measures one channel at the rate at which it was converted, second by second. */
export interface ChannelMeter {
  push(samples: Float32Array): void
  /** Seconds that were completed since the last call. */
  take(): ChannelSecond[]
  /** Closes a second that is not full, if any samples wait in it. */
  flush(): void
}

/** Creates a meter. @param rateHz samples a second, at least 1000 */
export function createChannelMeter(rateHz: number): ChannelMeter {
  const block = new Float32Array(rateHz)
  let filled = 0
  let done: ChannelSecond[] = []
  // A stretch of one value goes on over the ends of blocks.
  let heldValue = NaN
  let heldLength = 0
  /** Samples since something last stood still; a stream has begun once this reached a tenth of a second. */
  let moving = 0
  let begun = false

  const settled = rateHz / 10

  const close = () => {
    const second = measure(block.subarray(0, filled))
    const loud = Math.sqrt(second.sumSquares / second.count) > QUIETEST_FOR_DROPOUTS
    const end = () => {
      const ms = (heldLength / rateHz) * 1000
      // What stood still before the first sound is a stream that had not begun.
      if (begun && loud && ms >= HELD_MS && Math.abs(heldValue) < FULL_SCALE) {
        if (ms <= LONGEST_DROPOUT_MS) {
          second.dropouts++
          second.dropoutS += ms / 1000
        } else second.heldS += ms / 1000
      }
      moving = ms >= HELD_MS ? 0 : moving + heldLength
      if (moving >= settled) begun = true
    }
    for (let i = 0; i < filled; i++) {
      if (block[i] === heldValue) heldLength++
      else {
        if (heldLength > 1) end()
        else if (++moving >= settled) begun = true
        heldValue = block[i]!
        heldLength = 1
      }
    }
    done.push(second)
    filled = 0
  }

  return {
    push(samples) {
      for (let at = 0; at < samples.length;) {
        const part = Math.min(samples.length - at, rateHz - filled)
        block.set(samples.subarray(at, at + part), filled)
        filled += part
        at += part
        if (filled === rateHz) close()
      }
    },
    take() {
      const taken = done
      done = []
      return taken
    },
    flush() {
      if (filled > 0) close()
    },
  }
}

function measure(samples: Float32Array): ChannelSecond {
  let sum = 0
  let sumSquares = 0
  let highest = -Infinity
  let lowest = Infinity
  for (let i = 0; i < samples.length; i++) {
    const value = samples[i]!
    sum += value
    sumSquares += value * value
    if (value > highest) highest = value
    if (value < lowest) lowest = value
  }
  const top = countPlateau(samples, highest, 1)
  const bottom = countPlateau(samples, -lowest, -1)
  return {
    count: samples.length,
    sum,
    sumSquares,
    peak: Math.max(Math.abs(highest), Math.abs(lowest)),
    clipped: top.samples + bottom.samples,
    clipRuns: top.runs + bottom.runs,
    dropouts: 0,
    dropoutS: 0,
    heldS: 0,
    constant: highest === lowest,
  }
}

/** Samples at the top of the wave (`sign` 1) or its bottom, when that top is flat as no wave is by itself. */
function countPlateau(samples: Float32Array, extreme: number, sign: 1 | -1): { samples: number; runs: number } {
  if (extreme < LOWEST_PLATEAU) return { samples: 0, runs: 0 }
  const full = extreme >= FULL_SCALE
  const level = full ? FULL_SCALE : extreme - 0.5 * LSB
  const shortest = full ? 2 : 3
  let count = 0
  let runs = 0
  let run = 0
  let before = extreme
  for (let i = 0; i < samples.length; i++) {
    const value = sign * samples[i]!
    if (value < level) {
      run = 0
      before = value
      continue
    }
    count++
    run++
    if (run === shortest && (full || extreme - before > SHARP_ENTRY * extreme)) runs++
  }
  // Single samples at full scale count as well, but one alone may just fit.
  return runs > 0 || (full && count > 1) ? { samples: count, runs: Math.max(1, runs) } : { samples: 0, runs: 0 }
}
