/** A channel this much weaker than the other carries nothing of the radio. */
const DEAD_BELOW = 1e-3
/** Channels that are each other's mirror would cancel. */
const OPPOSITE = -0.5
/** How much of what was measured before still counts after a block of a tenth of a second. */
const MEMORY = 0.9

/** Makes one channel of several: the mean of those that carry sound and do not cancel. */
export interface MonoMix {
  /** @param channels at least one, equally long */
  push(channels: readonly Float32Array[]): Float32Array
}

export function createMonoMix(): MonoMix {
  let energy: number[] = []
  let product = 0
  return {
    push(channels) {
      if (channels.length === 1) return channels[0]!
      const loud = channels.map(powerOf)
      energy = channels.map((_, c) => MEMORY * (energy[c] ?? 0) + loud[c]!)
      const strongest = energy.indexOf(Math.max(...energy))
      product = MEMORY * product + productOf(channels[0]!, channels[1]!)
      const cancels = product < OPPOSITE * Math.sqrt(energy[0]! * energy[1]!)
      // Energies are squares, so the share is squared as well.
      const used = cancels ? [strongest] : [...channels.keys()].filter((c) => energy[c]! > DEAD_BELOW ** 2 * energy[strongest]!)
      if (used.length <= 1) return channels[used[0] ?? strongest]!
      const out = new Float32Array(channels[0]!.length)
      for (const c of used) for (let i = 0; i < out.length; i++) out[i]! += channels[c]![i]! / used.length
      return out
    },
  }
}

function powerOf(samples: Float32Array): number {
  let mean = 0
  for (let i = 0; i < samples.length; i++) mean += samples[i]!
  mean /= samples.length || 1
  let sum = 0
  for (let i = 0; i < samples.length; i++) sum += (samples[i]! - mean) ** 2
  return sum
}

function productOf(a: Float32Array, b: Float32Array): number {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!
  return sum
}
