import { z } from 'zod'
import { createRandom, type Random } from '@/core/dsp'
import { encodeKiss, KISS_RETURN, KissDecoder, uiFrame, type KissFrame } from '@/core/packet'
import type { Said } from './radioStandin'

/** What can be wrong with the stand-in TNC. */
export const TNC_FAULTS = {
  off: 'switched off',
  lostSettings: 'its memory battery is flat',
  deaf: 'hears nothing',
  slow: 'answers 1.5 s late',
  garbled: 'garble at every speed',
  ignoresKiss: 'does not go into KISS',
  deadPort: 'this is its other port, a dead one',
  stalePairing: 'a pairing that one side forgot: it hangs up',
} as const
export type TncFault = keyof typeof TNC_FAULTS
export const tncFaultSchema = z.enum(Object.keys(TNC_FAULTS) as [TncFault, ...TncFault[]])

export interface TncStandinOptions {
  seed: number
  /** Speed of its serial line. It has nothing to do with its speed on the air. */
  serialBaud: number
  startsIn: 'command' | 'kiss'
  /** The channel that it is on; without one it hears made-up beacons. */
  air?: TncAir
}

/** What a TNC has on its other side. */
export interface TncAir {
  /** Takes what it was given over KISS. */
  take(frame: KissFrame): void
  /** Calls back with each frame that is heard. @returns a function that ends it */
  listen(onFrame: (frame: Uint8Array) => void): () => void
}

const ANSWER_MS = 12
const SLOW_MS = 1500
const LONGEST_LINE = 200
const DEFAULTS = { MYCALL: 'NOCALL', TXDELAY: '30', PERSIST: '63', SLOTTIME: '10', UNPROTO: 'CQ' }
type Setting = keyof typeof DEFAULTS

/** A made-up TNC of the classic kind: typed commands at a prompt, and KISS. */
export class TncStandin {
  mode: 'command' | 'kiss'
  readonly settings: Record<Setting, string> = { ...DEFAULTS, MYCALL: 'Q5RVR' }
  /** Parameters that were set over KISS, by command. */
  readonly kissParameters = new Map<number, number>()
  /** Frames it was given to send. */
  readonly sent: Uint8Array[] = []
  private readonly random: Random
  private decoder = new KissDecoder()
  private line = ''
  private kissNext = false
  private heardCount = 0
  /** Whether it has lost its settings in the power-up that the fault stands for. */
  private lost = false

  constructor(
    private readonly options: TncStandinOptions,
    private readonly faults: () => ReadonlySet<TncFault> = () => new Set(),
  ) {
    this.mode = options.startsIn
    this.random = createRandom(options.seed)
    this.lost = this.faults().has('lostSettings')
    if (this.lost) this.loseSettings()
  }

  /** What a flat memory battery does at the next power-up. */
  loseSettings(): void {
    Object.assign(this.settings, DEFAULTS)
    this.mode = 'command'
  }

  /** Whether it hangs up on whoever calls. */
  hangsUp(): boolean {
    return this.faults().has('stalePairing')
  }

  /** Takes what a computer sent. @param serialBaud speed at which it was sent; undefined for a line without one */
  receive(bytes: Uint8Array, serialBaud?: number): Said[] {
    const faults = this.faults()
    if (faults.has('off') || faults.has('deadPort')) return []
    if (faults.has('garbled') || (serialBaud !== undefined && serialBaud !== this.options.serialBaud))
      // In KISS a garbled frame end is nothing that is answered.
      return this.mode === 'kiss' ? [] : this.say(Uint8Array.of(0xf0, 0x9e, 0x80, 0xfe))
    return this.mode === 'kiss' ? this.takeKiss(bytes) : this.takeTyped(bytes)
  }

  /** A frame heard on the channel, as it goes to the computer; nothing in command mode or while it is deaf. */
  hear(serialBaud?: number): Said[] {
    const faults = this.faults()
    if (faults.has('lostSettings') !== this.lost) {
      this.lost = !this.lost
      if (this.lost && !faults.has('off')) {
        // Someone has switched it off and on.
        this.loseSettings()
        return this.text('\r\nMade-up TNC\r\ncmd:')
      }
    }
    if (!this.hears() || this.options.air) return []
    const calls = ['Q1ABC-9', 'Q2LMN', 'Q7HUT-1', 'Q4FEN-7']
    const source = calls[Math.floor(this.random() * calls.length)]!
    const frame = encodeKiss({
      port: 0,
      command: 0,
      data: uiFrame(source, 'Q1POS', this.random() < 0.5 ? ['Q8TOP'] : [], `made-up beacon ${++this.heardCount}`),
    })
    const right = serialBaud === undefined || serialBaud === this.options.serialBaud
    return this.say(right ? frame : frame.map((byte) => (byte * 37 + 101) & 0xff).filter((byte) => byte !== 0xc0))
  }

  private hears(): boolean {
    const faults = this.faults()
    return !faults.has('off') && !faults.has('deadPort') && !faults.has('deaf') && this.mode === 'kiss'
  }

  /** Tells what comes from its channel as it comes. @returns a function that ends it */
  follow(say: (said: Said[]) => void): () => void {
    return (
      this.options.air?.listen((frame) => {
        if (this.hears()) say(this.say(encodeKiss({ port: 0, command: 0, data: frame })))
      }) ?? (() => undefined)
    )
  }

  private say(bytes: Uint8Array): Said[] {
    return [{ delayMs: this.faults().has('slow') ? SLOW_MS : ANSWER_MS, bytes }]
  }

  private text(words: string): Said[] {
    return this.say(new TextEncoder().encode(words))
  }

  private takeKiss(bytes: Uint8Array): Said[] {
    for (const event of this.decoder.push(bytes)) {
      if (event.type !== 'frame') continue
      const { port, command, data } = event.frame
      if (((port << 4) | command) === KISS_RETURN) {
        this.mode = 'command'
        this.line = ''
        this.decoder = new KissDecoder()
        return this.text('\r\nMade-up TNC\r\ncmd:')
      }
      this.options.air?.take(event.frame)
      if (command === 0) this.sent.push(data)
      else if (data.length === 1) this.kissParameters.set(command, data[0]!)
    }
    return []
  }

  private takeTyped(bytes: Uint8Array): Said[] {
    const said: Said[] = []
    for (const byte of bytes) {
      // Control-C ends whatever was going on and shows the prompt.
      if (byte === 0x03) {
        this.line = ''
        said.push(...this.text('\r\ncmd:'))
      } else if (byte === 0x0d) {
        const line = this.line
        this.line = ''
        said.push(...this.obey(line.trim().toUpperCase()))
        // RESTART after KISS ON: from here on everything is frames.
        if (this.wasMadeKiss()) return said
      } else if (byte >= 0x20 && byte < 0x7f && this.line.length < LONGEST_LINE) this.line += String.fromCharCode(byte)
    }
    return said
  }

  private wasMadeKiss = () => this.mode === 'kiss'

  private obey(line: string): Said[] {
    const [name = '', ...rest] = line.split(/\s+/)
    const value = rest.join(' ')
    if (name === '') return this.text('\r\ncmd:')
    if (name === 'KISS') {
      this.kissNext = value !== 'OFF'
      return this.text(`\r\nKISS ${this.kissNext ? 'ON' : 'OFF'}\r\ncmd:`)
    }
    if (name === 'RESTART') {
      if (this.kissNext && !this.faults().has('ignoresKiss')) {
        this.mode = 'kiss'
        this.kissNext = false
        this.decoder = new KissDecoder()
        return []
      }
      return this.text('\r\nMade-up TNC\r\ncmd:')
    }
    if (name in this.settings) {
      const setting = name as Setting
      const was = this.settings[setting]
      if (value === '') return this.text(`\r\n${setting} ${was}\r\ncmd:`)
      this.settings[setting] = value
      return this.text(`\r\n${setting} was ${was}\r\ncmd:`)
    }
    return this.text('\r\n?EH\r\ncmd:')
  }
}
