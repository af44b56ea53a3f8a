/**
 * KISS, the byte stream between a computer and a TNC. Source: "The KISS TNC: A simple Host-to-TNC communications
 * protocol", Chepponis and Karn, 1987; ports in the upper half of the command byte by its multi-drop extension.
 */
export const FEND = 0xc0
export const FESC = 0xdb
const TFEND = 0xdc
const TFESC = 0xdd

/** Commands from the computer to the TNC; only data ever comes back. */
export const KISS_COMMANDS = {
  data: 0,
  txDelay: 1,
  persistence: 2,
  slotTime: 3,
  txTail: 4,
  fullDuplex: 5,
  setHardware: 6,
} as const

/** Leaves KISS: the whole command byte is 255, and no port is meant. */
export const KISS_RETURN = 0xff

/** Longest content of a frame that is taken: several times what AX.25 allows. */
const LONGEST_KISS_FRAME = 4096

export interface KissFrame {
  /** 0 to 15. */
  port: number
  /** 0 to 15; 0 is data. A return from KISS reads as port 15, command 15. */
  command: number
  /** What follows the command byte, without escapes. */
  data: Uint8Array
}

export type KissEvent =
  | { type: 'frame'; frame: KissFrame }
  /** Something between two frame ends that is no frame; `bytes` is how much of it there was. */
  | { type: 'bad'; error: string; bytes: number }
  /** Bytes before the first frame end: a TNC in command mode talks like this. */
  | { type: 'outside'; bytes: Uint8Array }

/** A frame as it goes over the line, between two frame ends. @throws RangeError for a port or command beyond 0 to 15 */
export function encodeKiss({ port, command, data }: KissFrame): Uint8Array {
  if (!(port >= 0 && port <= 15 && command >= 0 && command <= 15)) throw new RangeError(`no KISS port ${port}, command ${command}`)
  const out: number[] = [FEND]
  // The command byte is escaped like all others: port 12 with data would read as a frame end.
  const put = (byte: number) => {
    if (byte === FEND) out.push(FESC, TFEND)
    else if (byte === FESC) out.push(FESC, TFESC)
    else out.push(byte)
  }
  put((port << 4) | command)
  for (const byte of data) put(byte)
  out.push(FEND)
  return Uint8Array.from(out)
}

/** What takes a TNC out of KISS. */
export const leaveKiss = (): Uint8Array => Uint8Array.of(FEND, KISS_RETURN, FEND)

/**
 * Takes a KISS stream in whatever pieces it comes. Never throws; holds no more than the longest frame.
 * A frame with a wrong escape is reported as bad and not handed on: it has lost a byte.
 */
export class KissDecoder {
  private readonly buffer: Uint8Array
  private length = 0
  /** Bytes since the last frame end, those that found no room included. */
  private seen = 0
  private synchronised = false
  private escaped = false
  private fault: string | undefined

  constructor(longest = LONGEST_KISS_FRAME) {
    this.buffer = new Uint8Array(longest + 1)
  }

  push(bytes: Uint8Array): KissEvent[] {
    const events: KissEvent[] = []
    let at = 0
    if (!this.synchronised) {
      const first = bytes.indexOf(FEND)
      const outside = first < 0 ? bytes.length : first
      if (outside > 0) events.push({ type: 'outside', bytes: bytes.slice(0, outside) })
      if (first < 0) return events
      this.synchronised = true
      at = first + 1
    }
    const { buffer } = this
    let { length, escaped, seen } = this
    for (; at < bytes.length; at++) {
      const byte = bytes[at]!
      if (byte === FEND) {
        this.length = length
        this.seen = seen
        this.escaped = escaped
        this.end(events)
        length = 0
        seen = 0
        escaped = false
        continue
      }
      seen++
      let value = byte
      if (escaped) {
        escaped = false
        if (byte === TFEND) value = FEND
        else if (byte === TFESC) value = FESC
        else this.fault ??= `an escape is followed by ${hexByte(byte)}, not by DC or DD`
      } else if (byte === FESC) {
        escaped = true
        continue
      }
      if (length < buffer.length) buffer[length++] = value
      else this.fault ??= `longer than ${buffer.length - 1} bytes`
    }
    this.length = length
    this.seen = seen
    this.escaped = escaped
    return events
  }

  /** Says what stood in a frame that the stream's end cut off, if anything. */
  finish(): KissEvent[] {
    if (this.seen === 0) return []
    const events: KissEvent[] = [{ type: 'bad', error: 'the stream ends inside a frame', bytes: this.seen }]
    this.clear()
    this.synchronised = false
    return events
  }

  private end(events: KissEvent[]): void {
    // Several frame ends in a row are a pause, not empty frames.
    if (this.seen > 0) {
      const error = this.fault ?? (this.escaped ? 'the frame ends inside an escape' : undefined)
      if (error) events.push({ type: 'bad', error, bytes: this.seen })
      else {
        const command = this.buffer[0]!
        events.push({
          type: 'frame',
          frame: { port: command >> 4, command: command & 15, data: this.buffer.slice(1, this.length) },
        })
      }
    }
    this.clear()
  }

  private clear(): void {
    this.length = 0
    this.seen = 0
    this.escaped = false
    this.fault = undefined
  }
}

const hexByte = (byte: number) => byte.toString(16).toUpperCase().padStart(2, '0')
