import { hashCall, type CallMemory } from './callHash'

/**
 * The 28-bit field c28 (protocol description, QEX July/August 2020):
 *   0 DE | 1 QRZ | 2 CQ | 3..1002 CQ with three digits | 1003.. CQ with one to four letters
 *   from 2 063 592 a 22-bit hash | from 6 257 896 a standard call
 */
const HASH_BASE = 2_063_592
const HASH_COUNT = 4_194_304
const CALL_BASE = HASH_BASE + HASH_COUNT
const C28_LIMIT = 2 ** 28

const A1 = ' 0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ'
const A2 = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ'
const A3 = '0123456789'
const A4 = ' ABCDEFGHIJKLMNOPQRSTUVWXYZ'

/** A base call of the standard form: prefix with a letter, one digit, one to three letters. */
const STANDARD_CALL = /^(?:[A-Z][0-9A-Z]?|[0-9][A-Z])[0-9][A-Z]{1,3}$/
/** The two national forms that are re-mapped to fit: 3DA0 with a suffix, and 3X with a letter. */
const REMAPPED_CALL = /^(?:3DA0[A-Z]{1,3}|3X[A-Z][0-9][A-Z]{1,3})$/

/** Tells whether a call without /R or /P fits the 28-bit field in full. */
export function isStandardCall(call: string): boolean {
  return (STANDARD_CALL.test(call) && !/^Q[A-Z]/.test(call)) || REMAPPED_CALL.test(call)
}

/** Tells whether a text can be a call at all: 3 to 11 characters with a letter and a digit, at most one portable part. */
export function isPlausibleCall(call: string): boolean {
  return /^[0-9A-Z/]{3,11}$/.test(call) && /[A-Z]/.test(call) && /[0-9]/.test(call) && !/^\/|\/$|\/\//.test(call)
}

function align(call: string): string {
  let mapped = call
  if (/^3DA0/.test(call)) mapped = '3D0' + call.slice(4)
  else if (/^3X[A-Z]/.test(call)) mapped = 'Q' + call.slice(2)
  // The third character must be the digit; a one-character prefix moves right.
  const shifted = /^[0-9A-Z]{2}[0-9]/.test(mapped) ? mapped : ` ${mapped}`
  return shifted.padEnd(6)
}

function restore(aligned: string): string {
  const call = aligned.trim()
  if (/^3D0[A-Z]/.test(call)) return '3DA0' + call.slice(3)
  if (/^Q[A-Z]/.test(call)) return '3X' + call.slice(1)
  return call
}

/** The value of a standard call. @throws {RangeError} the call is not standard */
export function packStandardCall(call: string): number {
  if (!isStandardCall(call)) throw new RangeError(`"${call}" is not a standard call`)
  const c = align(call)
  const digits = [A1.indexOf(c[0]!), A2.indexOf(c[1]!), A3.indexOf(c[2]!), A4.indexOf(c[3]!), A4.indexOf(c[4]!), A4.indexOf(c[5]!)]
  const n = digits[0]! * 36 + digits[1]!
  return CALL_BASE + (((n * 10 + digits[2]!) * 27 + digits[3]!) * 27 + digits[4]!) * 27 + digits[5]!
}

/** The value of a hashed call. */
export function packHashedCall(call: string): number {
  return HASH_BASE + hashCall(call, 22)
}

/** The value of DE, QRZ, CQ, `CQ 123` or `CQ ABCD`, or undefined for any other text. */
export function packToken(token: string): number | undefined {
  if (token === 'DE') return 0
  if (token === 'QRZ') return 1
  if (token === 'CQ') return 2
  const numbered = /^CQ (\d{3})$/.exec(token)
  if (numbered) return 3 + Number(numbered[1])
  const lettered = /^CQ ([A-Z]{1,4})$/.exec(token)
  if (!lettered) return undefined
  let n = 0
  for (const letter of lettered[1]!.padStart(4)) n = n * 27 + A4.indexOf(letter)
  return 1003 + n
}

/** What a c28 field holds. */
export type CallField = { kind: 'token'; text: string } | { kind: 'call'; text: string } | { kind: 'hash'; text: string }

/**
 * Reads a c28 field.
 * @returns undefined for values that name nothing
 */
export function unpackCallField(value: number, memory: CallMemory): CallField | undefined {
  if (value < 0 || value >= C28_LIMIT) return undefined
  if (value < HASH_BASE) {
    const text = unpackToken(value)
    return text === undefined ? undefined : { kind: 'token', text }
  }
  if (value < CALL_BASE) {
    const call = memory.recall(value - HASH_BASE, 22)
    return { kind: 'hash', text: `<${call ?? '...'}>` }
  }
  let n = value - CALL_BASE
  const c6 = A4[n % 27]!
  n = Math.floor(n / 27)
  const c5 = A4[n % 27]!
  n = Math.floor(n / 27)
  const c4 = A4[n % 27]!
  n = Math.floor(n / 27)
  const c3 = A3[n % 10]!
  n = Math.floor(n / 10)
  const c2 = A2[n % 36]!
  n = Math.floor(n / 36)
  if (n >= 37) return undefined
  const call = restore(`${A1[n]!}${c2}${c3}${c4}${c5}${c6}`)
  return / /.test(call) || call.length < 3 ? undefined : { kind: 'call', text: call }
}

function unpackToken(value: number): string | undefined {
  if (value <= 2) return ['DE', 'QRZ', 'CQ'][value]
  if (value <= 1002) return `CQ ${String(value - 3).padStart(3, '0')}`
  let n = value - 1003
  let text = ''
  for (let i = 0; i < 4; i++) {
    text = A4[n % 27]! + text
    n = Math.floor(n / 27)
  }
  const letters = text.trimStart()
  return n > 0 || letters === '' || / /.test(letters) ? undefined : `CQ ${letters}`
}
