import { exchangeOffset, type ExchangeOffset } from './timedExchange'

/**
 * The packet of the Simple Network Time Protocol (RFC 4330, section 4; RFC 5905, section 7.3): 48 bytes.
 *
 *   0        LI (2 bits) VN (3) Mode (3)     1  stratum   2  poll   3  precision
 *   4..7     root delay      8..11  root dispersion      12..15  reference identifier
 *   16..23   reference time  24..31 originate  32..39 receive  40..47 transmit, each 32 bits of seconds since 1900
 *            and 32 bits of fraction
 */
const SNTP_BYTES = 48
export const SNTP_PORT = 123

const UNIX_FROM_1900_S = 2_208_988_800
const ERA_S = 2 ** 32
/** Seconds of the 64-bit time with the first bit clear belong to the era that begins in 2036. */
const FIRST_ERA_FROM = 2 ** 31

function writeTime(view: DataView, at: number, utcMs: number): void {
  const seconds = Math.floor(utcMs / 1000)
  view.setUint32(at, (((seconds + UNIX_FROM_1900_S) % ERA_S) + ERA_S) % ERA_S)
  view.setUint32(at + 4, Math.min(ERA_S - 1, Math.round(((utcMs - seconds * 1000) / 1000) * ERA_S)))
}

function readTime(view: DataView, at: number): number | undefined {
  const seconds = view.getUint32(at)
  const fraction = view.getUint32(at + 4)
  if (seconds === 0 && fraction === 0) return undefined
  const since1900 = seconds >= FIRST_ERA_FROM ? seconds : seconds + ERA_S
  return (since1900 - UNIX_FROM_1900_S) * 1000 + (fraction / ERA_S) * 1000
}

/**
 * A request. The transmit field carries a number that only this exchange knows: a reply that does not repeat it is not
 * an answer to it.
 * @param nonce eight bytes
 */
export function encodeSntpRequest(nonce: Uint8Array): Uint8Array {
  if (nonce.length !== 8) throw new RangeError(`nonce must have 8 bytes, got ${nonce.length}`)
  const packet = new Uint8Array(SNTP_BYTES)
  packet[0] = (4 << 3) | 3
  packet.set(nonce, 40)
  return packet
}

export interface SntpReply {
  receivedUtcMs: number
  sentUtcMs: number
  stratum: number
  /** How far the server may be from its own source: half the root delay plus the root dispersion. */
  rootErrorMs: number
}

const fixed16 = (view: DataView, at: number) => (view.getUint32(at) / 65_536) * 1000
/** A server further than this from true time is not worth asking (RFC 5905, MAXDIST is 1.5 s). */
const FURTHEST_ROOT_MS = 1500

/** What a reply was read as. `kiss` is the code of a server that sends us away (RFC 5905, section 7.4), which ends the asking. */
export type ParsedSntpReply = { ok: true; value: SntpReply } | { ok: false; error: string; kiss?: string }

/** Reads a reply to the request that carried `nonce`. Never throws. */
export function parseSntpReply(packet: Uint8Array, nonce: Uint8Array): ParsedSntpReply {
  const refuse = (error: string): ParsedSntpReply => ({ ok: false, error })
  if (packet.length < SNTP_BYTES) return refuse(`the answer has ${packet.length} bytes instead of ${SNTP_BYTES}`)
  const view = new DataView(packet.buffer, packet.byteOffset, packet.byteLength)
  const leap = packet[0]! >> 6
  const version = (packet[0]! >> 3) & 7
  const mode = packet[0]! & 7
  const stratum = packet[1]!
  if (mode !== 4 || version < 1 || version > 4) return refuse('the answer is not that of a time server')
  for (let i = 0; i < 8; i++) if (packet[24 + i] !== nonce[i]) return refuse('the answer belongs to another question')
  if (stratum === 0) {
    const code = String.fromCharCode(...packet.subarray(12, 16)).replace(/[^\x21-\x7e]/g, '')
    return {
      ok: false,
      error: `the server sends us away (${code || 'no reason given'})${code === 'RATE' ? ': it was asked too often' : ''}`,
      kiss: code,
    }
  }
  if (leap === 3 || stratum > 15) return refuse('the server says that its own clock is not set')
  const receivedUtcMs = readTime(view, 32)
  const sentUtcMs = readTime(view, 40)
  if (receivedUtcMs === undefined || sentUtcMs === undefined) return refuse('the answer carries no time')
  if (sentUtcMs < receivedUtcMs - 1) return refuse('the server says that it answered before it was asked')
  const rootErrorMs = fixed16(view, 4) / 2 + fixed16(view, 8)
  if (rootErrorMs > FURTHEST_ROOT_MS) return refuse(`the server itself is only sure to ${(rootErrorMs / 1000).toFixed(1)} s`)
  return { ok: true, value: { receivedUtcMs, sentUtcMs, stratum, rootErrorMs } }
}

/** What a time server answers; for the stand-in. @returns undefined for what is no request */
export function encodeSntpReply(
  request: Uint8Array,
  {
    receivedUtcMs,
    sentUtcMs,
    stratum = 2,
    leap = 0,
    code,
  }: { receivedUtcMs: number; sentUtcMs: number; stratum?: number; leap?: number; code?: string },
): Uint8Array | undefined {
  if (request.length < SNTP_BYTES || (request[0]! & 7) !== 3) return undefined
  const packet = new Uint8Array(SNTP_BYTES)
  const view = new DataView(packet.buffer)
  packet[0] = (leap << 6) | (request[0]! & 0x38) | 4
  packet[1] = stratum
  packet[2] = request[2]!
  packet[3] = 0xec
  view.setUint32(4, Math.round(0.004 * 65_536))
  view.setUint32(8, Math.round(0.002 * 65_536))
  for (let i = 0; i < 4; i++) packet[12 + i] = (code ?? 'SIMU').charCodeAt(i)
  writeTime(view, 16, sentUtcMs)
  packet.set(request.subarray(40, 48), 24)
  writeTime(view, 32, receivedUtcMs)
  writeTime(view, 40, sentUtcMs)
  return packet
}

/** One answered question, with the local instants on a monotonic clock. */
export interface SntpSample {
  reply: SntpReply
  sentMonotonicMs: number
  returnedMonotonicMs: number
}

export interface SntpEstimate {
  /** UTC minus the monotonic clock. */
  offsetMs: number
  roundTripMs: number
  /** 95 % half-width: half the round trip and the server's own distance from true time. */
  uncertaintyMs: number
  monotonicMs: number
  samples: number
  /** By how much its answers contradict one another, beyond what round trips and its own distance explain; 0 when they do not. */
  contradictionMs: number
}

interface Answer {
  offset: ExchangeOffset
  roundTripMs: number
  lowMs: number
  highMs: number
}

/** An answer that was under way for less than no time by more than this makes no sense. */
const CLOCK_GRAIN_MS = 1

/** Why an answer cannot be believed by itself; undefined when it can. */
export function absurdSntp(sample: SntpSample): string | undefined {
  const { roundTripMs } = offsetOf(sample)
  return roundTripMs < -CLOCK_GRAIN_MS
    ? `the server says that it took ${Math.round(sample.reply.sentUtcMs - sample.reply.receivedUtcMs)} ms to answer, but the answer was here ${Math.round(sample.returnedMonotonicMs - sample.sentMonotonicMs)} ms after the question`
    : undefined
}

function offsetOf({ reply, sentMonotonicMs, returnedMonotonicMs }: SntpSample): ExchangeOffset {
  return exchangeOffset({
    sentLocalMs: sentMonotonicMs,
    receivedRemoteMs: reply.receivedUtcMs,
    repliedRemoteMs: reply.sentUtcMs,
    returnedLocalMs: returnedMonotonicMs,
  })
}

/**
 * Of several answers of one server, trusts the one that was least delayed. Whatever the ways there and back were, the truth
 * lies in every answer's interval if the server is right; answers whose intervals share no instant contradict one another,
 * and the estimate then holds them all.
 */
export function estimateFromSntp(samples: readonly SntpSample[]): SntpEstimate | undefined {
  const answers = samples.flatMap((sample): Answer[] => {
    if (absurdSntp(sample) !== undefined) return []
    const offset = offsetOf(sample)
    const roundTripMs = Math.max(0, offset.roundTripMs)
    const halfMs = roundTripMs / 2 + sample.reply.rootErrorMs + CLOCK_GRAIN_MS
    return [{ offset, roundTripMs, lowMs: offset.offsetMs - halfMs, highMs: offset.offsetMs + halfMs }]
  })
  if (answers.length === 0) return undefined
  const best = answers.reduce((a, b) => (b.roundTripMs < a.roundTripMs ? b : a))
  const contradictionMs = Math.max(0, Math.max(...answers.map((a) => a.lowMs)) - Math.min(...answers.map((a) => a.highMs)))
  const held = contradictionMs === 0 ? [best] : answers
  const lowMs = Math.min(...held.map((a) => a.lowMs))
  const highMs = Math.max(...held.map((a) => a.highMs))
  return {
    offsetMs: (lowMs + highMs) / 2,
    roundTripMs: best.roundTripMs,
    uncertaintyMs: (highMs - lowMs) / 2,
    monotonicMs: best.offset.localMs,
    samples: answers.length,
    contradictionMs,
  }
}
