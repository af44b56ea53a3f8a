import { createRandom, type Random } from '../../dsp'
import { answeredLink, MOST_WAITING, reduceLink } from './link'
import { encodeLinkFrame, linkFrame, parseLinkFrame, type LinkFrame, type Modulo } from './linkFrame'
import {
  closedLink,
  nextTickMs,
  pendingBytes,
  usualLinkSettings,
  type LinkAction,
  type LinkEvent,
  type LinkSettings,
  type LinkState,
} from './linkState'
import { encodeXid, parseXid } from './xid'

const text = (value: string) => new TextEncoder().encode(value)
const settings = (change: Partial<LinkSettings> = {}): LinkSettings => ({ ...usualLinkSettings, ...change })

/** Short for what goes out: "SABM P", "I S0 R0 P". */
function words({ kind, pf, ns, nr, role, info }: LinkFrame): string {
  const counted = ['I', 'RR', 'RNR', 'REJ', 'SREJ'].includes(kind)
  const bits = pf ? [role === 'response' ? 'F' : 'P'] : []
  return [
    kind,
    ...bits,
    ...(kind === 'I' ? [`S${ns}`] : []),
    ...(counted ? [`R${nr}`] : []),
    ...(kind === 'I' ? [new TextDecoder().decode(info)] : []),
  ].join(' ')
}
const sentBy = (actions: readonly LinkAction[]) => actions.flatMap((action) => (action.type === 'transmit' ? [words(action.frame)] : []))

/** One side, driven by hand. */
class Hand {
  nowMs = 0
  state: LinkState
  openedMs = 0
  log: LinkAction[] = []
  constructor(change: Partial<LinkSettings> = {}) {
    this.state = closedLink(settings(change))
  }
  do(event: LinkEvent): string[] {
    const [state, actions] = reduceLink(this.state, event, this.nowMs)
    this.state = state
    this.log.push(...actions)
    return sentBy(actions)
  }
  /** Once all that was given out has left. */
  hear(frame: Pick<LinkFrame, 'kind' | 'role'> & Partial<LinkFrame>): string[] {
    this.nowMs = Math.max(this.nowMs, this.state.airFreeMs)
    return this.do({ type: 'frame', frame: linkFrame(frame) })
  }
  /** Lets the next timer end. */
  wait(): string[] {
    this.nowMs = nextTickMs(this.state)
    return this.do({ type: 'tick' })
  }
  get last(): LinkAction | undefined {
    return this.log.at(-1)
  }
  static open(change: Partial<LinkSettings> = {}): Hand {
    const hand = new Hand(change)
    hand.do({ type: 'connect' })
    hand.hear({ kind: 'UA', role: 'response', pf: true })
    hand.openedMs = hand.nowMs
    return hand
  }
}

describe('calling', () => {
  it('opens with the agreement of the other side', () => {
    const hand = new Hand()
    expect(hand.do({ type: 'connect' })).toEqual(['SABM P'])
    hand.hear({ kind: 'UA', role: 'response', pf: true })
    expect(hand.state.phase).toBe('open')
    expect(hand.last).toEqual({ type: 'opened', by: 'us' })
  })

  it('is tried as often as set, later each time, and says so', () => {
    const hand = new Hand({ tries: 3 })
    hand.do({ type: 'connect' })
    const at = [0, 1].map(() => {
      expect(hand.wait()).toEqual(['SABM P'])
      return hand.nowMs
    })
    expect(at[1]! - at[0]!).toBeGreaterThan(at[0]!)
    expect(hand.log.findLast(({ type }) => type === 'retry')).toEqual({
      type: 'retry',
      attempt: 3,
      of: 3,
      reason: expect.stringMatching(/^No answer for \d+ s\.$/),
    })
    expect(hand.wait()).toEqual([])
    expect(hand.last).toEqual({ type: 'closed', reason: 'No answer to 3 calls.', inOrder: false, left: 0 })
  })

  it('waits longer through digipeaters, and for a channel that others use', () => {
    const [direct, far] = [new Hand(), new Hand({ hops: 2 })]
    direct.do({ type: 'connect' })
    far.do({ type: 'connect' })
    expect(nextTickMs(far.state)).toBeGreaterThan(4 * nextTickMs(direct.state))
    const before = nextTickMs(direct.state)
    direct.do({ type: 'channel', busyMs: 5000 })
    expect(nextTickMs(direct.state)).toBe(before + 5000)
  })

  it('is refused', () => {
    const hand = new Hand()
    hand.do({ type: 'connect' })
    hand.hear({ kind: 'DM', role: 'response', pf: true })
    expect(hand.last).toMatchObject({ type: 'closed', reason: expect.stringMatching(/busy or does not take connections/) })
  })

  it.each([
    ['DM', 'response'],
    ['FRMR', 'response'],
    ['FRMR', 'old'],
  ] as const)('falls back from version 2.2 when %s (%s) comes', (kind, role) => {
    const hand = new Hand({ wide: true })
    expect(hand.do({ type: 'connect' })).toEqual(['SABME P'])
    expect(hand.hear({ kind, role, pf: true })).toEqual(['SABM P'])
    hand.hear({ kind: 'UA', role: 'response', pf: true })
    expect(hand.state).toMatchObject({ phase: 'open', modulo: 8 })
  })

  it('falls back from version 2.2 when nothing comes', () => {
    const hand = new Hand({ wide: true })
    hand.do({ type: 'connect' })
    expect([hand.wait(), hand.wait()]).toEqual([['SABME P'], ['SABM P']])
  })

  it('agrees on what both can do, and sends what waited', () => {
    const hand = new Hand({ wide: true })
    hand.do({ type: 'send', bytes: text('hello') })
    hand.do({ type: 'connect' })
    expect(hand.hear({ kind: 'UA', role: 'response', pf: true })).toEqual(['XID P'])
    const info = encodeXid({ selectiveReject: true, longest: 64, window: 5 })
    expect(hand.hear({ kind: 'XID', role: 'response', pf: true, info })).toEqual(['I P S0 R0 hello'])
    expect(hand.state).toMatchObject({ modulo: 128, selective: true, window: 5, length: 64 })
  })

  it('is asked when it is idle, also where there was nothing to send', () => {
    const hand = new Hand({ wide: true })
    hand.do({ type: 'connect' })
    hand.hear({ kind: 'UA', role: 'response', pf: true })
    hand.hear({ kind: 'XID', role: 'response', pf: true, info: encodeXid({ selectiveReject: true, longest: 64, window: 5 }) })
    expect(hand.wait()).toEqual(['RR P R0'])
  })

  it.each(['FRMR', 'nothing'])('takes the least when the negotiation is answered by %s', (answer) => {
    const hand = new Hand({ wide: true })
    hand.do({ type: 'connect' })
    hand.hear({ kind: 'UA', role: 'response', pf: true })
    hand.do({ type: 'send', bytes: text('a') })
    expect(answer === 'FRMR' ? hand.hear({ kind: 'FRMR', role: 'response' }) : hand.wait()).toEqual(['I P S0 R0 a'])
    expect(hand.state).toMatchObject({ selective: false, phase: 'open' })
  })
})

describe('being called', () => {
  it('agrees', () => {
    const [state, actions] = answeredLink(settings(), linkFrame({ kind: 'SABM', role: 'command', pf: true }), 0)
    expect(state.phase).toBe('open')
    expect(sentBy(actions)).toEqual(['UA F'])
    expect(actions.at(-1)).toEqual({ type: 'opened', by: 'them' })
  })

  it('agrees again where the agreement was lost, and sends again what nobody took', () => {
    const hand = new Hand()
    hand.hear({ kind: 'SABM', role: 'command', pf: true })
    expect(hand.do({ type: 'send', bytes: text('welcome') })).toEqual(['I P S0 R0 welcome'])
    expect(hand.hear({ kind: 'SABM', role: 'command', pf: true })).toEqual(['UA F', 'I P S0 R0 welcome'])
    expect(hand.log.filter(({ type }) => type === 'opened')).toHaveLength(1)
  })

  it('ends when they begin anew in the middle', () => {
    const hand = Hand.open()
    hand.hear({ kind: 'I', role: 'command', pf: true, info: text('x') })
    hand.do({ type: 'send', bytes: text('lost') })
    expect(hand.hear({ kind: 'SABM', role: 'command', pf: true })).toEqual(['DM F'])
    expect(hand.log.find(({ type }) => type === 'closed')).toMatchObject({ reason: 'The other side began anew.', inOrder: false, left: 4 })
  })

  it('says to those who think they are connected that they are not', () => {
    expect(new Hand().hear({ kind: 'I', role: 'command', pf: true, info: text('x') })).toEqual(['DM F'])
    expect(new Hand().hear({ kind: 'RR', role: 'command', pf: true })).toEqual(['DM F'])
    expect(new Hand().hear({ kind: 'DISC', role: 'command', pf: true })).toEqual(['DM F'])
    expect(new Hand().hear({ kind: 'RR', role: 'response', pf: true })).toEqual([])
  })
})

describe('sending', () => {
  it('cuts into frames, as many at once as the window has, the last one with a poll', () => {
    const hand = Hand.open({ window: 2, length: 3 })
    expect(hand.do({ type: 'send', bytes: text('abcdefgh') })).toEqual(['I S0 R0 abc', 'I P S1 R0 def'])
    // Nothing new goes out until the answer has come.
    expect(hand.do({ type: 'send', bytes: text('ij') })).toEqual([])
    expect(hand.hear({ kind: 'RR', role: 'response', pf: true, nr: 2 })).toEqual(['I S2 R0 ghi', 'I P S3 R0 j'])
  })

  it('sends again from what the answer to the poll does not acknowledge', () => {
    const hand = Hand.open({ length: 1 })
    hand.do({ type: 'send', bytes: text('abcd') })
    expect(hand.hear({ kind: 'RR', role: 'response', pf: true, nr: 1 })).toEqual(['I S1 R0 b', 'I S2 R0 c', 'I P S3 R0 d'])
  })

  it.each(['response', 'command'] as const)('sends again what a rejection (%s) asks for', (role) => {
    const hand = Hand.open({ length: 1 })
    hand.do({ type: 'send', bytes: text('abcd') })
    expect(hand.hear({ kind: 'REJ', role, nr: 2 })).toEqual(['I S2 R0 c', 'I P S3 R0 d'])
  })

  it('asks when nothing comes, and goes on from the answer', () => {
    const hand = Hand.open({ length: 1 })
    hand.do({ type: 'send', bytes: text('ab') })
    expect(hand.wait()).toEqual(['RR P R0'])
    // All of it had arrived: only the answer was lost.
    expect(hand.hear({ kind: 'RR', role: 'response', pf: true, nr: 2 })).toEqual([])
    expect(hand.state.sent).toEqual([])
    expect(hand.state.counters.sentAgain).toBe(0)
  })

  it('waits while they are busy, asks now and then, and is patient', () => {
    const hand = Hand.open({ length: 1, tries: 2 })
    hand.do({ type: 'send', bytes: text('ab') })
    hand.hear({ kind: 'RNR', role: 'response', pf: true, nr: 1 })
    for (let k = 0; k < 6; k++) {
      expect(hand.wait()).toEqual(['RR P R0'])
      expect(hand.hear({ kind: 'RNR', role: 'response', pf: true, nr: 1 })).toEqual([])
    }
    expect(hand.hear({ kind: 'RR', role: 'command', nr: 1 })).toEqual(['I P S1 R0 b'])
  })

  it('learns how long an answer takes', () => {
    const hand = Hand.open({ length: 1, window: 1 })
    const first = hand.state.answerMs
    for (let k = 0; k < 12; k++) {
      hand.do({ type: 'send', bytes: text('a') })
      hand.nowMs = hand.state.airFreeMs + 400
      hand.hear({ kind: 'RR', role: 'response', pf: true, nr: (k + 1) % 8 })
    }
    expect(hand.state.answerMs).toBeLessThan(first / 2)
    expect(hand.state.answerMs).toBeGreaterThan(1200 - 1)
  })

  it('sends less at once where much is lost, and more again where nothing is', () => {
    const hand = Hand.open({ length: 64, window: 4 })
    const bytes = new Uint8Array(20_000)
    hand.do({ type: 'send', bytes })
    for (let k = 0; k < 60 && hand.state.length === 64; k++)
      hand.hear({ kind: 'RR', role: 'response', pf: true, nr: (hand.state.va + (k % 2)) % 8 })
    expect(hand.state).toMatchObject({ window: 1, length: 32 })
    expect(hand.log.filter(({ type }) => type === 'note').length).toBeGreaterThan(1)
    for (let k = 0; k < 60; k++) hand.hear({ kind: 'RR', role: 'response', pf: true, nr: hand.state.vs })
    expect(hand.state).toMatchObject({ window: 4, length: 64 })
  })

  it('ends in order when all is acknowledged', () => {
    const hand = Hand.open()
    hand.do({ type: 'send', bytes: text('bye') })
    expect(hand.do({ type: 'disconnect' })).toEqual([])
    expect(hand.hear({ kind: 'RR', role: 'response', pf: true, nr: 1 })).toEqual(['DISC P'])
    hand.hear({ kind: 'UA', role: 'response', pf: true })
    expect(hand.last).toEqual({ type: 'closed', reason: 'Disconnected.', inOrder: true, left: 0 })
  })

  it('asks an idle link, and finds that nobody is there any more', () => {
    const hand = Hand.open({ tries: 3 })
    expect(hand.wait()).toEqual(['RR P R0'])
    expect(hand.nowMs).toBe(hand.openedMs + usualLinkSettings.idleMs)
    expect([hand.wait(), hand.wait()]).toEqual([['RR P R0'], ['RR P R0']])
    expect(hand.wait()).toEqual(['DISC P'])
    expect(hand.last).toMatchObject({ type: 'closed', reason: 'No answer to 3 tries.' })
  })
})

describe('receiving', () => {
  const information = (ns: number, info: string, pf = false) => ({ kind: 'I', role: 'command', ns, pf, info: text(info) }) as const
  const delivered = (hand: Hand) =>
    hand.log.flatMap((action) => (action.type === 'deliver' ? [new TextDecoder().decode(action.bytes)] : [])).join('')

  it('answers a poll at once, others after a while', () => {
    const hand = Hand.open()
    expect(hand.hear(information(0, 'a'))).toEqual([])
    expect(hand.hear(information(1, 'b', true))).toEqual(['RR F R2'])
    expect(hand.hear(information(2, 'c'))).toEqual([])
    expect(hand.wait()).toEqual(['RR R3'])
    expect(delivered(hand)).toBe('abc')
  })

  it('acknowledges with what it has to say itself', () => {
    const hand = Hand.open()
    hand.hear(information(0, 'a'))
    expect(hand.do({ type: 'send', bytes: text('yes') })).toEqual(['I P S0 R1 yes'])
  })

  it('asks once for what is missing, and takes nothing twice', () => {
    const hand = Hand.open()
    expect(hand.hear(information(1, 'b'))).toEqual([])
    expect(hand.hear(information(2, 'c', true))).toEqual(['REJ F R0'])
    expect(hand.hear(information(0, 'a'))).toEqual([])
    expect(hand.hear(information(1, 'b'))).toEqual([])
    expect(hand.hear(information(0, 'a'))).toEqual([])
    expect(hand.hear(information(2, 'c', true))).toEqual(['RR F R3'])
    expect(delivered(hand)).toBe('abc')
  })

  it('asks one by one where both can, the lowest last and as the answer', () => {
    const hand = Hand.open({ wide: true })
    hand.hear({ kind: 'XID', role: 'response', pf: true, info: encodeXid({ selectiveReject: true, longest: 256, window: 16 }) })
    hand.hear(information(1, 'b'))
    expect(hand.hear(information(3, 'd', true))).toEqual(['SREJ R2', 'SREJ F R0'])
    hand.hear(information(0, 'a'))
    expect(delivered(hand)).toBe('ab')
    expect(hand.hear(information(2, 'c', true))).toEqual(['RR F R4'])
    expect(delivered(hand)).toBe('abcd')
  })

  it('takes nothing while busy, and says when it can again', () => {
    const hand = Hand.open()
    expect(hand.do({ type: 'busy', busy: true })).toEqual(['RNR R0'])
    expect(hand.hear(information(0, 'a', true))).toEqual(['RNR F R0'])
    expect(hand.do({ type: 'busy', busy: false })).toEqual(['RR R0'])
    expect(delivered(hand)).toBe('')
  })

  it('talks with stations whose frames have no command bits', () => {
    const hand = Hand.open({ length: 1 })
    expect(hand.hear({ ...information(0, 'a', true), role: 'old' })).toEqual(['RR F R1'])
    hand.do({ type: 'send', bytes: text('b') })
    hand.hear({ kind: 'RR', role: 'old', pf: true, nr: 1 })
    expect(hand.state).toMatchObject({ sent: [], isOld: true, asked: false })
    expect(hand.hear({ kind: 'RR', role: 'old', pf: true, nr: 1 })).toEqual(['RR F R1'])
  })

  it('ends with those who count otherwise, not at the first frame', () => {
    const hand = Hand.open()
    for (let k = 0; k < 7; k++) expect(hand.hear({ kind: 'RR', role: 'response', nr: 5 })).toEqual([])
    expect(hand.hear({ kind: 'RR', role: 'response', nr: 5 })).toEqual(['DISC P'])
    expect(hand.last).toMatchObject({ type: 'closed', reason: 'The other side counts otherwise than we do.' })
  })

  it('cut off, it ends at once and says how much has no acknowledgement', () => {
    const hand = Hand.open()
    hand.do({ type: 'send', bytes: text('12345') })
    expect(hand.do({ type: 'cut', why: 'Silence.' })).toEqual(['DISC P'])
    expect(hand.last).toEqual({ type: 'closed', reason: 'Silence.', inOrder: false, left: 5 })
    expect(hand.state.answerBy).toBeUndefined()
  })
})

describe('frames', () => {
  const addresses = { destination: 'Q5CTL-7', source: 'Q5RVR', path: [{ call: 'Q8TOP', repeated: true }] }
  it.each([8, 128] as Modulo[])('come back as they were, counted modulo %i', (modulo) => {
    for (const kind of ['I', 'RR', 'RNR', 'REJ', 'SREJ', 'SABM', 'SABME', 'DISC', 'DM', 'UA', 'FRMR', 'XID'] as const)
      for (const role of ['command', 'response'] as const)
        for (const pf of [true, false]) {
          const counted = ['I', 'RR', 'RNR', 'REJ', 'SREJ'].includes(kind)
          const info = kind === 'I' || kind === 'XID' ? text('\r') : new Uint8Array()
          const frame = linkFrame({ kind, role, pf, info, ...(counted && { nr: modulo - 1 }), ...(kind === 'I' && { ns: modulo - 3 }) })
          const read = parseLinkFrame(encodeLinkFrame(frame, { ...addresses, modulo }), modulo)
          expect(read?.frame).toEqual(frame)
          expect(read?.addresses).toMatchObject(addresses)
        }
  })

  it('say what stations can do', () => {
    const abilities = { selectiveReject: true, longest: 256, window: 32 }
    expect(parseXid(encodeXid(abilities))).toEqual(abilities)
    expect(parseXid(encodeXid({ ...abilities, selectiveReject: false }))).toMatchObject({ selectiveReject: false })
    expect(parseXid(Uint8Array.of(0x82, 0x80, 0, 40, 6, 2, 8))).toBeUndefined()
    expect(parseXid(text('hello'))).toBeUndefined()
  })
})

type Addresses = Omit<Parameters<typeof encodeLinkFrame>[1], 'modulo'>
interface Path {
  loss: number
  delayMs: number
  doubled: number
  /** Nothing gets through after this instant. */
  deafFromMs?: number
}

/** Two links and what lies between them; each way has its own faults. */
class Pair {
  nowMs = 0
  readonly links: [LinkState, LinkState]
  readonly got: [number[], number[]] = [[], []]
  readonly closed: [string?, string?] = []
  most = 0
  private readonly lastMs: [number, number] = [0, 0]
  private readonly onTheWay: { atMs: number; to: 0 | 1; bytes: Uint8Array }[] = []

  constructor(
    change: [Partial<LinkSettings>, Partial<LinkSettings>],
    private readonly paths: [Path, Path],
    private readonly random: Random,
  ) {
    this.links = [closedLink(settings(change[0])), closedLink(settings(change[1]))]
  }

  do(side: 0 | 1, event: LinkEvent): void {
    const [state, actions] = reduceLink(this.links[side], event, this.nowMs)
    this.links[side] = state
    this.most = Math.max(this.most, state.sent.length)
    for (const action of actions) {
      if (action.type === 'deliver') this.got[side].push(...action.bytes)
      if (action.type === 'closed') this.closed[side] = action.reason
      if (action.type === 'transmit') this.transmit(side, encodeLinkFrame(action.frame, { ...ADDRESSES[side], modulo: action.modulo }))
    }
  }

  private transmit(side: 0 | 1, bytes: Uint8Array): void {
    const { loss, delayMs, doubled, deafFromMs } = this.paths[side]
    const to = side === 0 ? 1 : 0
    // What one station sends comes in the order in which it was sent, whatever repeats it.
    const arrivesMs = Math.max(this.lastMs[side], Math.max(this.nowMs, this.links[side].airFreeMs) + delayMs * (0.5 + this.random()))
    this.lastMs[side] = arrivesMs
    if (deafFromMs !== undefined && this.nowMs > deafFromMs) return
    if (this.random() >= loss) this.onTheWay.push({ atMs: arrivesMs, to, bytes })
    if (this.random() < doubled) this.onTheWay.push({ atMs: arrivesMs, to, bytes })
  }

  /** Goes on to whatever is next. @returns whether there was something */
  next(): boolean {
    const frame = this.onTheWay.reduce<(typeof this.onTheWay)[number] | undefined>(
      (first, one) => (!first || one.atMs < first.atMs ? one : first),
      undefined,
    )
    const ticks = this.links.map(nextTickMs)
    const atMs = Math.min(frame?.atMs ?? Infinity, ...ticks)
    if (atMs === Infinity) return false
    this.nowMs = Math.max(this.nowMs, atMs)
    if (frame && frame.atMs <= this.nowMs) {
      this.onTheWay.splice(this.onTheWay.indexOf(frame), 1)
      const read = parseLinkFrame(frame.bytes, this.links[frame.to].modulo)
      if (read) this.do(frame.to, { type: 'frame', frame: read.frame })
      return true
    }
    for (const side of [0, 1] as const) if (ticks[side]! <= this.nowMs) this.do(side, { type: 'tick' })
    return true
  }
}
const ADDRESSES: [Addresses, Addresses] = [
  { destination: 'Q5CTL-7', source: 'Q5RVR', path: [] },
  { destination: 'Q5RVR', source: 'Q5CTL-7', path: [] },
]

describe('two links back to back', () => {
  const isBeginOf = (got: readonly number[], sent: Uint8Array) => got.every((byte, k) => byte === sent[k])

  it('deliver whole and in order, or end with a reason, whatever lies between them', () => {
    let whole = 0
    for (let seed = 1; seed <= 1000; seed++) {
      const random = createRandom(seed)
      const path = (): Path => ({
        loss: random() < 0.5 ? 0.3 * random() : 0,
        delayMs: 200 * random(),
        doubled: random() < 0.3 ? 0.3 * random() : 0,
        ...(random() < 0.1 && { deafFromMs: 20_000 * random() }),
      })
      const side = () => ({ wide: random() < 0.5, window: 1 + Math.floor(7 * random()), length: 20 + Math.floor(200 * random()), tries: 6 })
      const pair = new Pair([side(), side()], [path(), path()], random)
      const data = [0, 1].map(() => Uint8Array.from({ length: Math.floor(1500 * random()) }, () => Math.floor(256 * random())))
      pair.do(0, { type: 'connect' })
      pair.do(0, { type: 'send', bytes: data[0]! })
      let steps = 0
      let ending = false
      let told = false
      while (pair.next()) {
        if (++steps > 20_000) throw new Error(`seed ${seed} never ends`)
        if (!told && pair.links[1].phase === 'open') {
          told = true
          pair.do(1, { type: 'send', bytes: data[1]! })
        }
        if (!ending && pair.got[1].length === data[0]!.length && pair.got[0].length === data[1]!.length) {
          ending = true
          pair.do(0, { type: 'disconnect' })
        }
        if (pair.closed[0] !== undefined && (pair.closed[1] !== undefined || pair.links[1].phase === 'closed')) break
      }
      if (!isBeginOf(pair.got[1], data[0]!) || !isBeginOf(pair.got[0], data[1]!)) throw new Error(`seed ${seed}: not what was sent`)
      expect(pair.got[1].length).toBeLessThanOrEqual(data[0]!.length)
      if (ending) whole++
      expect(pair.closed[0]).toBeTruthy()
      expect(pair.most).toBeLessThanOrEqual(63)
    }
    expect(whole).toBeGreaterThan(800)
  })

  it('bring 20 kB through a tenth of all frames lost each way', () => {
    const random = createRandom(5)
    const path = { loss: 0.1, delayMs: 100, doubled: 0 }
    const pair = new Pair([{ window: 7 }, {}], [path, path], random)
    const data = Uint8Array.from({ length: 20_000 }, () => Math.floor(256 * random()))
    pair.do(0, { type: 'connect' })
    pair.do(0, { type: 'send', bytes: data })
    while (pair.got[1].length < data.length && pair.next());
    expect(Uint8Array.from(pair.got[1])).toEqual(data)
  })

  it('takes any frames at all without harm', () => {
    const random = createRandom(9)
    const kinds = ['I', 'RR', 'RNR', 'REJ', 'SREJ', 'SABM', 'SABME', 'DISC', 'DM', 'UA', 'FRMR', 'XID'] as const
    const roles = ['command', 'response', 'old'] as const
    let state = closedLink(settings({ wide: true }))
    let nowMs = 0
    for (let k = 0; k < 100_000; k++) {
      nowMs += 500 * random()
      const frame = linkFrame({
        kind: kinds[Math.floor(kinds.length * random())]!,
        role: roles[Math.floor(3 * random())]!,
        ...{ pf: random() < 0.5, ns: Math.floor(state.modulo * random()), nr: Math.floor(state.modulo * random()) },
        info: Uint8Array.from({ length: Math.floor(20 * random()) }, () => Math.floor(256 * random())),
      })
      const chance = random()
      const event: LinkEvent =
        chance < 0.8
          ? { type: 'frame', frame }
          : chance < 0.9
            ? { type: 'tick' }
            : chance < 0.94
              ? { type: 'connect' }
              : chance < 0.98
                ? { type: 'send', bytes: pendingBytes(state) < 2000 ? frame.info : new Uint8Array() }
                : { type: 'busy', busy: random() < 0.5 }
      ;[state] = reduceLink(state, event, nowMs)
      if (state.sent.length > 63 || state.early.length > 64 || pendingBytes(state) > MOST_WAITING)
        throw new Error(`step ${k}: it holds too much`)
      if (state.phase !== 'closed' && nextTickMs(state) === Infinity) throw new Error(`step ${k}: nothing would ever end it`)
    }
  })
})
