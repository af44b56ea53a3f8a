/** Writes fields of up to 80 bits one behind another, highest bit first. */
export interface BitWriter {
  put(value: number | bigint, width: number): BitWriter
  readonly bits: Uint8Array
}

/** Creates a writer over a fixed number of bits. Fields beyond the end throw RangeError. */
export function createBitWriter(length: number): BitWriter {
  const bits = new Uint8Array(length)
  let at = 0
  const writer: BitWriter = {
    bits,
    put(value, width) {
      if (at + width > length) throw new RangeError(`field of ${width} bits at ${at} passes the end of ${length}`)
      const wide = BigInt(value)
      if (wide < 0n || wide >= 1n << BigInt(width)) throw new RangeError(`value ${value} does not fit ${width} bits`)
      for (let i = width - 1; i >= 0; i--) bits[at++] = Number((wide >> BigInt(i)) & 1n)
      return writer
    },
  }
  return writer
}

/** Reads the fields that a writer wrote. */
export interface BitReader {
  /** Next field of up to 32 bits. */
  take(width: number): number
  /** Next field of any width. */
  takeWide(width: number): bigint
}

/** Creates a reader from the first bit on. */
export function createBitReader(bits: ArrayLike<number>, from = 0): BitReader {
  let at = from
  return {
    take(width) {
      let value = 0
      for (let i = 0; i < width; i++) value = value * 2 + bits[at++]!
      return value
    },
    takeWide(width) {
      let value = 0n
      for (let i = 0; i < width; i++) value = (value << 1n) | BigInt(bits[at++]!)
      return value
    },
  }
}
