import { uiFrame } from '@/core/packet'
import { encodeLinkFrame, linkFrame, parseLinkFrame } from '@/core/packet/link/linkFrame'
import { createRandom } from '@/core/dsp'
import type { KeptSession, PacketAct } from '@/core/packet/station/contracts'
import { PacketWorld } from '@/standins/packet/packetWorld'
import type { ChannelFault } from '@/standins/packet/packetChannel'
import { PacketStation } from './packetStation'

/** A station whose clock goes as the test says, over a channel with a node and a digipeater. */
class Bench {
  nowMs = 0
  problem: string | undefined
  refuses: string | undefined
  who = { call: 'Q5RVR', licenceConfirmed: true }
  readonly given: Uint8Array[] = []
  readonly faults = new Set<ChannelFault>()
  readonly world = new PacketWorld(
    { airBaud: 1200, loss: 0, seed: 2, ports: 1, nodes: ['Q5CTL-7', 'Q6NOD'], digipeaters: ['Q8TOP'] },
    () => this.faults,
  )
  airBaud = 1200
  txDelayMs = 300
  cannotSet: string | undefined
  keeps = true
  /** Whether the node hears nothing that comes directly, or nothing at all. */
  deaf = false
  deafness = false
  readonly texts: KeptSession[] = []
  readonly frames: string[] = []
  private ids = 0
  readonly station = new PacketStation({
    monotonicMs: () => this.nowMs,
    utcMs: () => 1_780_000_000_000 + this.nowMs,
    station: () => Promise.resolve(this.who),
    airBaud: () => this.airBaud,
    txDelayMs: () => this.txDelayMs,
    setTxDelay: async (ms) => {
      if (this.cannotSet !== undefined) throw new Error(this.cannotSet)
      this.txDelayMs = ms
      this.world.take(0, { port: 0, command: 1, data: Uint8Array.of(ms / 10) })
    },
    problem: () => this.problem,
    newId: () => `00000000-0000-4000-8000-${String(++this.ids).padStart(12, '0')}`,
    keepSession: async (session) => {
      if (!this.keeps) throw new Error('The disk is full.')
      this.texts.push(session)
    },
    keepFrame: ({ line }) => void this.frames.push(line),
    send: (frame) => {
      this.given.push(frame)
      if (!this.deafness && !(this.deaf && parseLinkFrame(frame, 8)?.addresses.path.length === 0))
        this.world.take(0, { port: 0, command: 0, data: frame })
      return Promise.resolve(this.refuses === undefined ? { ok: true as const } : { ok: false as const, error: this.refuses })
    },
  })

  /** The first check made, as it is at the begin of a session. */
  static async checked(): Promise<Bench> {
    const bench = new Bench()
    open.push(bench)
    await bench.act({ act: 'checked' })
    return bench
  }
  async act(act: PacketAct): Promise<string | undefined> {
    const done = await this.station.act(act)
    return done.ok ? undefined : done.error
  }
  /** Time goes on in steps, as its own timer would have it. */
  async run(forMs: number): Promise<void> {
    const end = this.nowMs + forMs
    while (this.nowMs < end) {
      this.nowMs += 50
      for (const { frame } of this.world.advance(this.nowMs)) this.station.heard(frame)
      this.station.tick()
      // What was begun goes on meanwhile.
      await Promise.resolve()
    }
  }
  get session() {
    return this.station.state().sessions.at(-1)!
  }
  get text(): string {
    return this.session.lines.map(({ way, text }) => `${way} ${text}`).join('\n')
  }
}
const open: Bench[] = []
afterEach(() => Promise.all(open.splice(0).map((bench) => bench.station.close())))

describe('a session of the packet station', () => {
  it('is called, typed in, and ended in order', async () => {
    const bench = await Bench.checked()
    expect(await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })).toBeUndefined()
    expect(bench.session).toMatchObject({
      phase: 'calling',
      words: expect.stringMatching(/^Calling, first try of 10\. The next in \d s\.$/),
    })
    await bench.run(30_000)
    expect(bench.session).toMatchObject({ phase: 'open', words: 'Connected; nothing waits to be sent.' })
    expect(await bench.act({ act: 'type', id: bench.session.id, text: 'i' })).toBeUndefined()
    expect(bench.session.words).toMatch(/^2 bytes without an acknowledgement, 1 frame on the way/)
    await bench.run(30_000)
    expect(bench.text).toMatch(/in Q5CTL-7>\nout i\nin Q5CTL-7 is a made-up node for practice\.\nin Q5CTL-7>$/)
    expect(bench.session).toMatchObject({ acknowledgedBytes: 2, pendingBytes: 0, roundTripMs: expect.any(Number) })
    expect(bench.session.ladder.filter(({ way, what }) => way === 'out' && what.startsWith('I')).map(({ state }) => state)).toEqual([
      'acknowledged',
    ])
    expect(bench.session.ladder.filter(({ way }) => way === 'in').every(({ state }) => state === 'heard')).toBe(true)
    expect(await bench.act({ act: 'disconnect', id: bench.session.id })).toBeUndefined()
    await bench.run(20_000)
    expect(bench.session).toMatchObject({ phase: 'closed', words: 'Disconnected.' })
    expect(await bench.act({ act: 'type', id: bench.session.id, text: 'x' })).toMatch(/has ended/)
    expect(await bench.act({ act: 'dismiss', id: bench.session.id })).toBeUndefined()
    expect(bench.station.state().sessions).toEqual([])
  })

  it('goes by a digipeater, and two at once do not mix', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: ['Q8TOP'] })
    await bench.act({ act: 'connect', peer: 'Q6NOD', via: [] })
    expect(await bench.act({ act: 'connect', peer: 'Q6NOD', via: [] })).toMatch(/already/)
    await bench.run(60_000)
    const [far, near] = bench.station.state().sessions
    expect([far!.phase, near!.phase]).toEqual(['open', 'open'])
    expect(far!.lines.some(({ text }) => text.startsWith('Q5CTL-7 node'))).toBe(true)
    expect(near!.lines.some(({ text }) => text.startsWith('Q6NOD node'))).toBe(true)
    expect(bench.station.state().heard.find(({ call }) => call === 'Q5CTL-7')).toMatchObject({ by: 'Q8TOP' })
  })

  it('says why it waits when nobody answers, and gives up', async () => {
    const bench = await Bench.checked()
    bench.faults.add('nobody')
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })
    await bench.run(15_000)
    expect(bench.session.words).toMatch(/^Calling, (third|fourth) try of 10\. The next in \d+ s\.$/)
    await bench.run(400_000)
    expect(bench.session).toMatchObject({ phase: 'closed', words: 'No answer to 10 calls.' })
  })

  it('puts lines together that come in pieces', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })
    await bench.run(30_000)
    const before = bench.session.lines.length
    // More than a frame holds: the list of orders comes in one line all the same.
    for (let k = 0; k < 3; k++) await bench.act({ act: 'type', id: bench.session.id, text: `what is ${'x'.repeat(60)}` })
    await bench.run(120_000)
    const said = bench.session.lines.slice(before).filter(({ way }) => way === 'in')
    expect(said.filter(({ text }) => text === 'Q5CTL-7>')).toHaveLength(3)
    expect(said.filter(({ text }) => /^"what is x+" is no order here\..*B\(ye\)$/.test(text))).toHaveLength(3)
    expect(said).toHaveLength(6)
  })
})

describe('what a session claims', () => {
  it('is not that frames were acknowledged which the other side left behind when it went', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })
    await bench.run(30_000)
    await bench.act({ act: 'type', id: bench.session.id, text: 'never answered' })
    const gone = encodeLinkFrame(linkFrame({ kind: 'DM', role: 'response', pf: true }), {
      destination: 'Q5RVR',
      source: 'Q5CTL-7',
      path: [],
      modulo: 8,
    })
    bench.station.heard(gone)
    expect(bench.session).toMatchObject({ phase: 'closed', words: expect.stringMatching(/no connection with us any more/) })
    expect(bench.session.ladder.findLast(({ way, what }) => way === 'out' && what.startsWith('I'))!.state).toBe('waits')
  })

  it('is that the TNC did not take a frame, where it did not', async () => {
    const bench = await Bench.checked()
    bench.refuses = 'The port is gone.'
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })
    await bench.run(100)
    expect(bench.text).toMatch(/The TNC did not take a frame: The port is gone\./)
  })

  it('grows no line without end', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })
    await bench.run(30_000)
    const { modulo, vr } = {
      modulo: 8 as const,
      vr: bench.session.ladder.filter(({ way, what }) => way === 'in' && what.startsWith('I')).length,
    }
    for (let k = 0; k < 60; k++)
      bench.station.heard(
        encodeLinkFrame(linkFrame({ kind: 'I', role: 'command', ns: (vr + k) % 8, info: new Uint8Array(250).fill(0x41) }), {
          ...{ destination: 'Q5RVR', source: 'Q5CTL-7', path: [], modulo },
        }),
      )
    const lines = bench.session.lines.filter(({ text }) => text.startsWith('AAA'))
    expect(lines.length).toBeGreaterThan(10)
    expect(Math.max(...lines.map(({ text }) => text.length))).toBe(1000)
  })
})

describe('the gate of the packet station', () => {
  const connect: PacketAct = { act: 'connect', peer: 'Q5CTL-7', via: [] }

  it('lets nothing through before the first check, without a call or a licence', async () => {
    const bench = new Bench()
    open.push(bench)
    expect(await bench.act(connect)).toMatch(/short check/)
    expect(bench.station.state().refusal).toMatchObject({ need: 'firstCheck' })
    await bench.act({ act: 'checked' })
    bench.who = { call: 'Q5RVR', licenceConfirmed: false }
    expect(await bench.act(connect)).toMatch(/licence is not confirmed/)
    bench.who = { call: '', licenceConfirmed: true }
    expect(await bench.act(connect)).toMatch(/No own call/)
    expect(bench.given).toEqual([])
  })

  it('says that there is no TNC', async () => {
    const bench = await Bench.checked()
    bench.problem = 'No TNC is there: Off.'
    expect(await bench.act(connect)).toBe('No TNC is there: Off.')
    expect(bench.station.state().refusal).toEqual({ why: 'No TNC is there: Off.', need: 'tnc' })
  })

  it('is shut by Silence at once: sessions end, nothing more goes out until a person begins anew', async () => {
    const bench = await Bench.checked()
    await bench.act(connect)
    await bench.run(30_000)
    await bench.act({ act: 'type', id: bench.session.id, text: 'x'.repeat(600) })
    const given = bench.given.length
    expect(await bench.act({ act: 'silence' })).toBeUndefined()
    expect(bench.session).toMatchObject({ phase: 'closed', words: 'Silenced. What the TNC was given before cannot be called back.' })
    expect(bench.session.lines.at(-1)!.text).toMatch(/601 bytes have no acknowledgement/)
    await bench.run(120_000)
    expect(bench.given).toHaveLength(given)
    expect(await bench.act(connect)).toBeUndefined()
    expect(bench.given).toHaveLength(given + 1)
  })

  it('is shut when nobody has touched the station for ten minutes, though a session would go on', async () => {
    const bench = await Bench.checked()
    await bench.act(connect)
    await bench.run(10 * 60_000 + 1000)
    const given = bench.given.length
    bench.station.heard(bench.given[0]!)
    await bench.run(10 * 60_000)
    expect(bench.given).toHaveLength(given)
    expect(bench.text).toMatch(/Nobody has touched the station for 10 minutes/)
  })

  it('gives the radio its rest: no more than three fifths of five minutes', async () => {
    const bench = await Bench.checked()
    for (let k = 0; k < 400; k++) await bench.act({ act: 'unproto', to: 'CQ', via: [], text: 'x'.repeat(250) })
    // Each takes 0.3 s of key-up and some 1.85 s.
    expect(bench.given.length).toBeGreaterThan(70)
    expect(bench.given.length).toBeLessThan(90)
    expect(bench.station.state().refusal).toMatchObject({ why: expect.stringMatching(/needs a rest/) })
  })

  it('lets everything be cut off, also without the right to send', async () => {
    const bench = await Bench.checked()
    await bench.act(connect)
    bench.who = { call: 'Q5RVR', licenceConfirmed: false }
    expect(await bench.act({ act: 'cut', id: bench.session.id })).toBeUndefined()
    expect(bench.session).toMatchObject({ phase: 'closed', words: 'Cut off.' })
    expect(await bench.act({ act: 'cut', id: 99 })).toMatch(/not known any more/)
  })
})

describe('a way to a station', () => {
  it('is found among those that were heard: one after the other is called until one answers', async () => {
    const bench = await Bench.checked()
    // The node hears the digipeater, and not us.
    bench.deaf = true
    const repeated = uiFrame('Q7FEN-9', 'CQ', ['Q8TOP'], 'anybody?')
    repeated[20]! |= 0x80
    bench.station.heard(repeated)
    expect(await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [], find: true, practice: true })).toBeUndefined()
    await bench.run(60_000)
    expect(bench.text).toMatch(/note Calling Q5CTL-7 directly\.[^]*note Calling Q5CTL-7 by Q8TOP\.[^]*note Connected to Q5CTL-7\./)
    expect(bench.station.state().sessions).toHaveLength(1)
    expect(bench.session).toMatchObject({ phase: 'open', via: ['Q8TOP'] })
    expect(bench.given.filter((frame) => parseLinkFrame(frame, 8)?.frame.kind === 'SABM' && frame.length === 15)).toHaveLength(3)
    // Once it has answered it is asked as often as any other.
    bench.deafness = true
    await bench.act({ act: 'type', id: bench.session.id, text: 'i' })
    await bench.run(200_000)
    expect(bench.text).toMatch(/Try 8 of 10/)
  })

  it('is given up when none brings an answer, and ends with Silence', async () => {
    const bench = await Bench.checked()
    bench.faults.add('nobody')
    const repeated = uiFrame('Q7FEN-9', 'CQ', ['Q8TOP'], 'anybody?')
    repeated[20]! |= 0x80
    bench.station.heard(repeated)
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [], find: true })
    await bench.run(120_000)
    expect(bench.session.phase).toBe('closed')
    expect(bench.text.match(/note Calling/g)).toHaveLength(2)
    await bench.act({ act: 'connect', peer: 'Q6NOD', via: [], find: true })
    await bench.act({ act: 'silence' })
    const { length } = bench.given
    await bench.run(120_000)
    expect(bench.given).toHaveLength(length)
  })
})

describe('a person who stops it', () => {
  it.each(['cut', 'disconnect'] as const)('by %s ends all ways that would still be tried', async (how) => {
    const bench = await Bench.checked()
    bench.faults.add('nobody')
    const repeated = uiFrame('Q7FEN-9', 'CQ', ['Q8TOP'], 'anybody?')
    repeated[20]! |= 0x80
    bench.station.heard(repeated)
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [], find: true })
    await bench.run(3000)
    await bench.act({ act: how, id: bench.session.id })
    await bench.run(120_000)
    expect(bench.session.phase).toBe('closed')
    expect(bench.text.match(/note Calling/g)).toHaveLength(1)
  })

  it('and puts a session away keeps its last words', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })
    await bench.run(1000)
    await bench.act({ act: 'cut', id: bench.session.id })
    await bench.act({ act: 'dismiss', id: bench.session.id })
    await bench.run(50)
    expect(bench.texts.at(-1)!.lines.at(-1)!.text).toBe('Cut off.')
  })
})

describe('calls of others', () => {
  const call = (to: string) => {
    const sabm = linkFrame({ kind: 'SABM', role: 'command', pf: true })
    return encodeLinkFrame(sabm, { destination: to, source: 'Q3TUV', path: [], modulo: 8 })
  }

  it('are taken only while a person lets them, greeted, kept, and end with the time that was given', async () => {
    const bench = await Bench.checked()
    bench.station.heard(call('Q5RVR'))
    expect(bench.given).toEqual([])
    expect(await bench.act({ act: 'accept', minutes: 5, greeting: 'Rowan here, at the landing.' })).toBeUndefined()
    expect(bench.station.state().accepting).toMatchObject({ greeting: 'Rowan here, at the landing.' })
    bench.station.heard(call('Q5RVR-3'))
    expect(bench.given).toEqual([])
    bench.station.heard(call('Q5RVR'))
    expect(bench.session).toMatchObject({ by: 'them', peer: 'Q3TUV', phase: 'open' })
    expect(bench.text).toBe('note Q3TUV has connected to Q5RVR.\nout Rowan here, at the landing.')
    expect(bench.given.map((frame) => parseLinkFrame(frame, 8)!.frame.kind)).toEqual(['UA', 'I'])
    await bench.run(5 * 60_000 + 1000)
    expect(bench.station.state().accepting).toBeNull()
    const { length } = bench.given
    bench.station.heard(call('Q5RVR').map((byte, k) => (k === 7 ? 0xa4 : byte)))
    expect(bench.given).toHaveLength(length)
  })

  it('are not answered, and no session is told of, where the gate would keep the answer back', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'accept', minutes: 60, greeting: '' })
    await bench.run(11 * 60_000)
    bench.station.heard(call('Q5RVR'))
    expect(bench.given).toEqual([])
    expect(bench.station.state().sessions).toEqual([])
  })

  it('are refused without a person, and after Silence', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'accept', minutes: 60, greeting: '' })
    await bench.act({ act: 'silence' })
    bench.station.heard(call('Q5RVR'))
    expect(bench.given).toEqual([])
    await bench.act({ act: 'accept', minutes: 60, greeting: '' })
    await bench.act({ act: 'endAccept' })
    bench.station.heard(call('Q5RVR'))
    expect(bench.given).toEqual([])
  })
})

describe('a beacon', () => {
  it('goes out at once and then as often as was asked, by the gate, until it has ended', async () => {
    const bench = await Bench.checked()
    expect(await bench.act({ act: 'beacon', to: 'BEACON', via: [], text: 'at the landing', everyMin: 2, times: 3 })).toBeUndefined()
    await bench.run(1000)
    expect(bench.station.state().beacon).toMatchObject({ left: 2, everyMin: 2 })
    await bench.run(9 * 60_000)
    expect(bench.given).toHaveLength(3)
    expect(bench.station.state().beacon).toBeNull()
    expect(bench.station.frames[0]).toMatchObject({ way: 'out', line: 'Q5RVR>BEACON:at the landing', kind: 'UI' })
  })

  it('says why one did not go out, and goes on when it may again', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'beacon', to: 'BEACON', via: [], text: 'x', everyMin: 2, times: 9 })
    await bench.run(1000)
    bench.problem = 'No TNC is there: Off.'
    await bench.run(121_000)
    expect(bench.station.state().beacon).toMatchObject({ left: 7, problem: 'No TNC is there: Off.' })
    bench.problem = undefined
    await bench.run(121_000)
    expect(bench.station.state().beacon).toMatchObject({ left: 6, problem: null })
    expect(bench.given).toHaveLength(2)
  })

  it('is ended by a tap, and by Silence', async () => {
    const bench = await Bench.checked()
    const beacon: PacketAct = { act: 'beacon', to: 'BEACON', via: [], text: 'x', everyMin: 2, times: 9 }
    for (const end of ['endBeacon', 'silence'] as const) {
      await bench.act(beacon)
      await bench.run(1000)
      const { length } = bench.given
      await bench.act({ act: end })
      await bench.run(5 * 60_000)
      expect([end, bench.given.length]).toEqual([end, length])
    }
  })
})

describe('the key-up time', () => {
  it('is found against a digipeater that needs 400 ms: stepped down until it fails, then a margin', async () => {
    const bench = await Bench.checked()
    bench.faults.add('shortKeyUp')
    bench.txDelayMs = 500
    expect(await bench.act({ act: 'findKeyUp', digipeater: 'Q8TOP' })).toBeUndefined()
    await bench.run(1000)
    expect(bench.station.state().keyUp).toMatchObject({ by: 'Q8TOP', nowMs: 500, sent: 1, words: null })
    await bench.run(180_000)
    expect(bench.station.state()).toMatchObject({
      keyUp: { words: 'Q8TOP still copies 400 ms; with a margin it is 450 ms now.' },
      txDelayMs: 450,
    })
  })

  it('is as before when nobody repeats, and after Silence', async () => {
    const bench = await Bench.checked()
    bench.faults.add('deafDigipeater')
    await bench.act({ act: 'findKeyUp', digipeater: 'Q8TOP' })
    await bench.run(60_000)
    expect(bench.station.state()).toMatchObject({ keyUp: { words: expect.stringMatching(/repeated 0 of 2/) }, txDelayMs: 300 })
    bench.faults.clear()
    await bench.act({ act: 'findKeyUp', digipeater: 'Q8TOP' })
    await bench.run(20_000)
    expect(bench.txDelayMs).toBeLessThan(300)
    await bench.act({ act: 'silence' })
    const { length } = bench.given
    await bench.run(60_000)
    expect(bench.station.state()).toMatchObject({ keyUp: { words: expect.stringMatching(/^Silenced/) }, txDelayMs: 300 })
    expect(bench.given).toHaveLength(length)
  })
})

describe('a search for the key-up time that cannot go on', () => {
  it('is broken off, says why, and blames no digipeater', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'findKeyUp', digipeater: 'Q8TOP' })
    await bench.run(1000)
    bench.problem = 'No TNC is there: Off.'
    await bench.run(30_000)
    expect(bench.station.state()).toMatchObject({
      keyUp: { words: 'No TNC is there: Off. The key-up time is as before.' },
      txDelayMs: 300,
    })
  })

  it('is broken off when the time cannot be set', async () => {
    const bench = await Bench.checked()
    bench.cannotSet = 'The database is closing.'
    await bench.act({ act: 'findKeyUp', digipeater: 'Q8TOP' })
    await bench.run(1000)
    expect(bench.station.state().keyUp).toMatchObject({ words: 'The key-up time could not be set: The database is closing.' })
    expect(bench.given).toEqual([])
  })
})

describe('what was said', () => {
  it('is kept again where it could not be kept', async () => {
    const bench = await Bench.checked()
    bench.keeps = false
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })
    await bench.run(12_000)
    expect(bench.texts).toEqual([])
    bench.keeps = true
    await bench.run(12_000)
    expect(bench.texts.length).toBeGreaterThan(0)
  })

  it('is kept while it goes on, and as a whole at the end', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [], practice: true })
    await bench.run(30_000)
    expect(bench.texts.length).toBeGreaterThan(0)
    await bench.act({ act: 'disconnect', id: bench.session.id })
    await bench.run(30_000)
    await bench.station.close()
    expect(new Set(bench.texts.map(({ id }) => id)).size).toBe(1)
    const last = bench.texts.at(-1)!
    expect(last).toMatchObject({ own: 'Q5RVR', peer: 'Q5CTL-7', by: 'us', practice: true })
    expect(last.lines.map(({ text }) => text)).toEqual(expect.arrayContaining(['Connected to Q5CTL-7.', 'Q5CTL-7>', 'Disconnected.']))
    expect(bench.frames.length).toBeGreaterThan(3)
  })
})

describe('the speed on the air', () => {
  it('tells how long an answer may take', async () => {
    const secondCallMs = async (airBaud: number) => {
      const bench = await Bench.checked()
      bench.faults.add('nobody')
      bench.airBaud = airBaud
      await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })
      while (bench.given.length < 2) await bench.run(50)
      return bench.nowMs
    }
    expect(await secondCallMs(300)).toBeGreaterThan((await secondCallMs(9600)) + 400)
  })
})

describe('what is heard', () => {
  it('stands in a list, the last first, with how it came and what it said', async () => {
    const bench = await Bench.checked()
    bench.station.heard(uiFrame('Q4HUT', 'BEACON', [], 'hut at the lake'))
    const repeated = uiFrame('Q7FEN-9', 'CQ', ['Q8TOP'], 'anybody?')
    repeated[20]! |= 0x80
    bench.station.heard(repeated)
    bench.station.heard(uiFrame('Q4HUT', 'BEACON', [], 'still here'))
    expect(bench.station.state().heard).toEqual([
      expect.objectContaining({ call: 'Q4HUT', by: null, frames: 2, text: 'still here' }),
      expect.objectContaining({ call: 'Q7FEN-9', by: 'Q8TOP', frames: 1, text: 'anybody?' }),
    ])
    expect(bench.station.state().busyShare).toBeGreaterThan(0)
  })

  it('takes any bytes without harm, and keeps no more than it should', async () => {
    const bench = await Bench.checked()
    await bench.act({ act: 'connect', peer: 'Q5CTL-7', via: [] })
    const random = createRandom(4)
    for (let k = 0; k < 5000; k++) {
      const bytes = Uint8Array.from({ length: Math.floor(60 * random()) }, () => Math.floor(256 * random()))
      bench.station.heard(bytes)
      const call = `Q${k % 10}${String.fromCharCode(65 + (k % 26))}${String.fromCharCode(65 + ((k >> 5) % 26))}`
      bench.station.heard(uiFrame(call, 'CQ', [], 'x'.repeat(200)))
    }
    const { heard, sessions } = bench.station.state()
    expect(heard.length).toBeLessThanOrEqual(200)
    expect(heard.every(({ text }) => (text ?? '').length <= 120)).toBe(true)
    expect(sessions[0]!.ladder.length).toBeLessThanOrEqual(60)
  })
})
