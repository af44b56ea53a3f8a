const { abs, max } = Math

const BLOCK = 480
/** Every fourth sample tells the block's level well enough. */
const SPARSE = 4
/** Median of |x| over the standard deviation, for noise. */
const MEDIAN_OF_SIGMA = 0.6745
/** Noise and crowds of signals stay under six standard deviations; a lone tone under one and a half. */
const THRESHOLD_SIGMAS = 6
/** A click rings on in the receiver's filter for about this long. */
const MARGIN = 6
/** What takes up more of a block than this is no click but a signal that begins. */
const LARGEST_SHARE = 0.2

/**
 * Silences clicks: samples that stand far out of the level of the 40 ms around them (ignition, electric fences,
 * switching). A click of a millisecond carries the energy of many symbols of noise; without it a symbol lacks little.
 * @param samples 12 kHz audio
 * @returns the same array when nothing was silenced, else a copy
 */
export function blankClicks(samples: Float32Array): Float32Array {
  const levels = measureLevels(samples)
  let out = samples
  for (let block = 0; block < levels.length; block++) {
    // A signal that begins in the next block is no click at the end of this one.
    const sigma = max(levels[block]!, levels[block - 1] ?? 0, levels[block + 1] ?? 0)
    const limit = THRESHOLD_SIGMAS * sigma
    if (!(limit > 0)) continue
    const from = block * BLOCK
    const clicks: number[] = []
    for (let i = from; i < from + BLOCK; i++) if (abs(samples[i]!) > limit) clicks.push(i)
    if (clicks.length === 0 || clicks.length > LARGEST_SHARE * BLOCK) continue
    if (out === samples) out = samples.slice()
    for (const at of clicks) out.fill(0, max(0, at - MARGIN), at + MARGIN + 1)
  }
  return out
}

/** Level of each block as the standard deviation that noise with its median would have. */
function measureLevels(samples: Float32Array): Float64Array {
  const levels = new Float64Array(Math.floor(samples.length / BLOCK))
  const sparse = new Float32Array(BLOCK / SPARSE)
  for (let block = 0; block < levels.length; block++) {
    for (let i = 0; i < sparse.length; i++) sparse[i] = abs(samples[block * BLOCK + i * SPARSE]!)
    levels[block] = sparse.sort()[sparse.length >> 1]! / MEDIAN_OF_SIGMA
  }
  return levels
}
