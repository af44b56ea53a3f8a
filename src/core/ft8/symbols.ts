import { withCrc } from './crc14'
import { encodeLdpc } from './ldpc'
import { COSTAS, COSTAS_STARTS, DATA_SYMBOLS, GRAY, SYMBOL_COUNT } from './signal'

/**
 * Turns a 77-bit payload into the 79 tones of a transmission.
 * @returns 79 values 0 to 7
 */
export function payloadToTones(payload: ArrayLike<number>): Uint8Array {
  return codewordToTones(payloadToCodeword(payload))
}

/** A 77-bit payload with its check and its parity. @returns 174 values 0 or 1 */
export function payloadToCodeword(payload: ArrayLike<number>): Uint8Array {
  return encodeLdpc(withCrc(payload))
}

/** Places a 174-bit codeword between the Costas arrays. @returns 79 values 0 to 7 */
export function codewordToTones(codeword: ArrayLike<number>): Uint8Array {
  const tones = new Uint8Array(SYMBOL_COUNT)
  for (const start of COSTAS_STARTS) COSTAS.forEach((tone, i) => (tones[start + i] = tone))
  DATA_SYMBOLS.forEach((symbol, i) => {
    const value = (codeword[3 * i]! << 2) | (codeword[3 * i + 1]! << 1) | codeword[3 * i + 2]!
    tones[symbol] = GRAY[value]!
  })
  return tones
}
