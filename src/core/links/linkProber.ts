import type { Finding, Rung } from './diagnose'
import { bad, fromFault, good, notNeeded, unsure } from './findings'
import { lastLine, LinkTalk, type Heard, type LinkTarget, type TalkHost } from './linkTalk'
import { describePort, samePort, type PortChoice } from './portChoice'
import { hasSerialSpeed } from './portRelay'
import { SERIAL_SPEEDS } from './speedFinder'

/** What the prober needs from where it runs. */
export interface ProberHost extends TalkHost {
  listPorts(): Promise<readonly string[]>
  /** What the link had heard before it was let go for this climb, in words; undefined when nothing. */
  heardBefore?: string | undefined
  /** Keys the radio for a moment, through the gate, because a person asked for it. @returns what was seen of it */
  keyForAMoment?(): Promise<{ keyed: boolean | null; unkeyed: boolean | null; words: string }>
}

const LISTEN_FOR_FRAMES_MS = 8000

/** Tries a link rung by rung on real ports. What one rung finds the later ones know. */
export class LinkProber {
  private heard = new Map<string, Heard>()
  private readonly talk: LinkTalk

  constructor(
    private readonly target: LinkTarget,
    private readonly host: ProberHost,
  ) {
    this.talk = new LinkTalk(target, host)
  }

  /** Carries out the test of one rung. */
  async probe(rung: Rung): Promise<Finding> {
    switch (rung) {
      case 'port':
        return this.probePort()
      case 'rightPort':
        return this.probeRightPort()
      case 'speed':
        return this.probeSpeed()
      case 'mode':
        return this.probeMode()
      case 'pairing':
        return this.probePairing()
      case 'answers':
        return this.probeAnswers()
      case 'hears':
        return this.probeHears()
      case 'keys':
        return this.probeKeys()
      case 'power':
        return this.probePower()
    }
  }

  /** Forgets what was found: something has been changed since. */
  forget(): void {
    this.heard = new Map()
  }

  /** Anything that talks is powered. */
  private async probePower(): Promise<Finding> {
    const heard = await this.ask(this.target.port, this.target.serialBaud)
    if (heard.bytes > 0) return good(`Something talks on ${describePort(this.target.port)}, so it is powered.`)
    // Where the port itself cannot be opened, the next rung says more than anybody who is asked.
    if (!heard.outcome.ok) return unsure('Nothing can be heard through a port that does not open.')
    if (await this.talksHere(this.target.port)) return good(`Something talks on ${describePort(this.target.port)}, so it is powered.`)
    const elsewhere = await this.elsewhere()
    if (elsewhere) return good(`${this.words()} answers on ${elsewhere.path}, so it is powered.`)
    return {
      outcome: 'unsure',
      evidence:
        this.before() ??
        (hasSerialSpeed(this.target.port)
          ? 'It is silent at every speed, and on every other port of this computer.'
          : `${describePort(this.target.port)} takes the connection and says nothing.`),
      question: 'Is it switched on, is its lamp lit, and is every lead in to the stop?',
    }
  }

  private async probePort(): Promise<Finding> {
    const { port } = this.target
    const name = describePort(port)
    if (port.kind === 'serial') {
      const listed = await this.host.listPorts()
      if (!listed.includes(port.path)) {
        const elsewhere = await this.elsewhere()
        if (elsewhere)
          return {
            ...bad(
              'port-missing',
              `${name} is not there, but ${this.words()} answers on ${elsewhere.path}, at ${elsewhere.serialBaud} baud.`,
              `Choose ${elsewhere.path}.`,
            ),
            fix: { port: { kind: 'serial', path: elsewhere.path }, serialBaud: elsewhere.serialBaud },
          }
        return bad(
          'port-missing',
          `${name} is not there. ${listed.length === 0 ? 'This computer has no serial port at all.' : `There are ${listed.join(', ')}.`}`,
          'Plug the interface in, try another lead and another socket, and choose the port that appears.',
        )
      }
    }
    const { outcome } = await this.ask(port, this.target.serialBaud)
    if (outcome.ok) return good(`${name} can be opened.`)
    return fromFault(outcome.fault ?? 'other', name, outcome.error)
  }

  private async probePairing(): Promise<Finding> {
    const { port } = this.target
    if (port.kind !== 'browser' || port.by !== 'bluetooth') return notNeeded('There is nothing to pair.')
    const { outcome } = await this.ask(port, this.target.serialBaud)
    if (outcome.ok) return good('The connection was made.')
    if (outcome.fault === 'pairing')
      return bad(
        'stale-pairing',
        outcome.error,
        'Delete the pairing on both sides, on the device and in the TNC, pair as if for the first time, then connect twice.',
      )
    return fromFault(outcome.fault ?? 'other', describePort(port), outcome.error)
  }

  /** Whether what is meant answers here, at whatever speed; if not, whether it answers on another port. */
  private async probeRightPort(): Promise<Finding> {
    const { port, serialBaud } = this.target
    const name = describePort(port)
    if (!hasSerialSpeed(port)) {
      const here = await this.ask(port, serialBaud)
      if (this.target.speaks !== 'commands' && here.kind === 'text')
        return bad(
          'wrong-service',
          `${name} talks, but not as ${this.words()}: ${here.words}`,
          'Check the port number: another program listens there.',
        )
      return here.bytes > 0 ? good(`${name} answers.`) : unsure(`${name} takes the connection and says nothing.`)
    }
    const found = await this.atAnySpeed(port)
    if (found) return good(`${name} answers${found.serialBaud === serialBaud ? '' : `, at ${found.serialBaud} baud`}.`)
    if (await this.talksHere(port)) return good(`Something talks on ${name}.`)
    const elsewhere = await this.elsewhere()
    if (elsewhere)
      return {
        ...bad(
          'wrong-port',
          `${name} is silent, but ${this.words()} answers on ${elsewhere.path}, at ${elsewhere.serialBaud} baud.`,
          `Choose ${elsewhere.path}.`,
        ),
        fix: { port: { kind: 'serial', path: elsewhere.path }, serialBaud: elsewhere.serialBaud },
      }
    return unsure(`${name} is silent at every speed, and so are the other ports.`)
  }

  private async probeSpeed(): Promise<Finding> {
    const { port, serialBaud } = this.target
    if (!hasSerialSpeed(port) || serialBaud === null) return notNeeded('There is no serial line.')
    const here = await this.ask(port, serialBaud)
    if (this.understood(here)) return good(`It answers at ${serialBaud} baud.`)
    const found = await this.atAnySpeed(port)
    if (found)
      return {
        ...bad(
          'wrong-speed',
          `It answers at ${found.serialBaud} baud and is set to ${serialBaud}.`,
          `Set this side to ${found.serialBaud} baud.`,
        ),
        fix: { serialBaud: found.serialBaud },
      }
    if (await this.talksHere(port)) {
      if (here.bytes === 0) return good(`It says garble at other speeds and is quiet at ${serialBaud} baud: that one is right.`)
      return bad(
        this.target.speaks === 'cat' ? 'wrong-dialect' : 'wrong-speed',
        `What comes is garble at each of ${this.speeds().join(', ')} baud.`,
        this.target.speaks === 'cat'
          ? 'Choose another command set for this radio, or look up its control speed in its menu.'
          : 'Look up the serial speed in the TNC’s manual. Its speed on the air is another thing.',
      )
    }
    return unsure('It is silent at every speed, so this says nothing of the speed.')
  }

  private async probeMode(): Promise<Finding> {
    const { speaks, port, serialBaud } = this.target
    const here = await this.ask(port, serialBaud)
    if (speaks === 'cat') {
      if (here.kind === 'refuses')
        return bad(
          'refused',
          'The radio answers, and refuses what it is asked.',
          'Check that this command set is meant for this radio, and that control is allowed in its menu.',
        )
      if (here.kind === 'late')
        return bad(
          'slow',
          'The radio answers, but later than its command set allows.',
          'Switch off what else talks on this line, raise the speed on both sides, or allow longer answers in the command set.',
        )
      return this.understood(here) ? good('The radio answers in its command set.') : unsure('Nothing came that could be judged.')
    }
    if (speaks === 'kiss') {
      if (here.kind === 'command') {
        const entered = await this.talk.enterKiss(port, serialBaud)
        this.forget()
        return entered
          ? bad(
              'wrong-mode',
              'The TNC shows its prompt: it is in command mode, not in KISS. It was put into KISS.',
              'Try again. To keep it so, save the setting in the TNC.',
            )
          : bad(
              'wrong-mode',
              'The TNC shows its prompt: it is in command mode, and does not go into KISS.',
              'Set KISS in the TNC’s own menu, or with its own program, and switch it off and on.',
            )
      }
      return here.kind === 'kiss' ? good('Frames come in KISS.') : unsure('A TNC in KISS says nothing until it hears a frame.')
    }
    if (here.kind === 'kiss')
      return bad(
        'wrong-mode',
        'The TNC is in KISS, not in command mode. It was taken out of KISS.',
        'Try again. To keep it so, save the setting in the TNC.',
      )
    return here.kind === 'command' ? good('The TNC shows its prompt.') : unsure('Nothing came that could be judged.')
  }

  private async probeAnswers(): Promise<Finding> {
    const { speaks, port, serialBaud, ownCall } = this.target
    this.heard.delete(keyOf(port, serialBaud))
    const here = await this.ask(port, serialBaud)
    if (!this.understood(here)) {
      // A KISS TNC need not answer: whether it is there shows when it hears.
      if (speaks === 'kiss' && here.bytes === 0) return unsure('A TNC in KISS answers no question; what it hears will show it.')
      return bad(
        'no-answer',
        `${this.words()} does not answer on ${describePort(port)}.`,
        'Switch radio, interface and Zeptik off and on in this order, and try again.',
      )
    }
    if (speaks === 'commands' && ownCall) {
      const told = await this.talk.converse(port, serialBaud, '\x03MYCALL\r')
      if (told && !told.toUpperCase().includes(ownCall))
        return bad(
          'lost-settings',
          `The TNC has forgotten its settings: it says ${lastLine(told)}.`,
          'Send the settings of the profile again, and replace its memory battery.',
        )
    }
    return good(here.words)
  }

  private async probeHears(): Promise<Finding> {
    const { speaks, port, serialBaud } = this.target
    if (speaks === 'cat') return notNeeded('What is heard comes over the audio: see Levels.')
    if (speaks === 'commands') return notNeeded('In command mode it shows what it hears itself.')
    const listened = await this.talk.listenForFrame(port, serialBaud, LISTEN_FOR_FRAMES_MS)
    if (!listened.outcome.ok) return fromFault(listened.outcome.fault ?? 'other', describePort(port), listened.outcome.error)
    if (listened.line !== undefined) return good(`It hears: ${listened.line}.`)
    return {
      ...bad(
        'deaf',
        `No frame came in ${LISTEN_FOR_FRAMES_MS / 1000} s.${this.host.heardBefore === undefined ? '' : ` ${this.host.heardBefore}.`}`,
        'Open the squelch, check frequency and on-air speed, and the audio level into the TNC.',
      ),
      question: 'Is there traffic on the channel? Listen for the bursts.',
    }
  }

  private async probeKeys(): Promise<Finding> {
    if (!this.host.keyForAMoment)
      return unsure('Not tried by itself: it transmits. Try it with the button below, and watch the transmit lamp.')
    const { keyed, unkeyed, words } = await this.host.keyForAMoment()
    if (keyed === false)
      return bad('not-keying', words, 'Check the keying line and its polarity, and that the radio’s menu lets this connector key it.')
    if (unkeyed === false)
      return bad(
        'stays-keyed',
        words,
        'Switch the radio off now. Then check the keying line’s polarity and for a short circuit in the lead.',
      )
    return keyed === null ? { outcome: 'unsure', evidence: words, question: 'Did the transmit lamp light, and go out again?' } : good(words)
  }

  private words(): string {
    return { cat: 'The radio', kiss: 'A KISS TNC', commands: 'The TNC' }[this.target.speaks]
  }

  private understood({ kind }: Heard): boolean {
    const { speaks } = this.target
    if (speaks === 'cat') return kind === 'radio' || kind === 'late' || kind === 'refuses'
    return kind === 'command' || kind === 'kiss'
  }

  private speeds(): readonly number[] {
    const { dialect, serialBaud } = this.target
    return [...new Set([...(serialBaud === null ? [] : [serialBaud]), ...(dialect?.data.serialBauds ?? SERIAL_SPEEDS)])]
  }

  private async atAnySpeed(port: PortChoice): Promise<{ serialBaud: number } | undefined> {
    for (const serialBaud of this.speeds()) if (this.understood(await this.ask(port, serialBaud))) return { serialBaud }
    return undefined
  }

  /** What was heard before says that it worked then, and nothing of now. */
  private before(): string | undefined {
    return this.host.heardBefore === undefined ? undefined : `${this.host.heardBefore}, and it says nothing now.`
  }

  /** Another port of the computer on which what is meant answers. A browser's port was picked by hand: others are no likelier. */
  private async elsewhere(): Promise<{ path: string; serialBaud: number } | undefined> {
    const { port } = this.target
    if (port.kind !== 'serial') return undefined
    for (const path of await this.host.listPorts()) {
      const other: PortChoice = { kind: 'serial', path }
      const found = samePort(other, port) ? undefined : await this.atAnySpeed(other)
      if (found) return { path, ...found }
    }
    return undefined
  }

  private async talksHere(port: PortChoice): Promise<boolean> {
    for (const serialBaud of this.speeds()) if ((await this.ask(port, serialBaud)).bytes > 0) return true
    return false
  }

  /** Asks once what is there at this speed, and remembers it. */
  private async ask(port: PortChoice, serialBaud: number | null): Promise<Heard> {
    const key = keyOf(port, serialBaud)
    const known = this.heard.get(key)
    if (known) return known
    const heard = await this.talk.ask(port, serialBaud)
    this.heard.set(key, heard)
    return heard
  }
}

const keyOf = (port: PortChoice, serialBaud: number | null) => `${describePort(port)} ${serialBaud ?? ''}`
