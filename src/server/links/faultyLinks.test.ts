import { jest } from '@jest/globals'
import { createRandom } from '@/core/dsp'
import { defaultLinkConfig, WATCHDOG_MS, type BytePort, type BytePortEvents, type LinkConfig, type SerialLines } from '@/core/links'
import { FaultyLine, LINE_FAULTS, RADIO_VOICES, RadioStandin, type LineFault, type RadioVoice } from '@/standins'
import { LinkHub } from './linkHub'

// Everything here happens in a time of its own, so that minutes of it pass in an instant.
beforeEach(() => {
  jest.useFakeTimers({ now: 0, doNotFake: ['nextTick', 'queueMicrotask'] })
})
afterEach(async () => {
  faults.clear()
  there = true
  const closing = Promise.all(hubs.splice(0).map((hub) => hub.close()))
  await pass(10_000)
  await closing
  jest.useRealTimers()
})

const WITHIN_MS = 3000
/** A line may be slow by 1.5 s each way, and a radio that falls silent is noticed after three questions. */
const ON_THEIR_WAY_MS = 5000
const faults = new Set<LineFault>()
const hubs: LinkHub[] = []
let there = true
const pass = (ms: number) => jest.advanceTimersByTimeAsync(ms)

type Way = RadioVoice | 'rts' | 'dtr' | 'rts inverted'

/** A radio on a serial line of many faults: keyed by orders, or by a key line that an interface passes on to it. */
class Station {
  readonly radio: RadioStandin
  readonly hub: LinkHub
  readonly config: LinkConfig
  private ends: (() => void) | undefined

  constructor(
    private readonly way: Way,
    read: boolean,
  ) {
    const line = way === 'rts' || way === 'dtr' || way === 'rts inverted'
    const voice = line ? 'ascii-9' : way
    this.radio = new RadioStandin({ voice, serialBaud: 9600, monotonicMs: () => performance.now() })
    this.hub = new LinkHub({
      monotonicMs: () => performance.now(),
      utcMs: () => performance.now(),
      listPorts: async () => [],
      createPort: (_port, _baud, keepLines) => this.createPort(keepLines),
    })
    hubs.push(this.hub)
    const by = line ? (way === 'dtr' ? 'dtr' : 'rts') : 'cat'
    const port = { kind: 'serial', path: '/dev/radio' } as const
    this.config = {
      ...defaultLinkConfig,
      control: { ...defaultLinkConfig.control, enabled: read, port: read ? port : null, dialect: voice },
      keying: { ...defaultLinkConfig.keying, by, path: line && !read ? '/dev/radio' : null, inverted: way === 'rts inverted' },
    }
  }

  private get byLine(): boolean {
    return this.config.keying.by !== 'cat'
  }

  private lineMoves({ rts, dtr }: SerialLines): void {
    if (!this.byLine) return
    const high = this.config.keying.by === 'dtr' ? dtr : rts
    if (high !== undefined) this.radio.setKeyed(high !== (this.way === 'rts inverted'))
  }

  private createPort(keepLines: boolean): BytePort {
    const line = new FaultyLine(() => faults)
    let events: BytePortEvents | undefined
    let timer: ReturnType<typeof setInterval> | undefined
    const heard = (bytes: Uint8Array) => {
      const laterMs = line.pass('in', bytes, performance.now())
      if (laterMs !== undefined) setTimeout(() => events?.onBytes(bytes), laterMs)
    }
    const obey = (bytes: Uint8Array) => {
      for (const said of this.radio.receive(bytes, 9600)) setTimeout(() => heard(said.bytes), said.delayMs)
    }
    const close = (falls: boolean) => {
      events = undefined
      clearInterval(timer)
      line.closed()
      // The system lets both lines fall with the port, unless it is asked not to; what is unplugged has none.
      if (this.ends === vanish && falls) this.lineMoves({ rts: false, dtr: false })
    }
    const vanish = () => {
      const told = events
      close(true)
      told?.onClosed('/dev/radio vanished.')
    }
    const thawed = async () => {
      while (line.frozen && events) await new Promise((done) => setTimeout(done, 20))
    }
    return {
      describe: () => '/dev/radio',
      open: async (given) => {
        if (!there) return { ok: false, error: '/dev/radio is not there.', fault: 'missing' }
        events = given
        this.ends = vanish
        if (line.hangsUp) setTimeout(vanish, 1)
        timer = setInterval(() => {
          if (line.hangsUp) vanish()
          for (const { way, bytes, laterMs } of line.thawed(performance.now()))
            setTimeout(() => (way === 'out' ? obey(bytes) : events?.onBytes(bytes)), laterMs)
        }, 20)
        return { ok: true }
      },
      write: async (bytes) => {
        if (!events) return { ok: false, error: '/dev/radio is not open.' }
        // A frozen line takes what its buffers hold and then nothing: here it never says that it was written.
        const laterMs = line.pass('out', bytes, performance.now())
        if (laterMs !== undefined) setTimeout(() => obey(bytes), laterMs)
        else if (line.frozen) await thawed()
        return { ok: true }
      },
      setLines: async (lines) => {
        await thawed()
        if (!events) return { ok: false, error: '/dev/radio is not open.' }
        if (line.deaf) return { ok: false, error: '/dev/radio does not take it.' }
        this.lineMoves(lines)
        return { ok: true }
      },
      close: async () => close(!keepLines),
    }
  }

  vanish(): void {
    there = false
    this.ends?.()
  }

  get told() {
    const { keying, alarm } = this.hub.state(Infinity)
    return { ready: keying.state === 'ready', knows: !keying.unknown, alarm: alarm?.words }
  }

  async start(): Promise<void> {
    await this.hub.configure(this.config)
    for (let i = 0; i < 200 && !this.told.ready; i++) await pass(50)
    await pass(1000)
    expect(this.told).toMatchObject({ ready: true, knows: true })
  }

  /** Keys the radio and keeps it keyed for so long. */
  async key(id: string, ms: number): Promise<void> {
    const acknowledged = this.hub.state(Infinity).alarm?.sequence ?? 0
    const keyed = this.hub.key({ action: 'on', id, acknowledged })
    for (let at = 0; at < ms; at += 100) {
      await pass(100)
      void this.hub.key({ action: 'alive', id })
    }
    await keyed
  }
}

const RIGHTS_END: [string, (station: Station) => unknown][] = [
  ['the page goes away', () => undefined],
  ['somebody presses off', (station) => station.hub.key({ action: 'off' })],
  [
    'the link is turned off',
    (station) =>
      station.hub.configure({
        ...station.config,
        control: { ...station.config.control, enabled: false },
        keying: { ...defaultLinkConfig.keying },
      }),
  ],
  ['the server ends', (station) => station.hub.close()],
]
const FAULTS: [string, (station: Station) => unknown][] = [
  ['nothing', () => undefined],
  ...(Object.keys(LINE_FAULTS) as LineFault[]).map((fault): [string, () => unknown] => [fault, () => faults.add(fault)]),
  ['vanished', (station) => station.vanish()],
]
const WAYS: Way[] = [...RADIO_VOICES, 'rts', 'dtr', 'rts inverted']

describe.each(WAYS)('a radio keyed by %s', (way) => {
  describe.each(FAULTS)('whose line is struck by %s', (_fault, strike) => {
    it.each(RIGHTS_END)('is unkeyed in time, or nobody says that it is, when %s', async (how, end) => {
      const station = new Station(way, true)
      await station.start()
      await station.key('a', 1000)
      expect(station.radio.keyed).toBe(true)
      await strike(station)
      // The page says that it is alive a last time at this moment.
      void station.hub.key({ action: 'alive', id: 'a' })
      const ended = how === 'the page goes away' ? undefined : Promise.resolve(end(station))
      // Whoever stops being alive loses the right two seconds later, at the latest.
      await pass(WITHIN_MS + (how === 'the page goes away' ? WATCHDOG_MS : 0))
      const inTime = !station.radio.keyed
      if (!inTime) {
        expect(station.told).toMatchObject({ ready: false, knows: false, alarm: expect.stringMatching(/switch the radio off/) })
        if (how === 'the server ends') expect(station.hub.leavesKeyed).toBe(true)
      }
      // A line that works again is used at once to unkey, however often it is opened anew for it.
      faults.clear()
      there = true
      if (how !== 'the server ends' && how !== 'the link is turned off') {
        await pass(25_000)
        expect(station.radio.keyed).toBe(false)
        expect(station.told).toMatchObject({ ready: true, knows: true })
      }
      await pass(10_000)
      await ended
    })
  })
})

describe('a line that is read and keyed in another one', () => {
  it.each(['rts', 'dtr', 'rts inverted'] as const)('%s is unkeyed in time, or nobody says so', async (way) => {
    for (const [, strike] of FAULTS) {
      const station = new Station(way, false)
      await station.start()
      await station.key('a', 500)
      expect(station.radio.keyed).toBe(true)
      await strike(station)
      const off = station.hub.key({ action: 'off' })
      await pass(WITHIN_MS)
      if (station.radio.keyed) expect(station.told).toMatchObject({ ready: false, knows: false })
      faults.clear()
      there = true
      await pass(25_000)
      expect(station.radio.keyed).toBe(false)
      await off
    }
  })
})

describe('a long day with a bad line', () => {
  it.each(WAYS)('keyed by %s: it is never ready while the radio is keyed, and never keyed long without a right', async (way) => {
    for (let seed = 1; seed <= 6; seed++) {
      const random = createRandom(100 * seed + WAYS.indexOf(way))
      const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!
      const station = new Station(way, true)
      await station.start()
      /** Until when somebody has a right to have it keyed. */
      let rightUntilMs = -Infinity
      let id = 0
      let wrongSinceMs: number | undefined
      for (let step = 0; step < 150; step++) {
        const what = random()
        const acknowledged = station.hub.state(Infinity).alarm?.sequence ?? 0
        if (what < 0.25) {
          void station.hub.key({ action: 'on', id: `${++id}`, acknowledged })
          rightUntilMs = performance.now() + WATCHDOG_MS
        } else if (what < 0.5) {
          void station.hub.key({ action: 'alive', id: `${id}` })
          if (rightUntilMs > performance.now()) rightUntilMs = performance.now() + WATCHDOG_MS
        } else if (what < 0.6) {
          void station.hub.key({ action: 'off' })
          rightUntilMs = Math.min(rightUntilMs, performance.now())
        } else if (what < 0.75) faults.add(pick(Object.keys(LINE_FAULTS) as LineFault[]))
        else if (what < 0.85) faults.clear()
        else if (what < 0.88) station.vanish()
        else there = true
        for (let i = 0; i < 8; i++) {
          await pass(100)
          const { radio, told } = station
          // Ready is said only of a radio that receives, but for as long as orders and answers of before are on their way.
          const wrong = radio.keyed && told.ready
          wrongSinceMs = wrong ? (wrongSinceMs ?? performance.now()) : undefined
          if (wrongSinceMs !== undefined && performance.now() - wrongSinceMs > ON_THEIR_WAY_MS)
            throw new Error(`seed ${seed}, step ${step}: it transmits, and is said to be ready: ${JSON.stringify([...faults])}`)
          if (radio.keyed && performance.now() > rightUntilMs + WITHIN_MS && told.knows)
            throw new Error(`seed ${seed}, step ${step}: keyed without a right, and nobody says so: ${JSON.stringify([...faults])}`)
        }
      }
      faults.clear()
      there = true
      await pass(30_000)
      expect([seed, station.radio.keyed, station.told.knows]).toEqual([seed, false, true])
    }
  })
})
