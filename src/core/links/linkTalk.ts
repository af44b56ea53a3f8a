import { frequencyWords } from '../text/frequency'
import { frameLine, KissDecoder, leaveKiss, parseAx25 } from '../packet'
import type { BytePort, PortOutcome, SerialLines } from './bytePort'
import { catAnswers, createCatSession, reduceCat, type CatRequest, type Dialect } from './cat'
import type { PortChoice } from './portChoice'
import { ENTER_KISS, judgeTncAnswer, type TncAnswer } from './tncAnswer'

/** A link as far as it is to be tried. */
export interface LinkTarget {
  /** What is at the other end: a radio that is asked, a TNC that hands over frames, a TNC with typed commands. */
  speaks: 'cat' | 'kiss' | 'commands'
  port: PortChoice
  /** Of a serial line; null where there is none, as over a network. */
  serialBaud: number | null
  dialect?: Dialect
  /** The call a TNC is meant to know, by which lost settings are noticed. */
  ownCall?: string
}

/** What is needed to talk over ports. */
export interface TalkHost {
  createPort(port: PortChoice, serialBaud: number): BytePort
  /** How key lines stand while receiving, where a radio is keyed by one: every port that is opened goes there at once. */
  restLines?: SerialLines
  monotonicMs(): number
  sleep(ms: number): Promise<void>
}

/** What was heard of whoever is at the other end. */
export interface Heard {
  outcome: PortOutcome
  bytes: number
  /** What it showed to be. */
  kind: TncAnswer | 'radio' | 'late' | 'refuses'
  words: string
}

const WAIT_MS = 450
const POLL_MS = 25
const KEPT_BYTES = 4000
/** For ports that have no speed. */
const ANY_BAUD = 9600

/** Short conversations with what may be at the other end of a port; each opens the port and closes it again. */
export class LinkTalk {
  constructor(
    private readonly target: LinkTarget,
    private readonly host: TalkHost,
  ) {}

  /** Asks what is there. */
  ask(port: PortChoice, serialBaud: number | null): Promise<Heard> {
    return this.target.speaks === 'cat' ? this.askRadio(port, serialBaud) : this.askTnc(port, serialBaud)
  }

  private async askRadio(port: PortChoice, serialBaud: number | null): Promise<Heard> {
    const { dialect } = this.target
    if (!dialect) throw new Error('a radio cannot be asked without a command set')
    const request: CatRequest = { command: 'readFrequency' }
    let state = { ...createCatSession(dialect, this.host.monotonicMs()), nextPollMs: Infinity }
    let bytes = 0
    let refused = false
    const configured = serialBaud === this.target.serialBaud
    const pending: Uint8Array[] = []
    const step = (event: Parameters<typeof reduceCat>[1]) => {
      const [next, actions] = reduceCat(state, event)
      state = next
      for (const action of actions) {
        if (action.type === 'write') pending.push(action.bytes)
        if (action.type === 'done' && action.error?.includes('refused')) refused = true
      }
    }
    const { link, outcome } = await this.open(port, serialBaud, (data) => {
      bytes += data.length
      step({ type: 'bytes', bytes: data, nowMs: this.host.monotonicMs() })
    })
    if (!outcome.ok) return { outcome, bytes: 0, kind: 'silent', words: outcome.error }
    for (let attempt = 0; attempt < 2 && state.lastReplyMs === null && state.unaskedMs === null; attempt++) {
      step({ type: 'request', request, nowMs: this.host.monotonicMs() })
      for (const data of pending.splice(0)) await link.write(data)
      await this.wait(
        attempt === 0 || bytes > 0 || configured ? WAIT_MS : 150,
        () => state.lastReplyMs !== null || state.unaskedMs !== null,
      )
      step({ type: 'tick', nowMs: this.host.monotonicMs() })
    }
    // Who answers too late is told from who does not: a second more for the configured line.
    if (state.lastReplyMs === null && bytes === 0 && configured)
      await this.wait(1400, () => state.unaskedMs !== null || state.lastReplyMs !== null)
    await link.close()
    const kind = refused ? 'refuses' : catAnswers(state) ? 'radio' : state.unaskedMs !== null ? 'late' : bytes > 0 ? 'garble' : 'silent'
    const { frequencyHz } = state.readings
    return {
      outcome,
      bytes,
      kind,
      words: frequencyHz === null ? `${bytes} bytes came` : `The radio says it is on ${frequencyWords(frequencyHz)}.`,
    }
  }

  private async askTnc(port: PortChoice, serialBaud: number | null): Promise<Heard> {
    const got: number[] = []
    const { link, outcome } = await this.open(port, serialBaud, (bytes) => {
      if (got.length < KEPT_BYTES) got.push(...bytes)
    })
    if (!outcome.ok) return { outcome, bytes: 0, kind: 'silent', words: outcome.error }
    const answer = () => judgeTncAnswer(Uint8Array.from(got))
    const sure = () => answer() === 'command' || answer() === 'kiss'
    await this.wait(150, sure)
    if (!sure()) {
      // Control-C and Return show a prompt, and mean nothing to a TNC in KISS.
      await link.write(Uint8Array.of(0x03, 0x0d))
      await this.wait(WAIT_MS, sure)
    }
    let kind = answer()
    // What is silent may be in KISS; taken out of it, it says so. For a KISS link a silence is left alone.
    if (kind === 'silent' && this.target.speaks === 'commands') {
      await link.write(leaveKiss())
      await this.wait(WAIT_MS, sure)
      if (answer() === 'command') kind = 'kiss'
    }
    await link.close()
    const text = new TextDecoder('latin1').decode(Uint8Array.from(got))
    return { outcome, bytes: got.length, kind, words: kind === 'kiss' ? 'Frames come.' : lastLine(text) || `${got.length} bytes came` }
  }

  /** Puts a TNC that shows its prompt into KISS. @returns whether it has stopped showing it */
  async enterKiss(port: PortChoice, serialBaud: number | null): Promise<boolean> {
    for (const words of ENTER_KISS) await this.converse(port, serialBaud, words)
    // In KISS a Return is answered by nothing.
    return (await this.converse(port, serialBaud, '\r')) === ''
  }

  /** Writes words and gives what comes back as text; undefined when the port does not open. */
  async converse(port: PortChoice, serialBaud: number | null, words: string): Promise<string | undefined> {
    let text = ''
    const { link, outcome } = await this.open(port, serialBaud, (data) => (text += String.fromCharCode(...data)))
    if (!outcome.ok) return undefined
    await link.write(new TextEncoder().encode(words))
    await this.wait(WAIT_MS, () => /cmd:/.test(text))
    await link.close()
    return text
  }

  /** Waits for a frame that a TNC hears. @returns its line, undefined when none came */
  async listenForFrame(port: PortChoice, serialBaud: number | null, ms: number): Promise<{ outcome: PortOutcome; line?: string }> {
    let line: string | undefined
    const decoder = new KissDecoder()
    const { link, outcome } = await this.open(port, serialBaud, (bytes) => {
      for (const event of decoder.push(bytes)) {
        const parsed = event.type === 'frame' && event.frame.command === 0 ? parseAx25(event.frame.data) : undefined
        if (parsed?.ok) line ??= frameLine(parsed.value)
      }
    })
    if (!outcome.ok) return { outcome }
    await this.wait(ms, () => line !== undefined)
    await link.close()
    return { outcome, ...(line !== undefined && { line }) }
  }

  /** Opens a port; its key lines go to rest before anything else, for opening raises them. */
  private async open(port: PortChoice, serialBaud: number | null, onBytes: (bytes: Uint8Array) => void) {
    const link = this.host.createPort(port, serialBaud ?? ANY_BAUD)
    const outcome = await link.open({ onBytes, onClosed: () => undefined })
    if (outcome.ok && this.host.restLines) await link.setLines?.(this.host.restLines)
    return { link, outcome }
  }

  private async wait(ms: number, until: () => boolean): Promise<void> {
    const end = this.host.monotonicMs() + ms
    while (this.host.monotonicMs() < end && !until()) await this.host.sleep(POLL_MS)
  }
}

/** The last words of what came, without a prompt. */
export const lastLine = (text: string) =>
  text
    .split(/[\r\n]+/)
    .map((line) => line.trim())
    .filter((line) => line !== '' && line !== 'cmd:')
    .at(-1) ?? ''
