import { createGaussian, createRandom } from '@/core/dsp'
import {
  burstSeconds,
  encodeKiss,
  KISS_COMMANDS,
  KissDecoder,
  PACKET_MODEMS,
  parameterFrames,
  uiFrame,
  usualKissParameters,
} from '@/core/packet'
import type { BytePort } from '@/core/links'
import { emptyStation } from '@/core/station'
import type { Outcome, Transmission } from '../../station/air'
import type { AudioBlock } from '../../station/audioBlock'
import type { HeardEvent } from '../../station/heardKeeper'
import { initialState, type StationState } from '../../station/state'
import type { ModeHost, Refusal } from '../runner'
import { createPacketReader } from './packetReader'
import { PacketRunner } from './packetRunner'

const noon = Date.UTC(2026, 5, 1, 12)

/** A packet runner on a station of its own, with what the server gets of it. */
async function setUp({ airBaud = 1200, correction = 0 as 0 | 16 | 32 | 64 } = {}) {
  let nowUtcMs = noon
  let draw = 0
  /** What the station's clock was set by. */
  let setBy = 0
  let refusal: Refusal | undefined
  let station: StationState = {
    ...{ ...initialState, mode: 'packet', source: { kind: 'microphone', label: 'Ear', warnings: [], pace: 1 } },
    links: { tnc: { airBaud, modem: true } } as StationState['links'],
  }
  let end: ((outcome: Outcome) => void) | undefined
  const sent: Transmission[] = []
  const heard: HeardEvent[] = []
  const notices: string[] = []
  const lent: { port: BytePort | undefined; stopped: number } = { port: undefined, stopped: 0 }
  const host = {
    clock: { nowUtcMs: () => nowUtcMs + setBy, monotonicMs: () => nowUtcMs - noon },
    station: () => station,
    profile: () => ({ ...emptyStation, call: 'Q5RVR', modes: { ...emptyStation.modes, packet: { correction } } }),
    air: {
      send: (transmission: Transmission) => {
        sent.push(transmission)
        station = { ...station, onAir: { mode: 'packet', text: '', startUtcMs: nowUtcMs, endUtcMs: nowUtcMs, open: false } }
        return new Promise<Outcome>((done) => (end = done))
      },
    },
    heard: { keep: async (events: HeardEvent[]) => void heard.push(...events) },
    whyNot: () => refusal,
    begin: (what: string) => ({ what, silences: 0 }),
    notify: (text: string) => notices.push(text),
  } as unknown as ModeHost
  const reader = createPacketReader()
  const runner = new PacketRunner(host, {
    createModem: () => ({
      restart: async (speed) => reader.restart(speed),
      push: async (samples) => reader.push(samples),
      close: () => undefined,
    }),
    lend: (createPort, onState) => {
      lent.port = createPort()
      onState('Offered.')
      return { stop: () => void lent.stopped++ }
    },
    random: () => draw,
  })
  runner.restart('microphone')
  const frames: Uint8Array[] = []
  const decoder = new KissDecoder()
  const opened = await lent.port!.open({
    onBytes: (bytes) => frames.push(...decoder.push(bytes).flatMap((event) => (event.type === 'frame' ? [event.frame.data] : []))),
    onClosed: () => undefined,
  })
  expect(opened).toEqual({ ok: true })
  const hear = async (samples: Float32Array, rateHz = 12_000) => {
    const step = rateHz / 10
    for (let at = 0; at < samples.length; at += step) {
      const piece = samples.slice(at, at + step)
      const block: AudioBlock =
        rateHz === 12_000
          ? { samples: piece, startUtcMs: nowUtcMs }
          : { samples: new Float32Array(1200), startUtcMs: nowUtcMs, raw: { channels: [piece, piece], rateHz } }
      runner.block(block)
      nowUtcMs += 100
      await new Promise((done) => setTimeout(done, 0))
    }
  }
  const settle = () => new Promise((done) => setTimeout(done, 0))
  return {
    ...{ runner, sent, heard, notices, frames, hear, lent },
    state: () => runner.state.getState(),
    refuse: (why: Refusal | undefined) => (refusal = why),
    draws: (value: number) => (draw = value),
    setClockBy: (ms: number) => (setBy = ms),
    give: (...list: Uint8Array[]) =>
      Promise.all(list.map((data) => lent.port!.write(encodeKiss({ port: 0, command: KISS_COMMANDS.data, data })))),
    order: (bytes: Uint8Array) => lent.port!.write(bytes),
    tick: (afterMs = 40) => {
      nowUtcMs += afterMs
      runner.tick()
    },
    finish: async (outcome: Outcome = { sent: true, complete: true, startUtcMs: nowUtcMs - 500 }) => {
      station = { ...station, onAir: undefined }
      end?.(outcome)
      await settle()
    },
  }
}

const noise = createGaussian(createRandom(9))
/** A burst in a little noise, with a pause before and after it. */
function onAir(frames: readonly Uint8Array[], speed: 'packet1200' | 'packet300' | 'packet9600' = 'packet1200', sampleRateHz = 12_000) {
  const burst = PACKET_MODEMS[speed].modulate(frames, { sampleRateHz, amplitude: 0.2 })
  const out = new Float32Array(burst.length + sampleRateHz)
  out.set(burst, sampleRateHz / 2)
  return out.map((value) => value + 0.01 * noise())
}

const hello = uiFrame('Q7HUT-1', 'BEACON', ['Q8TOP'], 'warden on duty')
const ours = uiFrame('Q5RVR', 'TEST', [], 'hello')

describe('packet by the sound device', () => {
  it('hands the server what it hears, keeps it, and tells how it came', async () => {
    const s = await setUp()
    await s.hear(onAir([hello, hello]))
    expect(s.frames.map((frame) => [...frame])).toEqual([[...hello], [...hello]])
    expect(s.heard[0]).toMatchObject({
      mode: 'packet',
      call: 'Q7HUT-1',
      text: 'Q7HUT-1>BEACON,Q8TOP:warden on duty',
      details: { mended: 0 },
    })
    const [last] = s.state().heard
    expect(last!.levelDb).toBeGreaterThan(-16)
    expect(last!.levelDb).toBeLessThan(-11)
    expect(s.state()).toMatchObject({ carrier: false, counted: { frames: 2 }, inUse: true, lent: 'Offered.' })
    expect(s.state().use.othersShare).toBeGreaterThan(0.2)
  })

  it.each(['packet300', 'packet9600'] as const)('hears %s where the links are set to it', async (speed) => {
    const baud = PACKET_MODEMS[speed].baud
    const s = await setUp({ airBaud: baud })
    const rateHz = PACKET_MODEMS[speed].sampleRateHz
    await s.hear(onAir([hello], speed, rateHz), rateHz)
    expect(s.frames).toHaveLength(1)
    expect(s.state().speed).toBe(speed)
  })

  it('says why 9600 baud cannot be heard in sound at a low rate, and does at 44.1 kHz', async () => {
    const s = await setUp({ airBaud: 9600 })
    await s.hear(new Float32Array(2400))
    expect(s.state().deaf).toMatch(/9600 baud needs sound that is converted at 44.1 or 48 kHz; this comes at 12 kHz/)
    const other = await setUp({ airBaud: 9600 })
    await other.hear(onAir([hello], 'packet9600', 44_100), 44_100)
    expect(other.frames).toHaveLength(1)
  })

  it('sends only what a person let it send, and says that something waits for that', async () => {
    const s = await setUp()
    await s.give(ours)
    s.tick()
    expect(s.sent).toEqual([])
    expect(s.state()).toMatchObject({ allowed: false, waiting: 0, held: expect.stringMatching(/Let this device send/) })
    // What is heard meanwhile does not take it off the screen.
    await s.hear(onAir([hello]))
    expect(s.state().held).toMatch(/Let this device send/)
    s.refuse({ why: 'Check first.', need: 'firstCheck' })
    expect(s.runner.begin()).toMatchObject({ ok: false, need: 'firstCheck' })
    s.refuse(undefined)
    expect(s.runner.begin()).toEqual({ ok: true })
    expect(s.state()).toMatchObject({ allowed: true, held: undefined })
    await s.give(ours, hello)
    s.tick()
    expect(s.sent).toMatchObject([{ mode: 'packet', what: 'Packet, 2 frames', start: 'now' }])
    expect(s.runner.busy()).toBe(true)
    const opened = await s.sent[0]!.open(12_000)
    if (!opened.ok) throw new Error(opened.error)
    const out = new Float32Array(12_000 * 3)
    const count = opened.stream.next(out)
    const { length } = s.sent[0]!
    expect('ms' in length && length.ms / 1000).toBeGreaterThanOrEqual(count / 12_000)
    const receiver = PACKET_MODEMS.packet1200.createReceiver()
    expect(receiver.push(out.map((value) => value + 0.001 * noise())).map(({ bytes }) => [...bytes])).toEqual([[...ours], [...hello]])
    s.tick(900)
    await s.finish()
    expect(s.runner.busy()).toBe(false)
    expect(s.state().use.ownShare).toBeGreaterThan(0)
  })

  it('waits while somebody sends, and draws for its slot as the server has set it', async () => {
    const s = await setUp()
    for (const frame of parameterFrames({ ...usualKissParameters, persistence: 0.5, slotTimeMs: 200, txDelayMs: 150 })) await s.order(frame)
    s.runner.begin()
    const burst = onAir([hello])
    await s.hear(burst.slice(0, 12_000))
    expect(s.state().carrier).toBe(true)
    await s.give(ours)
    s.tick()
    expect(s.sent).toEqual([])
    await s.hear(burst.slice(12_000))
    expect(s.state().carrier).toBe(false)
    s.draws(0.6)
    s.tick()
    s.draws(0)
    s.tick(150)
    expect(s.sent).toEqual([])
    s.tick(60)
    expect(s.sent).toHaveLength(1)
  })

  it('waits no longer when the clock is set back by hours meanwhile', async () => {
    const s = await setUp()
    s.runner.begin()
    await s.give(ours)
    s.draws(0.9)
    s.tick()
    s.setClockBy(-8 * 3_600_000)
    s.draws(0)
    s.tick(200)
    expect(s.sent).toHaveLength(1)
  })

  it('drops what waits at Silence, says how much, and sends nothing until a person lets it again', async () => {
    const s = await setUp()
    s.runner.begin()
    s.draws(0.9)
    await s.give(ours, ours)
    s.tick()
    s.runner.silence()
    expect(s.notices).toEqual(['2 frames of packet did not go out any more.'])
    s.draws(0)
    await s.give(ours)
    for (let k = 0; k < 10; k++) s.tick()
    expect(s.sent).toEqual([])
    expect(s.state()).toMatchObject({ allowed: false, waiting: 0 })
  })

  it('tells why the gate refused, and drops what would come too late', async () => {
    const s = await setUp()
    s.runner.begin()
    await s.give(ours, ours)
    s.tick()
    await s.finish({ sent: false, why: 'The radio needs a rest.', need: 'wait' })
    expect(s.state()).toMatchObject({ held: 'The radio needs a rest.', waiting: 0 })
  })

  it('hears itself never, and adds check bytes where the operator wants them', async () => {
    const s = await setUp({ correction: 32 })
    s.runner.begin()
    await s.give(ours)
    s.tick()
    await s.hear(onAir([hello]))
    expect(s.frames).toEqual([])
    const { length } = s.sent[0]!
    const secondsWith = (options: object) => burstSeconds('packet1200', [ours], { txDelayMs: 300, txTailMs: 20, ...options })
    expect('ms' in length && length.ms).toBeCloseTo(1000 * secondsWith({ correction: 32 }), -2)
    expect(secondsWith({ correction: 32 })).toBeGreaterThan(secondsWith({}) + 0.2)
  })

  it('takes garbage, frames without end and floods for what they are', async () => {
    const s = await setUp()
    s.runner.begin()
    const random = createRandom(4)
    for (let k = 0; k < 50; k++) await s.order(Uint8Array.from({ length: 300 }, () => Math.floor(256 * random())))
    await s.give(...Array.from({ length: 300 }, () => ours))
    expect(s.state().waiting).toBeLessThanOrEqual(100)
    s.tick()
    expect(s.sent.length).toBeLessThanOrEqual(1)
  })

  it('is lent while something is listened to, and takes nothing afterwards', async () => {
    const s = await setUp()
    s.runner.restart(undefined)
    expect(s.lent.stopped).toBe(1)
    expect(await s.lent.port!.write(Uint8Array.of(0xc0))).toMatchObject({ ok: false })
    expect(await s.lent.port!.open({ onBytes: () => undefined, onClosed: () => undefined })).toMatchObject({ ok: false, fault: 'missing' })
    expect(s.state()).toMatchObject({ inUse: false, heard: [] })
  })
})
