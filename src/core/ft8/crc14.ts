import { CRC_BITS, PAYLOAD_BITS } from './signal'

const POLYNOMIAL = 0x2757
const PADDED_BITS = 82

/**
 * Computes FT8's 14-bit check over a 77-bit payload extended with zeros to 82 bits
 * (protocol description, QEX July/August 2020: polynomial 0x2757 without its leading 1, initial value 0).
 * @param bits at least 77 values 0 or 1; only the first 77 count
 * @returns 0 to 16383
 */
export function crc14(bits: ArrayLike<number>): number {
  let remainder = 0
  for (let i = 0; i < PADDED_BITS; i++) {
    const bit = i < PAYLOAD_BITS ? bits[i]! : 0
    const top = (remainder >>> (CRC_BITS - 1)) & 1
    remainder = (remainder << 1) & 0x3fff
    if (top ^ bit) remainder ^= POLYNOMIAL
  }
  return remainder
}

/** Appends the check to a 77-bit payload. @returns 91 message bits */
export function withCrc(payload: ArrayLike<number>): Uint8Array {
  const message = new Uint8Array(PAYLOAD_BITS + CRC_BITS)
  for (let i = 0; i < PAYLOAD_BITS; i++) message[i] = payload[i]!
  const crc = crc14(payload)
  for (let i = 0; i < CRC_BITS; i++) message[PAYLOAD_BITS + i] = (crc >>> (CRC_BITS - 1 - i)) & 1
  return message
}

/** Tells whether the last 14 of 91 message bits are the check of the first 77. */
export function crcMatches(message: ArrayLike<number>): boolean {
  const crc = crc14(message)
  for (let i = 0; i < CRC_BITS; i++) {
    if (message[PAYLOAD_BITS + i] !== ((crc >>> (CRC_BITS - 1 - i)) & 1)) return false
  }
  return true
}
