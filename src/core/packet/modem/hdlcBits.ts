import { withFcs } from '../fcs'

/** 01111110, in sending order. */
export const FLAG_BITS = [0, 1, 1, 1, 1, 1, 1, 0] as const

/** Bits of bytes, each least significant bit first. */
export const bitsOf = (bytes: Uint8Array): number[] => Array.from({ length: 8 * bytes.length }, (_, i) => (bytes[i >> 3]! >> (i & 7)) & 1)

/** Bits of a frame and its check sequence as they go between flags: a zero after five ones. */
export function stuffedBits(frame: Uint8Array): number[] {
  const out: number[] = []
  let ones = 0
  for (const bit of bitsOf(withFcs(frame))) {
    out.push(bit)
    ones = bit === 1 ? ones + 1 : 0
    if (ones < 5) continue
    out.push(0)
    ones = 0
  }
  return out
}

/** NRZI: a zero changes the level, a one keeps it. @param level before the first bit, 0 or 1 */
export function levelsOf(bits: readonly number[], level = 1): number[] {
  return bits.map((bit) => (level = bit === 0 ? 1 - level : level))
}

export interface BurstTiming {
  /** Flags before the first frame and after the last one. */
  leadFlags: number
  tailFlags: number
}

/** Bits of a transmission before NRZI: flags, frames between flags that they share, flags. */
export function burstBits(pieces: readonly (readonly number[])[], { leadFlags, tailFlags }: BurstTiming): number[] {
  const flags = (count: number) => Array.from({ length: count }, () => FLAG_BITS).flat()
  return [...flags(Math.max(1, leadFlags)), ...pieces.flatMap((bits) => [...bits, ...FLAG_BITS]), ...flags(tailFlags)]
}
