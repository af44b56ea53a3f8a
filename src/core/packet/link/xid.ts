/**
 * The negotiation of version 2.2, section 4.3.3.7: what two stations can do beyond the least.
 */
export interface LinkAbilities {
  /** Frames can be asked for one by one. */
  selectiveReject: boolean
  /** Longest information field that is taken, in bytes. */
  longest: number
  /** Frames that are taken without an acknowledgement. */
  window: number
}

const FORMAT = 0x82
const GROUP = 0x80
const CLASSES = 2
const FUNCTIONS = 3
const LONGEST = 6
const WINDOW = 8
const BALANCED_HALF_DUPLEX = [0x21, 0x00]
/** REJ, extended addresses; modulo 128, TEST, check sequence of 16 bits; synchronous. */
const ALWAYS = [0x82, 0xa8, 0x02] as const
const SELECTIVE = 0x04

export function encodeXid({ selectiveReject, longest, window }: LinkAbilities): Uint8Array {
  const bits = 8 * longest
  const parameters = [
    ...[CLASSES, 2, ...BALANCED_HALF_DUPLEX],
    ...[FUNCTIONS, 3, ALWAYS[0] | (selectiveReject ? SELECTIVE : 0), ALWAYS[1], ALWAYS[2]],
    ...[LONGEST, 2, bits >> 8, bits & 255],
    ...[WINDOW, 1, window],
  ]
  return Uint8Array.of(FORMAT, GROUP, parameters.length >> 8, parameters.length & 255, ...parameters)
}

/** @returns nothing where it is none; what is not said is undefined */
export function parseXid(info: Uint8Array): Partial<LinkAbilities> | undefined {
  if (info[0] !== FORMAT || info[1] !== GROUP || info.length < 4) return undefined
  const end = Math.min(info.length, 4 + ((info[2]! << 8) | info[3]!))
  const out: Partial<LinkAbilities> = {}
  for (let at = 4; at + 1 < end;) {
    const [id, length] = [info[at]!, info[at + 1]!]
    const value = info.subarray(at + 2, Math.min(end, at + 2 + length))
    if (value.length < length) return undefined
    const number = value.reduce((sum, byte) => (sum * 256 + byte) % 2 ** 32, 0)
    if (id === FUNCTIONS && length > 0) out.selectiveReject = (value[0]! & SELECTIVE) !== 0
    else if (id === LONGEST) out.longest = Math.floor(number / 8)
    else if (id === WINDOW) out.window = number
    at += 2 + length
  }
  return out
}
