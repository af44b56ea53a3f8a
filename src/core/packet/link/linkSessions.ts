import { answeredLink, reduceLink } from './link'
import { encodeLinkFrame, linkFrame, parseLinkFrame } from './linkFrame'
import { closedLink, nextTickMs, type LinkAction, type LinkEvent, type LinkSettings, type LinkState } from './linkState'

/** A conversation with one station over one port. */
export interface LinkSession {
  id: number
  /** Who we are in it. */
  own: string
  peer: string
  /** Digipeaters from us to them. */
  via: readonly string[]
  /** Who began it. */
  by: 'us' | 'them'
  state: LinkState
}

export interface SessionsHost {
  settings: Omit<LinkSettings, 'hops'>
  /** Hands a frame over to be sent. */
  send(frame: Uint8Array, session: LinkSession | undefined): void
  /** Whether a call from somebody is taken, and by which of our calls. */
  accepts(own: string, peer: string): boolean
  tell(session: LinkSession, action: Exclude<LinkAction, { type: 'transmit' }>): void
}

/** Bits of a frame beside its bytes, on average: flags and stuffing. */
const FRAME_OVERHEAD_BYTES = 5
const MOST_SESSIONS = 40

/** All links of a station over one port: several calls of ours, several stations, each link its own machine. */
export class LinkSessions {
  private sessions: LinkSession[] = []
  private nextId = 1

  constructor(private readonly host: SessionsHost) {}

  get all(): readonly LinkSession[] {
    return this.sessions
  }

  /** When `tick` has something to do next. */
  get nextTickMs(): number {
    return Math.min(Infinity, ...this.sessions.map(({ state }) => nextTickMs(state)))
  }

  /** Begins a link. @param callTries how often it is called, where that is not as often as everything else is tried @returns why not */
  connect(
    { own, peer, via, callTries }: Pick<LinkSession, 'own' | 'peer' | 'via'> & { callTries?: number },
    nowMs: number,
  ): LinkSession | { error: string } {
    if (this.find(own, peer)) return { error: `There is a session with ${peer} already.` }
    if (this.sessions.length >= MOST_SESSIONS) return { error: `There are ${MOST_SESSIONS} sessions already.` }
    const session = this.begin({ own, peer, via, by: 'us' }, callTries)
    this.do(session, { type: 'connect' }, nowMs)
    return session
  }

  /** What a person or a program does in a session. */
  do(session: LinkSession, event: LinkEvent, nowMs: number): void {
    this.took(session, reduceLink(session.state, event, nowMs))
  }

  /** Takes a frame that was heard, for whomever it is. @returns whether it was for one of our links */
  heard(bytes: Uint8Array, nowMs: number): boolean {
    // How a station counts is known only of those that we have a link with.
    const who = parseLinkFrame(bytes, 8) ?? parseLinkFrame(bytes, 128)
    const addresses = who?.addresses
    const isThrough = addresses?.path.every(({ repeated }) => repeated)
    const session = addresses && isThrough ? this.find(addresses.destination, addresses.source) : undefined
    if (session) {
      const read = parseLinkFrame(bytes, session.state.modulo)
      if (read) this.do(session, { type: 'frame', frame: read.frame }, nowMs)
      return true
    }
    this.channelWasBusy(bytes.length, nowMs)
    if (!addresses || !isThrough) return false
    return this.fromStranger(bytes, nowMs)
  }

  private fromStranger(bytes: Uint8Array, nowMs: number): boolean {
    const { frame, addresses } = (parseLinkFrame(bytes, 8) ?? parseLinkFrame(bytes, 128))!
    const { destination: own, source: peer } = addresses
    const calls = frame.kind === 'SABM' || frame.kind === 'SABME'
    // The answer goes back the way that the question came.
    const via = addresses.path.map(({ call }) => call).reverse()
    if (!this.host.accepts(own, peer)) return false
    if (calls && this.sessions.length < MOST_SESSIONS) {
      const session = this.begin({ own, peer, via, by: 'them' })
      this.took(session, answeredLink(session.state.settings, frame, nowMs))
      return true
    }
    const asks = calls || frame.kind === 'DISC' || (frame.pf && frame.role !== 'response' && frame.kind !== 'UA' && frame.kind !== 'DM')
    if (asks) {
      const path = via.map((call) => ({ call, repeated: false }))
      const answer = linkFrame({ kind: 'DM', role: 'response', pf: frame.pf })
      this.host.send(encodeLinkFrame(answer, { destination: peer, source: own, path, modulo: 8 }), undefined)
    }
    return true
  }

  tick(nowMs: number): void {
    for (const session of this.sessions) if (nextTickMs(session.state) <= nowMs) this.do(session, { type: 'tick' }, nowMs)
  }

  /** Others used the channel: answers to us come later. */
  private channelWasBusy(bytes: number, nowMs: number): void {
    const busyMs = ((bytes + FRAME_OVERHEAD_BYTES) * 8000) / this.host.settings.airBaud
    for (const session of this.sessions) this.do(session, { type: 'channel', busyMs }, nowMs)
  }

  private find(own: string, peer: string): LinkSession | undefined {
    return this.sessions.find((one) => one.own === own && one.peer === peer)
  }

  private begin(who: Pick<LinkSession, 'own' | 'peer' | 'via' | 'by'>, tries = this.host.settings.tries): LinkSession {
    const settings = { ...this.host.settings, hops: who.via.length, tries }
    const session = { id: this.nextId++, ...who, state: closedLink(settings) }
    this.sessions.push(session)
    return session
  }

  private took(session: LinkSession, [state, actions]: [LinkState, LinkAction[]]): void {
    const { tries } = this.host.settings
    // Whoever has answered is not given up as soon as one who has not.
    session.state = state.phase === 'open' && state.settings.tries !== tries ? { ...state, settings: { ...state.settings, tries } } : state
    if (state.phase === 'closed') this.sessions = this.sessions.filter((one) => one !== session)
    const { own, peer, via } = session
    const path = via.map((call) => ({ call, repeated: false }))
    for (const action of actions) {
      if (action.type === 'transmit')
        this.host.send(encodeLinkFrame(action.frame, { destination: peer, source: own, path, modulo: action.modulo }), session)
      else this.host.tell(session, action)
    }
  }
}
