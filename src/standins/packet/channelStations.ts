import { parseAx25, uiFrame } from '@/core/packet'
import { LinkSessions, type LinkSession } from '@/core/packet/link/linkSessions'
import { usualLinkSettings, type LinkAction, type LinkSettings } from '@/core/packet/link/linkState'

/** A station on the channel that acts by itself. */
export interface ChannelActor {
  readonly call: string
  /** Takes a frame that it heard. */
  heard(frame: Uint8Array, nowMs: number): void
  readonly nextMs: number
  tick(nowMs: number): void
}

type Send = (frame: Uint8Array) => void

/** Repeats what is to go through it, at once. */
export class Digipeater implements ChannelActor {
  readonly nextMs = Infinity

  constructor(
    readonly call: string,
    private readonly send: Send,
    private readonly isDeaf: () => boolean = () => false,
  ) {}

  heard(frame: Uint8Array): void {
    const parsed = parseAx25(frame)
    if (!parsed.ok || this.isDeaf()) return
    const hop = parsed.value.path.findIndex(({ repeated }) => !repeated)
    if (hop < 0 || parsed.value.path[hop]!.call !== this.call) return
    const out = frame.slice()
    out[7 * (hop + 2) + 6]! |= 0x80
    this.send(out)
  }

  tick(): void {
    // It does nothing by itself.
  }
}

/** Says where it is and what it does, now and then. */
export class Beacon implements ChannelActor {
  constructor(
    readonly call: string,
    private readonly send: Send,
    private readonly words: string,
    private readonly everyMs: number,
    public nextMs: number,
  ) {}

  heard(): void {
    // It only talks.
  }

  tick(nowMs: number): void {
    if (nowMs < this.nextMs) return
    this.nextMs = nowMs + this.everyMs
    this.send(uiFrame(this.call, 'BEACON', [], this.words))
  }
}

const HELP = 'Orders: ?, I(nfo), J (heard), N(odes), C CALL (connect on), B(ye)'
const LONGEST_LINE = 256

interface NodeUser {
  session: LinkSession
  line: string
  /** Connected on through this node: all that is typed goes there. */
  onward: LinkSession | undefined
}

/** A node: typed orders, connecting on to others, a list of what it hears. */
export class PacketNode implements ChannelActor {
  private readonly sessions: LinkSessions
  private readonly users: NodeUser[] = []
  private readonly heardAt = new Map<string, number>()
  private nowMs = 0

  constructor(
    readonly call: string,
    private readonly send: Send,
    private readonly options: { settings?: Partial<LinkSettings>; neighbours?: readonly string[]; isSilent?: () => boolean } = {},
  ) {
    this.sessions = new LinkSessions({
      settings: { ...usualLinkSettings, ...options.settings },
      send: (frame) => {
        if (!options.isSilent?.()) this.send(frame)
      },
      accepts: (own) => own === this.call,
      tell: (session, action) => this.told(session, action),
    })
  }

  get nextMs(): number {
    return this.sessions.nextTickMs
  }

  heard(frame: Uint8Array, nowMs: number): void {
    this.nowMs = nowMs
    const parsed = parseAx25(frame)
    if (parsed.ok && parsed.value.path.every(({ repeated }) => !repeated)) this.heardAt.set(parsed.value.source, nowMs)
    this.sessions.heard(frame, nowMs)
  }

  tick(nowMs: number): void {
    this.nowMs = nowMs
    this.sessions.tick(nowMs)
  }

  private told(session: LinkSession, action: Exclude<LinkAction, { type: 'transmit' }>): void {
    const user = this.users.find((one) => one.session === session)
    const owner = this.users.find((one) => one.onward === session)
    if (action.type === 'opened') {
      if (owner) this.say(owner, `Connected to ${session.peer}`)
      else {
        const fresh = { session, line: '', onward: undefined }
        this.users.push(fresh)
        this.say(fresh, `${this.call} node. ${HELP}`)
        this.prompt(fresh)
      }
    } else if (action.type === 'deliver') {
      if (owner) this.do(owner.session, action.bytes)
      else if (user) this.typed(user, action.bytes)
    } else if (action.type === 'closed') {
      if (owner) {
        owner.onward = undefined
        this.say(owner, `No connection with ${session.peer} any more: ${action.reason}`)
        this.prompt(owner)
      } else if (user) {
        this.users.splice(this.users.indexOf(user), 1)
        if (user.onward) this.sessions.do(user.onward, { type: 'disconnect' }, this.nowMs)
      }
    }
  }

  private typed(user: NodeUser, bytes: Uint8Array): void {
    if (user.onward) return this.do(user.onward, bytes)
    for (const byte of bytes) {
      if (byte === 10) continue
      if (byte !== 13) {
        if (user.line.length < LONGEST_LINE) user.line += String.fromCharCode(byte)
        continue
      }
      const { line } = user
      user.line = ''
      this.order(user, line.trim())
    }
  }

  private order(user: NodeUser, line: string): void {
    const [word = '', ...rest] = line.toUpperCase().split(/\s+/)
    if (word === 'B' || word === 'BYE') {
      this.say(user, `73 de ${this.call}`)
      this.sessions.do(user.session, { type: 'disconnect' }, this.nowMs)
      return
    }
    if (word === 'C' || word === 'CONNECT') return this.connectOn(user, rest[0])
    if (word === '' || word === '?' || word === 'H' || word === 'HELP') this.say(user, HELP)
    else if (word === 'I' || word === 'INFO') this.say(user, `${this.call} is a made-up node for practice.`)
    else if (word === 'J' || word === 'HEARD') this.say(user, this.heardList())
    else if (word === 'N' || word === 'NODES') this.say(user, `Nodes: ${(this.options.neighbours ?? []).join(' ') || 'none'}`)
    else this.say(user, `"${line.slice(0, 40)}" is no order here. ${HELP}`)
    this.prompt(user)
  }

  private connectOn(user: NodeUser, peer: string | undefined): void {
    if (!peer || !/^[A-Z0-9]{1,6}(-\d{1,2})?$/.test(peer)) {
      this.say(user, 'C and a call connects on.')
      return this.prompt(user)
    }
    const onward = this.sessions.connect({ own: this.onwardCall(user.session.peer), peer, via: [] }, this.nowMs)
    if ('error' in onward) {
      this.say(user, onward.error)
      return this.prompt(user)
    }
    user.onward = onward
    this.say(user, `Calling ${peer}`)
  }

  /** Whoever connects on bears their own call with an SSID counted down from 15, so that both links can be told apart. */
  private onwardCall(peer: string): string {
    const [call, ssid = '0'] = peer.split('-')
    return `${call}-${15 - Number(ssid)}`
  }

  private heardList(): string {
    const list = [...this.heardAt].map(([call, atMs]) => `${call} ${Math.round((this.nowMs - atMs) / 1000)} s ago`)
    return list.length > 0 ? `Heard: ${list.slice(-12).join(', ')}` : 'Nobody was heard yet.'
  }

  private say(user: NodeUser, words: string): void {
    this.do(user.session, new TextEncoder().encode(`${words}\r`))
  }

  private prompt(user: NodeUser): void {
    this.do(user.session, new TextEncoder().encode(`${this.call}>\r`))
  }

  private do(session: LinkSession, bytes: Uint8Array): void {
    this.sessions.do(session, { type: 'send', bytes }, this.nowMs)
  }
}
