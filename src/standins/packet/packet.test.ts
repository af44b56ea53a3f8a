import { createRandom } from '@/core/dsp'
import { monitorLine, parseAx25, uiFrame } from '@/core/packet'
import { LinkSessions, type LinkSession } from '@/core/packet/link/linkSessions'
import { usualLinkSettings, type LinkAction } from '@/core/packet/link/linkState'
import { PacketChannel, usualSender, type ChannelFault, type ChannelOptions } from './packetChannel'
import { PacketWorld, type PacketWorldOptions } from './packetWorld'

const frame = (source: string, text = 'hello') => uiFrame(source, 'BEACON', [], text)
const lineOf = (bytes: Uint8Array) => {
  const parsed = parseAx25(bytes)
  return parsed.ok ? monitorLine(parsed.value) : parsed.error
}
const channelOf = (change: Partial<ChannelOptions> = {}, faults: ChannelFault[] = []) => {
  const channel = new PacketChannel({ airBaud: 1200, loss: 0, random: createRandom(1), ...change }, () => new Set(faults))
  for (const name of ['a', 'b', 'c']) channel.join(name)
  return channel
}

describe('the channel', () => {
  it('brings a frame to all who hear, after key-up and as long as it takes', () => {
    const channel = channelOf()
    channel.join('a', { ...usualSender, persistence: 1 })
    channel.send('a', frame('Q1ABC'))
    const heard = channel.advance(10_000)
    expect(heard.map(({ hearer }) => hearer)).toEqual(['b', 'c'])
    // 0.3 s of key-up and 24 bytes at 1200 baud.
    expect(heard[0]!.atMs).toBeGreaterThan(300 + 160)
    expect(heard[0]!.atMs).toBeLessThan(300 + 200)
  })

  it('lets one wait for the other', () => {
    const channel = channelOf()
    channel.send('a', frame('Q1ABC', 'x'.repeat(200)))
    channel.advance(1500)
    channel.send('b', frame('Q2DEF'))
    expect(channel.advance(20_000).filter(({ hearer }) => hearer === 'c')).toHaveLength(2)
    expect(channel.counters.collisions).toBe(0)
  })

  it('spoils what meets, also from those who do not hear each other', () => {
    const channel = channelOf({ hears: (hearer, sender) => hearer === 'c' || sender === 'c' })
    for (const name of ['a', 'b']) channel.join(name, { ...usualSender, persistence: 1 })
    channel.send('a', frame('Q1ABC', 'x'.repeat(100)))
    channel.advance(400)
    // It does not hear that one sends already.
    channel.send('b', frame('Q2DEF'))
    expect(channel.advance(20_000)).toEqual([])
    expect(channel.counters.collisions).toBeGreaterThan(0)
  })

  it('lets one hear who is not heard', () => {
    const channel = channelOf({ hears: (hearer, sender) => !(hearer === 'a' && sender === 'b') })
    channel.send('b', frame('Q2DEF'))
    expect(channel.advance(10_000).map(({ hearer }) => hearer)).toEqual(['c'])
  })

  it('loses its share', () => {
    const channel = channelOf({ loss: 0.25 })
    for (let k = 0; k < 300; k++) {
      channel.send('a', frame('Q1ABC', String(k)))
      channel.advance((k + 1) * 5000)
    }
    expect(channel.counters.lost / 600).toBeGreaterThan(0.2)
    expect(channel.counters.lost / 600).toBeLessThan(0.3)
  })

  it.each([
    ['shortKeyUp', 300, 500],
    ['squelch', 150, 300],
  ] as const)('with the fault %s needs longer key-up', (fault, short, long) => {
    const hears = (txDelayMs: number) => {
      const channel = channelOf({}, [fault])
      channel.join('a', { ...usualSender, txDelayMs })
      channel.send('a', frame('Q1ABC'))
      return channel.advance(10_000).length
    }
    expect(hears(short)).toBe(0)
    expect(hears(long)).toBe(2)
  })

  it('busy without end lets nobody send, and what waits can be dropped', () => {
    const channel = channelOf({}, ['busy'])
    channel.send('a', frame('Q1ABC'))
    expect(channel.advance(60_000)).toEqual([])
    expect(channel.drop('a')).toBe(1)
  })

  it('a strong neighbour spoils about half', () => {
    const channel = channelOf({}, ['overload'])
    let heard = 0
    for (let k = 0; k < 200; k++) {
      channel.send('a', frame('Q1ABC', String(k)))
      heard += channel.advance((k + 1) * 5000).length
    }
    expect(heard).toBeGreaterThan(140)
    expect(heard).toBeLessThan(260)
  })
})

/** A station of ours at a port of a world. */
class Visitor {
  readonly sessions: LinkSessions
  readonly said: string[] = []
  readonly told: LinkAction[] = []
  nowMs = 0

  constructor(
    private readonly world: PacketWorld,
    private readonly port = 0,
    readonly own = 'Q5RVR',
  ) {
    this.sessions = new LinkSessions({
      settings: usualLinkSettings,
      send: (bytes) => this.world.take(port, { port: 0, command: 0, data: bytes }),
      accepts: () => false,
      tell: (_, action) => {
        this.told.push(action)
        if (action.type === 'deliver') this.said.push(...new TextDecoder().decode(action.bytes).split(/(?<=\r)/))
      },
    })
  }
  connect(peer: string, via: string[] = []): LinkSession {
    const session = this.sessions.connect({ own: this.own, peer, via }, this.nowMs)
    if ('error' in session) throw new Error(session.error)
    return session
  }
  type(session: LinkSession, line: string): void {
    this.sessions.do(session, { type: 'send', bytes: new TextEncoder().encode(`${line}\r`) }, this.nowMs)
  }
  run(forMs: number): void {
    const end = this.nowMs + forMs
    while (this.nowMs < end) {
      this.nowMs = Math.min(end, Math.max(this.nowMs, Math.min(this.sessions.nextTickMs, this.world.nextMs)))
      for (const { port, frame: bytes } of this.world.advance(this.nowMs)) if (port === this.port) this.sessions.heard(bytes, this.nowMs)
      this.sessions.tick(this.nowMs)
    }
  }
  get text(): string {
    return this.said.join('')
  }
}

const worldOf = (change: Partial<PacketWorldOptions> = {}, faults: () => ReadonlySet<ChannelFault> = () => new Set()) =>
  new PacketWorld({ airBaud: 1200, loss: 0, seed: 1, ports: 2, nodes: ['Q5CTL-7', 'Q6NOD'], digipeaters: ['Q8TOP'], ...change }, faults)

describe('a world of packet', () => {
  it('has a node that answers orders and says goodbye', () => {
    const visitor = new Visitor(worldOf())
    const session = visitor.connect('Q5CTL-7')
    visitor.run(60_000)
    expect(visitor.text).toMatch(/^Q5CTL-7 node\..*\rQ5CTL-7>\r$/)
    for (const line of ['n', 'j', 'what?', 'b']) visitor.type(session, line)
    visitor.run(120_000)
    expect(visitor.text).toMatch(/Nodes: Q6NOD\r/)
    expect(visitor.text).toMatch(/Heard: Q5RVR \d+ s ago\r/)
    expect(visitor.text).toMatch(/"what\?" is no order here/)
    expect(visitor.told.at(-1)).toMatchObject({ type: 'closed', reason: 'The other side disconnected.', inOrder: true })
  })

  it('is reached through a digipeater, and through a node from one to the next', () => {
    const visitor = new Visitor(worldOf())
    const far = visitor.connect('Q6NOD', ['Q8TOP'])
    visitor.run(60_000)
    expect(visitor.text).toMatch(/^Q6NOD node/)
    visitor.type(far, 'c Q5CTL-7')
    visitor.run(120_000)
    expect(visitor.text).toMatch(/Calling Q5CTL-7\rConnected to Q5CTL-7\rQ5CTL-7 node/)
    visitor.type(far, 'b')
    visitor.run(120_000)
    expect(visitor.text).toMatch(/73 de Q5CTL-7\rNo connection with Q5CTL-7 any more: The other side disconnected\.\rQ6NOD>\r$/)
  })

  it('loses a tenth of all frames and still brings all, once and in order', () => {
    const visitor = new Visitor(worldOf({ loss: 0.1 }))
    const session = visitor.connect('Q5CTL-7')
    visitor.run(30_000)
    for (let k = 0; k < 30; k++) visitor.type(session, `order ${k}`)
    visitor.run(1_200_000)
    const answers = [...visitor.text.matchAll(/"order (\d+)"/g)].map(([, k]) => Number(k))
    expect(answers).toEqual(Array.from({ length: 30 }, (_, k) => k))
  })

  it.each([
    ['nobody', [], /No answer to 10 calls/],
    ['deafDigipeater', ['Q8TOP'], /No answer to 10 calls/],
    ['busy', [], /No answer to 10 calls/],
  ] as const)('with the fault %s a call ends with a reason', (fault, via, reason) => {
    const visitor = new Visitor(worldOf({}, () => new Set([fault])))
    visitor.connect('Q5CTL-7', [...via])
    visitor.run(3_600_000)
    expect(visitor.told.at(-1)).toMatchObject({ type: 'closed', reason: expect.stringMatching(reason) })
  })

  it('has ten sessions at once over one port', () => {
    const world = worldOf({ nodes: Array.from({ length: 10 }, (_, k) => `Q7N${k}`) })
    const visitor = new Visitor(world)
    const sessions = Array.from({ length: 10 }, (_, k) => visitor.connect(`Q7N${k}`))
    visitor.run(400_000)
    for (const session of sessions) visitor.type(session, 'i')
    visitor.run(900_000)
    for (let k = 0; k < 10; k++) expect(visitor.text).toMatch(new RegExp(`Q7N${k} is a made-up node`))
  })

  it('tells now and then where its stations are', () => {
    const world = worldOf({ beacons: [{ call: 'Q4HUT', words: 'hut at the lake' }] })
    const lines = world.advance(200_000).map(({ frame: bytes }) => lineOf(bytes))
    expect(lines.filter((line) => line === 'Q4HUT>BEACON:hut at the lake').length).toBeGreaterThan(3)
  })
})
