/** The self-synchronising scrambler 1 + x^12 + x^17 of 9600 baud. */
export const SCRAMBLER_TAPS = [12, 17] as const

const SURE = 100

/** Scrambles levels, the register empty at first. */
export function scramble(levels: readonly number[]): number[] {
  const out: number[] = []
  for (const [k, level] of levels.entries()) out.push(level ^ SCRAMBLER_TAPS.reduce((sum, tap) => sum ^ (out[k - tap] ?? 0), 0))
  return out
}

/** Undoes it with what is known of each bit: a level is as doubtful as the most doubtful of the three bits that make it. */
export class Descrambler {
  /** The register is taken to be empty at first, as the sender's was. */
  private readonly recent = new Float64Array(SCRAMBLER_TAPS[1]).fill(-SURE)
  private count = 0

  /** @param llr logarithm of how much likelier the bit is a one than a zero @returns the same of the level */
  push(llr: number): number {
    const { recent, count } = this
    const length = recent.length
    let isOne = llr > 0
    let sure = Math.abs(llr)
    for (const tap of SCRAMBLER_TAPS) {
      const before = recent[(count + length - tap) % length]!
      if (before > 0) isOne = !isOne
      sure = Math.min(sure, Math.abs(before))
    }
    recent[count % length] = llr
    this.count++
    return isOne ? sure : -sure
  }
}
