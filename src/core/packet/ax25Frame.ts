/**
 * AX.25 frames as a KISS TNC hands them over: without flags, stuffing and check sequence.
 * Source: "AX.25 Link Access Protocol for Amateur Packet Radio", version 2.2, sections 3 and 4.
 */

export interface Ax25Address {
  /** Call with its SSID behind a hyphen when that is not 0, such as "Q1ABC-7". */
  call: string
  /** In a destination or source the command bit; in the path whether this hop has been repeated. */
  flag: boolean
}

export interface Ax25Frame {
  destination: string
  source: string
  /** Hops in order; `repeated` once a digipeater has sent the frame on. */
  path: { call: string; repeated: boolean }[]
  /** By the two command bits; frames of the first version of the protocol say neither. */
  role: 'command' | 'response' | 'old'
  control: number
  kind: Ax25Kind
  /** Protocol of what is carried, in frames that carry something: 0xF0 is none. */
  pid: number | null
  info: Uint8Array
}

/** Kinds by the control byte, counted modulo 8. */
export type Ax25Kind = 'I' | 'RR' | 'RNR' | 'REJ' | 'SREJ' | 'SABM' | 'SABME' | 'DISC' | 'DM' | 'UA' | 'FRMR' | 'UI' | 'XID' | 'TEST' | '?'

const PID_NONE = 0xf0
const CONTROL_UI = 0x03
const ADDRESS_BYTES = 7
/** Destination, source and eight digipeaters, as version 2.0 allowed and much equipment still sends. */
const MOST_ADDRESSES = 10
const POLL_FINAL = 0x10

const UNNUMBERED: Record<number, Ax25Kind> = {
  0x2f: 'SABM',
  0x6f: 'SABME',
  0x43: 'DISC',
  0x0f: 'DM',
  0x63: 'UA',
  0x87: 'FRMR',
  0x03: 'UI',
  0xaf: 'XID',
  0xe3: 'TEST',
}
const SUPERVISORY: readonly Ax25Kind[] = ['RR', 'RNR', 'REJ', 'SREJ']

/** What a control byte says. */
export function kindOf(control: number): Ax25Kind {
  if ((control & 1) === 0) return 'I'
  if ((control & 3) === 1) return SUPERVISORY[(control >> 2) & 3]!
  return UNNUMBERED[control & ~POLL_FINAL] ?? '?'
}

export interface Ax25Addresses extends Pick<Ax25Frame, 'destination' | 'source' | 'path' | 'role'> {
  /** Where the control field begins. */
  end: number
}
type Parsed<T> = { ok: true; value: T } | { ok: false; error: string }

/** Reads who a frame is from and to. @returns what is wrong, with the place, for anything that is none */
export function parseAddresses(bytes: Uint8Array): Parsed<Ax25Addresses> {
  const addresses: (Ax25Address & { last: boolean })[] = []
  let at = 0
  do {
    if (addresses.length === MOST_ADDRESSES) return { ok: false, error: `more than ${MOST_ADDRESSES - 2} digipeaters` }
    if (at + ADDRESS_BYTES > bytes.length)
      return { ok: false, error: `the ${placeOf(addresses.length)} is cut off at byte ${bytes.length}` }
    const address = parseAddress(bytes, at)
    if (typeof address === 'string') return { ok: false, error: `${placeOf(addresses.length)}: ${address}` }
    addresses.push(address)
    at += ADDRESS_BYTES
  } while (!addresses.at(-1)!.last)
  const [destination, source, ...path] = addresses
  if (!source) return { ok: false, error: 'there is no source' }
  return {
    ok: true,
    value: {
      destination: destination!.call,
      source: source.call,
      path: path.map(({ call, flag }) => ({ call, repeated: flag })),
      role: destination!.flag === source.flag ? 'old' : destination!.flag ? 'command' : 'response',
      end: at,
    },
  }
}

/** Reads a frame. @returns what is wrong, with the place, for anything that is none */
export function parseAx25(bytes: Uint8Array): Parsed<Ax25Frame> {
  const addresses = parseAddresses(bytes)
  if (!addresses.ok) return addresses
  const { end, ...who } = addresses.value
  let at = end
  const control = bytes[at++]
  if (control === undefined) return { ok: false, error: 'there is no control byte' }
  const kind = kindOf(control)
  let pid: number | null = null
  if (kind === 'I' || kind === 'UI') {
    pid = bytes[at++] ?? null
    if (pid === null) return { ok: false, error: `a frame of kind ${kind} without a PID` }
  }
  return { ok: true, value: { ...who, control, kind, pid, info: bytes.slice(at) } }
}

/**
 * Writes a frame.
 * @throws RangeError for an address that is none, with its words
 */
export function encodeAx25(
  frame: Pick<Ax25Frame, 'destination' | 'source' | 'path' | 'control' | 'pid' | 'info'> & { role?: Ax25Frame['role'] },
): Uint8Array {
  const head = encodeAddresses({ role: 'command', ...frame })
  return Uint8Array.from([...head, frame.control, ...(frame.pid === null ? [] : [frame.pid]), ...frame.info])
}

/** Writes who a frame is from and to. @throws RangeError for an address that is none, with its words */
export function encodeAddresses({ destination, source, path, role }: Omit<Ax25Addresses, 'end'>): number[] {
  const list = [
    { call: destination, flag: role === 'command' },
    { call: source, flag: role === 'response' },
    ...path.map(({ call, repeated }) => ({ call, flag: repeated })),
  ]
  return list.flatMap((address, i) => encodeAddress(address, i === list.length - 1))
}

/** A frame to everybody who hears it, without a connection. */
export function uiFrame(source: string, destination: string, path: readonly string[], text: string): Uint8Array {
  return encodeAx25({
    source,
    destination,
    path: path.map((call) => ({ call, repeated: false })),
    control: CONTROL_UI,
    pid: PID_NONE,
    info: new TextEncoder().encode(text),
  })
}

/** What is carried, as text: UTF-8 where it is that, else each byte as its character. */
export function textOf(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    return String.fromCharCode(...bytes)
  }
}

/** One line for people: source>destination,path with a star at the last hop that has repeated it. */
export function frameLine(frame: Ax25Frame): string {
  const lastRepeated = frame.path.findLastIndex((hop) => hop.repeated)
  const hops = frame.path.map((hop, i) => `,${hop.call}${i === lastRepeated ? '*' : ''}`).join('')
  return `${frame.source}>${frame.destination}${hops}`
}

function placeOf(index: number): string {
  return index === 0 ? 'destination' : index === 1 ? 'source' : `digipeater ${index - 1}`
}

/** Six characters, each shifted up by one bit, and a byte with flag, SSID and the mark of the last address. */
function parseAddress(bytes: Uint8Array, at: number): (Ax25Address & { last: boolean }) | string {
  let call = ''
  for (let i = 0; i < 6; i++) {
    const byte = bytes[at + i]!
    if (byte & 1) return `the address ends within its call, at byte ${at + i}`
    call += String.fromCharCode(byte >> 1)
  }
  if (!/^[A-Z0-9]+ *$/.test(call)) return `"${call.replace(/[^ -~]/g, '.')}" is no call, at byte ${at}`
  const ssidByte = bytes[at + 6]!
  const ssid = (ssidByte >> 1) & 15
  return { call: call.trimEnd() + (ssid > 0 ? `-${ssid}` : ''), flag: (ssidByte & 0x80) !== 0, last: (ssidByte & 1) === 1 }
}

function encodeAddress({ call, flag }: Ax25Address, last: boolean): number[] {
  const match = /^([A-Z0-9]{1,6})(?:-(\d{1,2}))?$/.exec(call)
  const ssid = Number(match?.[2] ?? 0)
  if (!match || ssid > 15) throw new RangeError(`"${call}" is no address: one to six letters and digits, and an SSID up to 15`)
  const letters = [...match[1]!.padEnd(6)].map((c) => c.charCodeAt(0) << 1)
  return [...letters, (flag ? 0x80 : 0) | 0x60 | (ssid << 1) | (last ? 1 : 0)]
}

/** The bytes of a frame, two signs each. */
export const hexOfFrame = (bytes: Uint8Array): string => Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('')
