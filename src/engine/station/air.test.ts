import { encodeFt8, type ModulateOptions } from '@/core/ft8'
import { transmissionOf } from '../modes/ft8/ft8Audio'
import { Air, type OnAir } from './air'
import { drain, type AudioOutput, type PlayRequest } from './audioOutput'
import { StationClock } from './stationClock'

const noon = Date.UTC(2026, 5, 1, 12)
const slotIndex = noon / 15_000

function setUp(startIntoSlotMs = -200) {
  let mono = 0
  const played: PlayRequest[] = []
  let end: ((complete: boolean) => void) | undefined
  let stops = 0
  let onAir: OnAir | undefined
  const output: AudioOutput = {
    sampleRateHz: 12_000,
    play: (request, onEnded) => {
      played.push(request)
      end = onEnded
    },
    stop: () => {
      stops++
      end?.(false)
      end = undefined
    },
  }
  let release: (() => void) | undefined
  let slowEncoder = false
  const who = { ownCall: 'Q5RVR', licenceConfirmed: true }
  const air = new Air({
    clock: new StationClock(
      () => mono,
      () => noon + startIntoSlotMs,
    ),
    monotonicMs: () => mono,
    output: () => output,
    authority: () => who,
    newId: () => 'id',
    onChange: (_, now) => (onAir = now),
  })
  const encode = async (text: string, options: ModulateOptions) => {
    if (slowEncoder) await new Promise<void>((done) => (release = done))
    return encodeFt8(text, options)
  }
  const transmit = (message: Partial<typeof request> = {}, grant = air.begin('a test')) =>
    air.send(transmissionOf({ ...request, ...message }, encode), grant)
  return {
    air,
    who,
    transmit,
    played,
    advance: (ms: number) => (mono += ms),
    finish: () => end?.(true),
    stops: () => stops,
    onAir: () => onAir,
    slow: () => (slowEncoder = true),
    release: () => release?.(),
  }
}

const request = {
  slotIndex,
  text: 'CQ Q5RVR JN97',
  audioOffsetHz: 1500,
  amplitude: 0.5,
  voxLeadInMs: 0,
}
/** Lets promises that are ready go on. */
const settle = () => new Promise((done) => setTimeout(done, 0))

describe('the air', () => {
  it('starts half a second into the slot and ends with the message', async () => {
    const s = setUp()
    s.air.event({ type: 'checkPassed', nowMs: 0 })
    const outcome = s.transmit()
    await settle()
    expect(s.played[0]).toMatchObject({ startUtcMs: noon + 500, sampleRateHz: 12_000 })
    expect(s.played[0]!.length).toBe(12.64 * 12_000)
    expect(drain(s.played[0]!.stream, 200_000).length).toBe(12.64 * 12_000)
    expect(s.onAir()).toMatchObject({ text: 'CQ Q5RVR JN97', endUtcMs: noon + 13_140 })
    expect(s.air.state.keyed).not.toBeNull()
    s.advance(13_340)
    s.finish()
    expect(await outcome).toMatchObject({ sent: true, complete: true })
    expect(s.air.state.keyed).toBeNull()
    expect(s.onAir()).toBeUndefined()
  })

  it('puts a tone before the message so that a VOX trips, and still starts on time', async () => {
    const s = setUp(-500)
    s.air.event({ type: 'checkPassed', nowMs: 0 })
    void s.transmit({ voxLeadInMs: 300 })
    await settle()
    expect(s.played[0]!.startUtcMs).toBe(noon + 200)
    const lead = drain(s.played[0]!.stream, 3600)
    expect(Math.max(...lead)).toBeGreaterThan(0.45)
  })

  it('never starts what would be too late, nor into the next slot', async () => {
    const s = setUp(5000)
    s.air.event({ type: 'checkPassed', nowMs: 0 })
    expect(await s.transmit()).toMatchObject({ sent: false, need: 'late' })
    expect(s.played).toEqual([])
  })

  it('keeps the nominal start when it is late, for the output to cut', async () => {
    const s = setUp(2000)
    s.air.event({ type: 'checkPassed', nowMs: 0 })
    void s.transmit()
    await settle()
    expect(s.played[0]!.startUtcMs).toBe(noon + 500)
    expect(s.onAir()).toMatchObject({ startUtcMs: noon + 2000, endUtcMs: noon + 13_140 })
  })

  it('sends nothing that the gate refuses, or that is no message', async () => {
    const s = setUp()
    expect(await s.transmit()).toMatchObject({ sent: false, need: 'firstCheck' })
    s.air.event({ type: 'checkPassed', nowMs: 0 })
    s.who.licenceConfirmed = false
    expect(await s.transmit()).toMatchObject({ sent: false, need: 'licence' })
    s.who.licenceConfirmed = true
    expect(await s.transmit({ text: 'THIS IS NO MESSAGE AT ALL' })).toMatchObject({ sent: false, need: 'message' })
    expect(s.played).toEqual([])
  })

  it('is silent at once, and stays so', async () => {
    const s = setUp()
    s.air.event({ type: 'checkPassed', nowMs: 0 })
    const grant = s.air.begin('a test')
    const outcome = s.transmit({}, grant)
    await settle()
    s.advance(3000)
    s.air.silence('Silenced.')
    expect(await outcome).toMatchObject({ sent: true, complete: false })
    expect(s.stops()).toBeGreaterThan(0)
    expect(s.onAir()).toBeUndefined()
    // What was begun before it is over, also once something else has been begun.
    expect(await s.transmit({}, grant)).toMatchObject({ sent: false, need: 'start' })
    s.air.begin('something else')
    expect(await s.transmit({}, grant)).toMatchObject({ sent: false, need: 'start' })
    expect(s.played).toHaveLength(1)
  })

  it('does not start audio that was still being made when Silence fell', async () => {
    const s = setUp()
    s.slow()
    s.air.event({ type: 'checkPassed', nowMs: 0 })
    const outcome = s.transmit()
    await settle()
    s.air.silence('Silenced.')
    s.air.event({ type: 'started', nowMs: 1 })
    s.release()
    expect(await outcome).toMatchObject({ sent: false, why: 'Silenced.' })
    expect(s.played).toEqual([])
  })

  it('drops what goes on too long', async () => {
    const s = setUp()
    s.air.event({ type: 'checkPassed', nowMs: 0 })
    const outcome = s.transmit()
    await settle()
    s.advance(14_200)
    s.air.event({ type: 'tick', nowMs: 14_200 })
    expect(await outcome).toMatchObject({ sent: true, complete: false })
    expect(s.stops()).toBeGreaterThan(0)
  })

  describe('with a transmission of open length', () => {
    const over = (atMostMs: number) => ({
      ...{ mode: 'psk31' as const, what: 'an over', start: 'now' as const, length: { atMostMs } },
      open: () => ({ ok: true as const, stream: { next: (out: Float32Array) => out.length } }),
    })

    it('begins at once, says when it must have ended, and counts while it lasts', async () => {
      const s = setUp(0)
      s.air.event({ type: 'checkPassed', nowMs: 0 })
      const outcome = s.air.send(over(120_000), s.air.begin('an over'))
      await settle()
      expect(s.played[0]).toMatchObject({ startUtcMs: noon + 200, what: 'an over' })
      expect(s.played[0]!.length).toBeUndefined()
      expect(s.onAir()).toMatchObject({ mode: 'psk31', open: true, startUtcMs: noon + 200, endUtcMs: noon + 120_200 })
      s.advance(60_000)
      s.finish()
      expect(await outcome).toMatchObject({ sent: true, complete: true, startUtcMs: noon + 200 })
      // One minute is gone of the three that five minutes may hold.
      const second = s.air.send(over(120_000), s.air.begin('an over'))
      await settle()
      s.advance(115_000)
      s.finish()
      await second
      const third = s.air.send(over(120_000), s.air.begin('an over'))
      expect(await third).toMatchObject({ sent: false, need: 'wait', why: expect.stringMatching(/needs a rest/) })
    })

    it('is ended by the watchdog of its mode', async () => {
      const s = setUp(0)
      s.air.event({ type: 'checkPassed', nowMs: 0 })
      expect(await s.air.send(over(120_001), s.air.begin('an over'))).toMatchObject({ sent: false, need: 'shorter' })
      const grant = s.air.begin('an over')
      const outcome = s.air.send(over(120_000), grant)
      await settle()
      s.advance(120_600)
      s.air.event({ type: 'tick', nowMs: 120_600 })
      expect(s.air.state.keyed).not.toBeNull()
      s.advance(200)
      s.air.event({ type: 'tick', nowMs: 120_800 })
      expect(await outcome).toMatchObject({ sent: true, complete: false })
      expect(s.air.state.silenced?.why).toMatch(/watchdog/)
      // What stood on that grant is over, whatever a person begins next.
      s.air.begin('something else')
      expect(await s.air.send(over(10_000), grant)).toMatchObject({ sent: false, need: 'start' })
    })
  })
})
