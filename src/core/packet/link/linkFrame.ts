import { encodeAddresses, kindOf, parseAddresses, type Ax25Addresses, type Ax25Kind } from '../ax25Frame'

/** How frames are counted: 8 by custom, 128 between stations of version 2.2. */
export type Modulo = 8 | 128

/** What a frame of the connected link says, beside who it is from and to. */
export interface LinkFrame {
  kind: Exclude<Ax25Kind, '?' | 'UI' | 'TEST'>
  /** By the two command bits; frames of old stations say neither. */
  role: 'command' | 'response' | 'old'
  /** Poll in a command, final in a response. */
  pf: boolean
  /** N(S) of I frames; 0 in others. */
  ns: number
  /** N(R) of I and supervisory frames; 0 in others. */
  nr: number
  info: Uint8Array
}

const NONE = new Uint8Array()
const PID_NONE = 0xf0
const POLL_FINAL = 0x10
const SUPERVISORY = { RR: 0x01, RNR: 0x05, REJ: 0x09, SREJ: 0x0d } as const
const UNNUMBERED = { SABM: 0x2f, SABME: 0x6f, DISC: 0x43, DM: 0x0f, UA: 0x63, FRMR: 0x87, XID: 0xaf } as const
type Supervisory = keyof typeof SUPERVISORY

export const isSupervisory = (kind: Ax25Kind): kind is Supervisory => kind in SUPERVISORY

/** A frame with what is usual for everything that is not said. */
export const linkFrame = (frame: Pick<LinkFrame, 'kind' | 'role'> & Partial<LinkFrame>): LinkFrame => ({
  pf: false,
  ns: 0,
  nr: 0,
  info: NONE,
  ...frame,
})

/** Bytes from the control field on. */
function bodyOf({ kind, pf, ns, nr, info }: LinkFrame, modulo: Modulo): number[] {
  if (kind !== 'I' && !isSupervisory(kind)) return [UNNUMBERED[kind] | (pf ? POLL_FINAL : 0), ...info]
  const low = kind === 'I' ? ns << 1 : SUPERVISORY[kind]
  const control = modulo === 8 ? [low | (pf ? POLL_FINAL : 0) | (nr << 5)] : [low, (nr << 1) | (pf ? 1 : 0)]
  return kind === 'I' ? [...control, PID_NONE, ...info] : control
}

/** @throws RangeError for an address that is none, with its words */
export function encodeLinkFrame(
  frame: LinkFrame,
  { modulo, ...addresses }: Pick<Ax25Addresses, 'destination' | 'source' | 'path'> & { modulo: Modulo },
): Uint8Array {
  return Uint8Array.from([...encodeAddresses({ ...addresses, role: frame.role }), ...bodyOf(frame, modulo)])
}

/**
 * Reads a frame of a connected link.
 * @param modulo how the link with that station counts
 * @returns nothing for what is no frame of a link, and for what carries another protocol
 */
export function parseLinkFrame(bytes: Uint8Array, modulo: Modulo): { frame: LinkFrame; addresses: Ax25Addresses } | undefined {
  const parsed = parseAddresses(bytes)
  if (!parsed.ok) return undefined
  const { end, role } = parsed.value
  const [first, second] = [bytes[end], bytes[end + 1]]
  if (first === undefined) return undefined
  const kind = kindOf(first)
  if (kind === '?' || kind === 'UI' || kind === 'TEST') return undefined
  const counted = kind === 'I' || isSupervisory(kind)
  const wide = counted && modulo === 128
  if (wide && second === undefined) return undefined
  const pf = wide ? (second! & 1) !== 0 : (first & POLL_FINAL) !== 0
  const nr = counted ? (wide ? second! >> 1 : first >> 5) : 0
  const ns = kind === 'I' ? (wide ? first >> 1 : (first >> 1) & 7) : 0
  const at = end + (wide ? 2 : 1)
  // A frame counted the other way, from before the two agreed, has its second control byte where a PID should be, or a byte too many.
  if (kind === 'I' && bytes[at] !== PID_NONE) return undefined
  if (isSupervisory(kind) && bytes.length !== at) return undefined
  const info = kind === 'I' ? bytes.slice(at + 1) : counted ? NONE : bytes.slice(at)
  return { frame: { kind, role, pf, ns, nr, info }, addresses: parsed.value }
}
