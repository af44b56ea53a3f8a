import { z } from 'zod'

/** Ways of talking that the stand-in radio knows, named as the dialects that are meant to understand them. */
export const RADIO_VOICES = ['ascii-11', 'ascii-9', 'framed-bcd', 'five-byte'] as const
export type RadioVoice = (typeof RADIO_VOICES)[number]

/** What can be wrong with the stand-in radio. */
export const RADIO_FAULTS = {
  off: 'switched off',
  slow: 'answers 1.5 s late',
  drops: 'every third answer is lost',
  garbled: 'garble at every speed',
  otherAddress: 'its address was changed',
  refuses: 'refuses every command',
  highSwr: 'a standing wave ratio of 4',
  doesNotKey: 'does not key',
  keySticks: 'stays keyed',
} as const
export type RadioFault = keyof typeof RADIO_FAULTS
export const radioFaultSchema = z.enum(Object.keys(RADIO_FAULTS) as [RadioFault, ...RadioFault[]])

export interface RadioStandinOptions {
  voice: RadioVoice
  /** Speed it is set to. At any other it hears and says garble. */
  serialBaud: number
  frequencyHz?: number
  /** Of the framed voice. */
  address?: number
  /** Lets it forget a command that breaks off half-way; without, it waits for the rest for ever. */
  monotonicMs?: () => number
}

/** What the stand-in says, and how much later. */
export interface Said {
  delayMs: number
  bytes: Uint8Array
}

type Mode = 'lsb' | 'usb' | 'cw' | 'fm' | 'am' | 'usb-data' | 'fm-data'
const ANSWER_MS = 8
const SLOW_MS = 1500
/** A command of five bytes comes in one piece: where bytes have no marks about them, only a pause tells where one begins. */
const LONGEST_PAUSE_MS = 200

/**
 * A made-up radio on a control line. It is written from the bytes on the wire, apart from the dialects' templates, so that
 * neither can hide the other's mistake. Meters move while it is keyed; the SWR can be raised.
 */
export class RadioStandin {
  frequencyHz: number
  mode: Mode = 'usb'
  keyed = false
  swr = 1.3
  /** Share of full power. */
  power = 0.5
  private buffer: number[] = []
  private lastByteMs = -Infinity
  private answers = 0
  private readonly address: number

  constructor(
    private readonly options: RadioStandinOptions,
    private readonly faults: () => ReadonlySet<RadioFault> = () => new Set(),
  ) {
    this.frequencyHz = options.frequencyHz ?? 14_074_000
    this.address = options.address ?? 0x70
  }

  /** Takes what a computer sent. @param serialBaud speed at which it was sent; undefined for a line without one */
  receive(bytes: Uint8Array, serialBaud?: number): Said[] {
    const faults = this.faults()
    if (faults.has('off')) return []
    if (faults.has('garbled') || (serialBaud !== undefined && serialBaud !== this.options.serialBaud))
      return this.say([0xf8, 0x80, 0xe0, 0x78])
    const nowMs = this.options.monotonicMs?.() ?? 0
    if (this.options.voice === 'five-byte' && nowMs - this.lastByteMs > LONGEST_PAUSE_MS) this.buffer = []
    this.lastByteMs = nowMs
    this.buffer.push(...bytes)
    const said: Said[] = []
    for (;;) {
      const command = this.cut()
      if (!command) break
      const answer = this.obey(command)
      if (answer) said.push(...this.say(answer))
    }
    return said
  }

  /** Lets the key lines be used: a stand-in of an interface ties RTS or DTR to it. */
  setKeyed(keyed: boolean): void {
    const faults = this.faults()
    if (keyed && faults.has('doesNotKey')) return
    if (!keyed && faults.has('keySticks')) return
    this.keyed = keyed
  }

  private say(answer: number[]): Said[] {
    const faults = this.faults()
    this.answers++
    if (faults.has('drops') && this.answers % 3 === 0) return []
    return [{ delayMs: faults.has('slow') ? SLOW_MS : ANSWER_MS, bytes: Uint8Array.from(answer) }]
  }

  private meters() {
    const swr = this.faults().has('highSwr') ? 4 : this.swr
    return this.keyed ? { swr, power: this.power } : { swr: 1, power: 0 }
  }

  private cut(): number[] | undefined {
    const { buffer } = this
    if (this.options.voice === 'five-byte') return buffer.length < 5 ? undefined : buffer.splice(0, 5)
    const end = this.options.voice === 'framed-bcd' ? 0xfd : 0x3b
    const at = buffer.indexOf(end)
    if (at < 0) {
      if (buffer.length > 200) buffer.length = 0
      return undefined
    }
    return buffer.splice(0, at + 1)
  }

  private obey(command: number[]): number[] | undefined {
    switch (this.options.voice) {
      case 'five-byte':
        return this.obeyFive(command)
      case 'framed-bcd':
        return this.obeyFramed(command)
      default: {
        const words = String.fromCharCode(...command.slice(0, -1))
        const answer = this.faults().has('refuses') ? '?' : this.obeyAscii(words, this.options.voice === 'ascii-11')
        return answer === undefined ? undefined : [...`${answer};`].map((c) => c.charCodeAt(0))
      }
    }
  }

  private obeyAscii(words: string, eleven: boolean): string | undefined {
    const digits = (value: number, length: number) => String(Math.round(value)).padStart(length, '0')
    const name = words.slice(0, 2)
    const rest = words.slice(2)
    const codes: [Mode, string][] = [
      ['lsb', '1'],
      ['usb', '2'],
      ['cw', '3'],
      ['fm', '4'],
      ['am', '5'],
      ...(eleven
        ? []
        : ([
            ['usb-data', 'C'],
            ['fm-data', 'A'],
          ] as [Mode, string][])),
    ]
    const { swr, power } = this.meters()
    if (name === 'FA') {
      const length = eleven ? 11 : 9
      if (rest === '') return `FA${digits(this.frequencyHz, length)}`
      if (!new RegExp(`^\\d{${length}}$`).test(rest)) return '?'
      this.frequencyHz = Number(rest)
      return undefined
    }
    if (name === 'MD') {
      const receiver = eleven ? '' : '0'
      const code = rest.slice(receiver.length)
      if (code === '') return `MD${receiver}${codes.find(([mode]) => mode === this.mode)![1]}`
      const mode = codes.find(([, c]) => c === code)?.[0]
      if (!mode) return '?'
      this.mode = mode
      return undefined
    }
    if (eleven) {
      if (words === 'TX' || words === 'RX') {
        this.setKeyed(words === 'TX')
        return undefined
      }
      if (words === 'IF') return `IF${digits(this.frequencyHz, 11)}${' '.repeat(15)}${this.keyed ? 1 : 0}20000000`
      if (words === 'SM0') return `SM0${digits(30 * power, 4)}`
      if (words === 'RM1') return `RM1${digits(rawSwr(swr, [0, 6, 12, 18, 30]), 4)}`
      if (words === 'RM3') return 'RM30000'
      return '?'
    }
    if (name === 'TX') {
      if (rest === '') return `TX${this.keyed ? 1 : 0}`
      if (rest !== '0' && rest !== '1') return '?'
      this.setKeyed(rest === '1')
      return undefined
    }
    if (words === 'RM5') return `RM5${digits(255 * power, 3)}`
    if (words === 'RM6') return `RM6${digits(rawSwr(swr, [0, 64, 100, 140, 255]), 3)}`
    if (words === 'RM4') return 'RM4000'
    return '?'
  }

  private obeyFramed(frame: number[]): number[] | undefined {
    const start = frame.lastIndexOf(0xfe)
    const body = frame.slice(start + 1, -1)
    const [to, from, command, ...data] = body
    const own = this.faults().has('otherAddress') ? this.address + 1 : this.address
    if (start < 1 || to !== own || from === undefined || command === undefined) return undefined
    const reply = (...bytes: number[]) => [0xfe, 0xfe, from, own, ...bytes, 0xfd]
    if (this.faults().has('refuses')) return reply(0xfa)
    const bcd = (value: number) => parseInt(String(Math.round(value)).padStart(2, '0'), 16)
    const raw = (value: number) => [bcd(Math.floor(value / 100)), bcd(Math.floor(value) % 100)]
    const { swr, power } = this.meters()
    const codes: Record<number, Mode> = { 0: 'lsb', 1: 'usb', 2: 'am', 3: 'cw', 5: 'fm' }
    if (command === 0x03) {
      const text = String(this.frequencyHz).padStart(10, '0')
      return reply(
        0x03,
        ...text
          .match(/../g)!
          .map((pair) => parseInt(pair, 16))
          .reverse(),
      )
    }
    if (command === 0x05 && data.length === 5) {
      this.frequencyHz = Number(
        [...data]
          .reverse()
          .map((byte) => byte.toString(16).padStart(2, '0'))
          .join(''),
      )
      return reply(0xfb)
    }
    if (command === 0x04) return reply(0x04, Number(Object.entries(codes).find(([, mode]) => mode === this.mode)?.[0] ?? 1), 1)
    if (command === 0x06 && codes[data[0]!]) {
      this.mode = codes[data[0]!]!
      return reply(0xfb)
    }
    if (command === 0x1c && data[0] === 0) {
      if (data.length === 1) return reply(0x1c, 0, this.keyed ? 1 : 0)
      this.setKeyed(data[1] === 1)
      return reply(0xfb)
    }
    if (command === 0x15 && data[0] === 0x11) return reply(0x15, 0x11, ...raw(power <= 0.5 ? 286 * power : 143 + 140 * (power - 0.5)))
    if (command === 0x15 && data[0] === 0x12) return reply(0x15, 0x12, ...raw(rawSwr(swr, [0, 48, 80, 120, 255])))
    if (command === 0x15 && data[0] === 0x13) return reply(0x15, 0x13, 0, 0)
    return reply(0xfa)
  }

  private obeyFive(frame: number[]): number[] | undefined {
    const codes: Record<number, Mode> = { 0: 'lsb', 1: 'usb', 2: 'cw', 4: 'am', 8: 'fm', 10: 'usb-data', 12: 'fm-data' }
    const pairs = (text: string) => text.match(/../g)!.map((pair) => parseInt(pair, 16))
    switch (frame[4]) {
      case 0x01: {
        const digits = frame
          .slice(0, 4)
          .map((byte) => byte.toString(16).padStart(2, '0'))
          .join('')
        this.frequencyHz = 10 * Number(digits)
        return [0]
      }
      case 0x03:
        return [
          ...pairs(String(Math.round(this.frequencyHz / 10)).padStart(8, '0')),
          Number(Object.entries(codes).find(([, mode]) => mode === this.mode)![0]),
        ]
      case 0x07: {
        const mode = codes[frame[0]!]
        if (mode) this.mode = mode
        return [0]
      }
      case 0x08:
      case 0x88: {
        const already = this.keyed === (frame[4] === 0x08)
        this.setKeyed(frame[4] === 0x08)
        return [already ? 0xf0 : 0]
      }
      case 0xf7: {
        const { swr, power } = this.meters()
        return [this.keyed ? (swr > 3 ? 0x40 : 0) | Math.round(15 * power) : 0xff]
      }
      default:
        return undefined
    }
  }
}

const SWR_MARKS = [1, 1.5, 2, 3, 10]

/** The meter's figure for an SWR, given what it shows at 1, 1.5, 2, 3 and 10. */
function rawSwr(swr: number, shown: readonly number[]): number {
  const i = Math.max(
    1,
    SWR_MARKS.findIndex((mark) => mark >= swr),
  )
  return shown[i - 1]! + ((shown[i]! - shown[i - 1]!) * (swr - SWR_MARKS[i - 1]!)) / (SWR_MARKS[i]! - SWR_MARKS[i - 1]!)
}
