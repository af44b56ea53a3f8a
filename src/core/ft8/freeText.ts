import { createBitReader, createBitWriter } from './bits'

const ALPHABET = ' 0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ+-./?'
const FREE_TEXT_LENGTH = 13

/** Tells why a text cannot go as free text, or undefined when it can. */
export function whyNotFreeText(text: string): string | undefined {
  if (text.trim().length === 0) return 'the text is empty'
  if (text.length > FREE_TEXT_LENGTH) return `free text holds ${FREE_TEXT_LENGTH} characters, this has ${text.length}`
  const odd = [...text].find((c) => !ALPHABET.includes(c))
  return odd === undefined ? undefined : `free text cannot hold "${odd}"; it has letters, digits, space and + - . / ?`
}

/** Packs up to 13 characters into a payload of type 0.0 (f71, base 42, right-aligned). @throws {RangeError} see whyNotFreeText */
export function packFreeText(text: string): Uint8Array {
  const problem = whyNotFreeText(text)
  if (problem) throw new RangeError(problem)
  let n = 0n
  for (const character of text.padStart(FREE_TEXT_LENGTH)) n = n * 42n + BigInt(ALPHABET.indexOf(character))
  return createBitWriter(77).put(n, 71).put(0, 3).put(0, 3).bits
}

/** Reads f71; undefined when the number is beyond 13 characters or says nothing. */
export function unpackFreeText(payload: ArrayLike<number>): string | undefined {
  let n = createBitReader(payload).takeWide(71)
  let text = ''
  for (let i = 0; i < FREE_TEXT_LENGTH; i++) {
    text = ALPHABET[Number(n % 42n)]! + text
    n /= 42n
  }
  const trimmed = text.trim()
  return n === 0n && trimmed !== '' ? trimmed : undefined
}

/** Packs up to 18 hex digits (the first at most 7) into a payload of type 0.5. @throws {RangeError} other digits or too large */
export function packTelemetry(hex: string): Uint8Array {
  if (!/^[0-9A-F]{1,18}$/.test(hex)) throw new RangeError(`telemetry is up to 18 hex digits, got "${hex}"`)
  return createBitWriter(77)
    .put(BigInt(`0x${hex}`), 71)
    .put(5, 3)
    .put(0, 3).bits
}

/** Reads t71 as 18 hex digits. */
export function unpackTelemetry(payload: ArrayLike<number>): string {
  return createBitReader(payload).takeWide(71).toString(16).toUpperCase().padStart(18, '0')
}
