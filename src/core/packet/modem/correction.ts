/**
 * Error correction that plain stations can still read, published in 2006: a correlation tag, then a Reed-Solomon block whose data bytes are
 * an ordinary frame with flags, stuffing and check sequence.
 */
import { isGood } from '../fcs'
import { bitsOf, FLAG_BITS, stuffedBits } from './hdlcBits'
import { checkBytes, correctBlock } from './reedSolomon'

interface CorrectionCode {
  /** First bit first. */
  tag: readonly number[]
  /** The first 32 of them and the others, the last one lowest. */
  halves: readonly [number, number]
  length: number
  checks: number
}

function code(value: bigint, length: number, data: number): CorrectionCode {
  const tag = Array.from({ length: 64 }, (_, k) => Number((value >> BigInt(k)) & 1n))
  const half = (from: number) => tag.slice(from, from + 32).reduce((sum, bit) => (sum << 1) | bit, 0)
  return { tag, halves: [half(0), half(32)], length, checks: length - data }
}

function countOnes(word: number): number {
  const pairs = word - ((word >>> 1) & 0x55555555)
  const fours = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333)
  return Math.imul((fours + (fours >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
}

const CODES: readonly CorrectionCode[] = [
  code(0xb74db7df8a532f3en, 255, 239),
  code(0x26ff60a600cc8fden, 144, 128),
  code(0xc7dc0508f3d9b09en, 80, 64),
  code(0x8f056eb4369660een, 48, 32),
  code(0x6e260b1ac5835faen, 255, 223),
  code(0xff94dc634f1cff4en, 160, 128),
  code(0x1eb7b9cdbc09c00en, 96, 64),
  code(0xdbf869bd2dbb1776n, 64, 32),
  code(0x3adb0c13deae2836n, 255, 191),
  code(0xab69db6a543188d6n, 192, 128),
  code(0x4a4abec4a724b796n, 128, 64),
]

/** Check bytes that a sender can choose. */
export const CHECK_BYTES = [16, 32, 64] as const
export type CheckBytes = (typeof CHECK_BYTES)[number]

/** Wrong bits that a tag may have: any two tags differ in 32. */
const WRONG_BITS = 11
/** Bytes of which the bits are doubtful are given up in steps of so many. */
const GIVEN_UP = 4

/** Bits of a frame with error correction, as they go between flags. @returns nothing where the frame is too long for a block */
export function correctedBits(frame: Uint8Array, checks: CheckBytes): number[] | undefined {
  const bits = [...FLAG_BITS, ...stuffedBits(frame), ...FLAG_BITS]
  const fitting = CODES.filter((one) => one.checks === checks && 8 * (one.length - checks) >= bits.length)
  const smallest = fitting.sort((a, b) => a.length - b.length)[0]
  if (!smallest) return undefined
  const data = new Uint8Array(smallest.length - checks)
  for (let k = 0; k < 8 * data.length; k++) {
    const bit = k < bits.length ? bits[k]! : FLAG_BITS[(k - bits.length) % 8]!
    data[k >> 3]! |= bit << (k & 7)
  }
  return [...smallest.tag, ...bitsOf(data), ...bitsOf(checkBytes(data, checks))]
}

export interface CorrectedFrame {
  /** Without its check sequence. */
  bytes: Uint8Array
  /** Bytes of the block that were wrong. */
  corrected: number
  /** Levels since the begin of the tag. */
  levels: number
}

/** Finds tags in line levels, and frames in the blocks behind them. */
export class CorrectionReader {
  private lastLevel = 0
  private lastSure = 0
  /** The last 64 bits. */
  private older = 0
  private newer = 0
  private block: { code: CorrectionCode; bytes: Uint8Array; sure: Float64Array; bits: number } | undefined

  constructor(private readonly isCredible: (frame: Uint8Array) => boolean) {}

  /** @param llr logarithm of how much likelier the level is a one than a zero */
  push(llr: number): CorrectedFrame | undefined {
    const level = llr > 0 ? 1 : 0
    const bit = level === this.lastLevel ? 1 : 0
    const sure = Math.min(Math.abs(llr), this.lastSure)
    this.lastLevel = level
    this.lastSure = Math.abs(llr)
    this.older = (this.older << 1) | (this.newer >>> 31)
    this.newer = (this.newer << 1) | bit
    const found = this.takeIntoBlock(bit, sure)
    // A tag is looked for within a block as well: the block's own may have been none.
    const code = CODES.find((one) => this.isTag(one))
    if (code) this.block = { code, bytes: new Uint8Array(code.length), sure: new Float64Array(code.length).fill(Infinity), bits: 0 }
    return found
  }

  private isTag({ halves }: CorrectionCode): boolean {
    return countOnes(this.older ^ halves[0]) + countOnes(this.newer ^ halves[1]) <= WRONG_BITS
  }

  private takeIntoBlock(bit: number, sure: number): CorrectedFrame | undefined {
    const { block } = this
    if (!block) return undefined
    const place = block.bits >> 3
    block.bytes[place]! |= bit << (block.bits & 7)
    block.sure[place] = Math.min(block.sure[place]!, sure)
    if (++block.bits < 8 * block.code.length) return undefined
    this.block = undefined
    return this.readBlock(block)
  }

  private readBlock({ code, bytes, sure }: { code: CorrectionCode; bytes: Uint8Array; sure: Float64Array }): CorrectedFrame | undefined {
    const doubtful = Array.from(sure, (_, place) => place).sort((a, b) => sure[a]! - sure[b]!)
    for (let erased = 0; erased <= code.checks; erased += GIVEN_UP) {
      const corrected = correctBlock(bytes, code.checks, doubtful.slice(0, erased))
      const frame = corrected && frameOf(corrected.block.subarray(0, code.length - code.checks))
      if (frame && this.isCredible(frame)) return { bytes: frame, corrected: corrected.changed, levels: 64 + 8 * code.length }
    }
    return undefined
  }
}

/** The frame in the data bytes of a block. */
function frameOf(data: Uint8Array): Uint8Array | undefined {
  const bits = bitsOf(data)
  const out = new Uint8Array(data.length)
  let count = 0
  let ones = 0
  for (let k = 8; k < bits.length; k++) {
    const bit = bits[k]!
    if (bit === 1) {
      if (++ones > 6) return undefined
      if (ones < 6) out[count >> 3]! |= 1 << (count & 7)
      count++
      continue
    }
    // A zero after five ones was stuffed, one after six ends a flag.
    if (ones === 6) {
      const whole = count - 7
      const bytes = out.slice(0, whole >> 3)
      return whole % 8 === 0 && isGood(bytes) ? bytes.slice(0, -2) : undefined
    }
    if (ones !== 5) count++
    ones = 0
  }
  return undefined
}
