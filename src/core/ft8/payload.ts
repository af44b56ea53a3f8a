import { createBitReader, createBitWriter } from './bits'
import { isPlausibleCall, isStandardCall, packHashedCall, packStandardCall, packToken, unpackCallField } from './callField'
import { base38ToCall, callToBase38, hashCall, type CallMemory } from './callHash'
import { packFreeText, packTelemetry, unpackFreeText, unpackTelemetry, whyNotFreeText } from './freeText'
import { formatInfo, packInfo, parseInfo, unpackInfo, type Info } from './infoField'
import type { Ft8Message } from './message'
import { unpackContest } from './contestPayload'

export type PackResult = { ok: true; payload: Uint8Array; type: string } | { ok: false; error: string }

/**
 * Packs what an operator reads into a 77-bit payload (protocol description, QEX July/August 2020).
 *
 * Standard messages, /R and /P, hashed and non-standard calls are tried first, then free text; `T:` and up to
 * 18 hex digits is telemetry. A call in angle brackets is sent as a hash.
 * @example packMessage('CQ Q5RVR JN97') // { ok: true, type: '1', payload: Uint8Array(77) }
 */
export function packMessage(text: string): PackResult {
  const clean = text.trim().toUpperCase().replace(/\s+/g, ' ')
  const telemetry = /^T:([0-9A-F]{1,18})$/.exec(clean)
  if (telemetry) {
    if (BigInt(`0x${telemetry[1]}`) >= 1n << 71n) return { ok: false, error: 'telemetry of 18 digits must begin with 0 to 7' }
    return { ok: true, type: '0.5', payload: packTelemetry(telemetry[1]!) }
  }
  const addressed = packAddressed(clean)
  if (addressed) return addressed
  const problem = whyNotFreeText(clean)
  if (problem === undefined) return { ok: true, type: '0.0', payload: packFreeText(clean) }
  return { ok: false, error: `"${clean}" is no message between two stations, and as free text: ${problem}` }
}

interface Party {
  base: string
  suffix: '' | '/R' | '/P'
  hashed: boolean
  standard: boolean
}

function parseParty(word: string): Party | undefined {
  const bracketed = /^<(.+)>$/.exec(word)
  const call = bracketed ? bracketed[1]! : word
  if (!isPlausibleCall(call)) return undefined
  if (bracketed) return { base: call, suffix: '', hashed: true, standard: isStandardCall(call) }
  const suffixed = /^(.+)(\/R|\/P)$/.exec(call)
  if (suffixed && isStandardCall(suffixed[1]!))
    return { base: suffixed[1]!, suffix: suffixed[2] as '/R' | '/P', hashed: false, standard: true }
  return { base: call, suffix: '', hashed: false, standard: isStandardCall(call) }
}

function packAddressed(text: string): PackResult | undefined {
  const words = text.split(' ')
  const token = /^CQ (?:\d{3}|[A-Z]{1,4})(?= |$)/.exec(text)?.[0] ?? (/^(?:CQ|DE|QRZ)$/.test(words[0]!) ? words[0]! : undefined)
  // "CQ ABCD" alone could be a call-less CQ; a modifier counts only when a call follows it.
  const tokenWords = token ? token.split(' ').length : 0
  const fromWord = token ? words[tokenWords] : words[1]
  const from = fromWord ? parseParty(fromWord) : undefined
  const info = parseInfo(words.slice(token ? tokenWords + 1 : 2).join(' '))
  if (!from || !info) return undefined
  const to = token ? undefined : parseParty(words[0]!)
  if (!token && !to) return undefined
  return packStandard(token, to, from, info) ?? packNonStandard(token, to, from, info)
}

function packStandard(token: string | undefined, to: Party | undefined, from: Party, info: Info): PackResult | undefined {
  if (!from.standard && !from.hashed) return undefined
  if (to && !to.standard && !to.hashed) {
    // A non-standard call that is addressed goes as a hash when the rest needs a standard message.
    if (info.kind !== 'report' && info.kind !== 'locator') return undefined
    to = { ...to, hashed: true }
  }
  if (to && to.hashed && from.hashed) return undefined
  const suffixes = new Set([to?.suffix, from.suffix].filter((s) => s !== '' && s !== undefined))
  if (suffixes.size > 1) return undefined
  const type = suffixes.has('/P') ? 2 : 1
  const field = (party: Party) => (party.hashed ? packHashedCall(party.base) : packStandardCall(party.base))
  const { r, g15 } = packInfo(info)
  const payload = createBitWriter(77)
    .put(to ? field(to) : packToken(token!)!, 28)
    .put(to?.suffix ? 1 : 0, 1)
    .put(field(from), 28)
    .put(from.suffix ? 1 : 0, 1)
    .put(r, 1)
    .put(g15, 15)
    .put(type, 3).bits
  return { ok: true, type: String(type), payload }
}

/** Type 4: h12 c58 h1 r2 c1. One call in full, the other as a 12-bit hash; h1 tells that the hashed call comes second. */
function packNonStandard(token: string | undefined, to: Party | undefined, from: Party, info: Info): PackResult | undefined {
  const ending = { nothing: 0, RRR: 1, RR73: 2, '73': 3, locator: -1, report: -1 }[info.kind]
  if (ending < 0) return undefined
  const full = (party: Party) => callToBase38(party.base + party.suffix, 'right')
  if (token !== undefined) {
    if (token !== 'CQ' || info.kind !== 'nothing' || from.hashed) return undefined
    return { ok: true, type: '4', payload: createBitWriter(77).put(0, 12).put(full(from), 58).put(0, 1).put(0, 2).put(1, 1).put(4, 3).bits }
  }
  const hashedSecond = from.hashed || (from.standard && !to!.hashed && !to!.standard)
  const hashed = hashedSecond ? from : to!
  const shown = hashedSecond ? to! : from
  if (shown.hashed) return undefined
  const payload = createBitWriter(77)
    .put(hashCall(hashed.base + hashed.suffix, 12), 12)
    .put(full(shown), 58)
    .put(hashedSecond ? 1 : 0, 1)
    .put(ending, 2)
    .put(0, 1)
    .put(4, 3).bits
  return { ok: true, type: '4', payload }
}

/**
 * Unpacks a payload that passed its check, and remembers the calls it gives in full.
 * @returns undefined when the payload means nothing: reserved types, or values outside their field
 */
export function unpackMessage(payload: ArrayLike<number>, memory: CallMemory): Ft8Message | undefined {
  const tail = createBitReader(payload, 71)
  const n3 = tail.take(3)
  const i3 = tail.take(3)
  switch (i3) {
    case 0:
      if (n3 === 0) {
        const text = unpackFreeText(payload)
        return text === undefined ? undefined : { kind: 'freeText', text }
      }
      if (n3 === 5) {
        const hex = unpackTelemetry(payload)
        return { kind: 'telemetry', text: `T:${hex}`, hex }
      }
      return unpackContest(payload, memory)
    case 1:
    case 2:
      return unpackStandard(payload, i3, memory)
    case 3:
    case 5:
      return unpackContest(payload, memory)
    case 4:
      return unpackNonStandard(payload, memory)
    default:
      return undefined
  }
}

function unpackStandard(payload: ArrayLike<number>, i3: 1 | 2, memory: CallMemory): Ft8Message | undefined {
  const reader = createBitReader(payload)
  const suffix = i3 === 1 ? '/R' : '/P'
  const first = unpackCallField(reader.take(28), memory)
  const firstSuffix = reader.take(1) ? suffix : ''
  const second = unpackCallField(reader.take(28), memory)
  const secondSuffix = reader.take(1) ? suffix : ''
  const info = unpackInfo(reader.take(1), reader.take(15))
  if (!first || !second || !info || second.kind === 'token') return undefined
  if ((first.kind !== 'call' && firstSuffix) || (second.kind !== 'call' && secondSuffix)) return undefined
  const known = (field: typeof second, ending: string) => {
    const call = field.text.replace(/[<>]/g, '') + ending
    return call === '...' ? undefined : call
  }
  if (first.kind === 'call') memory.remember(first.text + firstSuffix)
  if (second.kind === 'call') memory.remember(second.text + secondSuffix)
  const text = [first.text + firstSuffix, second.text + secondSuffix, formatInfo(info)].filter(Boolean).join(' ')
  const from = known(second, secondSuffix)
  if (first.kind === 'token') return { kind: 'standard', text, call: first.text, ...(from && { from }), info }
  const to = known(first, firstSuffix)
  return { kind: 'standard', text, ...(to && { to }), ...(from && { from }), info }
}

function unpackNonStandard(payload: ArrayLike<number>, memory: CallMemory): Ft8Message | undefined {
  const reader = createBitReader(payload)
  const hash = reader.take(12)
  const full = base38ToCall(reader.takeWide(58))
  const hashedSecond = reader.take(1) === 1
  const ending = reader.take(2)
  const isCq = reader.take(1) === 1
  if (full === undefined || !isPlausibleCall(full)) return undefined
  memory.remember(full)
  if (isCq) return { kind: 'standard', text: `CQ ${full}`, call: 'CQ', from: full, info: { kind: 'nothing' } }
  const info: Info = { kind: (['nothing', 'RRR', 'RR73', '73'] as const)[ending]! }
  const recalled = memory.recall(hash, 12)
  const hashed = `<${recalled ?? '...'}>`
  const text = [...(hashedSecond ? [full, hashed] : [hashed, full]), formatInfo(info)].filter(Boolean).join(' ')
  const [to, from] = hashedSecond ? [full, recalled] : [recalled, full]
  return { kind: 'standard', text, ...(to && { to }), ...(from && { from }), info }
}
