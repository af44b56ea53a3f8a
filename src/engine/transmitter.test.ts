import { encodeFt8, type ModulateOptions } from '@/core/ft8'
import type { AudioOutput, PlayRequest } from './audioOutput'
import { StationClock } from './stationClock'
import { Transmitter, type OnAir } from './transmitter'

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
  const transmitter = new Transmitter({
    clock: new StationClock(
      () => mono,
      () => noon + startIntoSlotMs,
    ),
    monotonicMs: () => mono,
    encode: async (text: string, options: ModulateOptions) => {
      if (slowEncoder) await new Promise<void>((done) => (release = done))
      return encodeFt8(text, options)
    },
    output: () => output,
    newId: () => 'id',
    onChange: (_, now) => (onAir = now),
  })
  return {
    transmitter,
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
  ownCall: 'Q5RVR',
  licenceConfirmed: true,
}
/** Lets promises that are ready go on. */
const settle = () => new Promise((done) => setTimeout(done, 0))

describe('Transmitter', () => {
  it('starts half a second into the slot and ends with the message', async () => {
    const s = setUp()
    s.transmitter.send({ type: 'checkPassed', nowMs: 0 })
    const outcome = s.transmitter.transmit(request)
    await settle()
    expect(s.played[0]).toMatchObject({ startUtcMs: noon + 500, sampleRateHz: 12_000 })
    expect(s.played[0]!.samples.length).toBe(12.64 * 12_000)
    expect(s.onAir()).toMatchObject({ text: 'CQ Q5RVR JN97', endUtcMs: noon + 13_140 })
    expect(s.transmitter.state.keyed).not.toBeNull()
    s.advance(13_340)
    s.finish()
    expect(await outcome).toEqual({ sent: true, complete: true })
    expect(s.transmitter.state.keyed).toBeNull()
    expect(s.onAir()).toBeUndefined()
  })

  it('puts a tone before the message so that a VOX trips, and still starts on time', async () => {
    const s = setUp(-500)
    s.transmitter.send({ type: 'checkPassed', nowMs: 0 })
    void s.transmitter.transmit({ ...request, voxLeadInMs: 300 })
    await settle()
    expect(s.played[0]!.startUtcMs).toBe(noon + 200)
    const lead = s.played[0]!.samples.subarray(0, 3600)
    expect(Math.max(...lead)).toBeGreaterThan(0.45)
  })

  it('never starts what would be too late, nor into the next slot', async () => {
    const s = setUp(5000)
    s.transmitter.send({ type: 'checkPassed', nowMs: 0 })
    expect(await s.transmitter.transmit(request)).toMatchObject({ sent: false, need: 'late' })
    expect(s.played).toEqual([])
  })

  it('keeps the nominal start when it is late, for the output to cut', async () => {
    const s = setUp(2000)
    s.transmitter.send({ type: 'checkPassed', nowMs: 0 })
    void s.transmitter.transmit(request)
    await settle()
    expect(s.played[0]!.startUtcMs).toBe(noon + 500)
    expect(s.onAir()).toMatchObject({ startUtcMs: noon + 2000, endUtcMs: noon + 13_140 })
  })

  it('sends nothing that the gate refuses, or that is no message', async () => {
    const s = setUp()
    expect(await s.transmitter.transmit(request)).toMatchObject({ sent: false, need: 'firstCheck' })
    s.transmitter.send({ type: 'checkPassed', nowMs: 0 })
    expect(await s.transmitter.transmit({ ...request, licenceConfirmed: false })).toMatchObject({ sent: false, need: 'licence' })
    expect(await s.transmitter.transmit({ ...request, text: 'THIS IS NO MESSAGE AT ALL' })).toMatchObject({ sent: false, need: 'message' })
    expect(s.played).toEqual([])
  })

  it('is silent at once, and stays so', async () => {
    const s = setUp()
    s.transmitter.send({ type: 'checkPassed', nowMs: 0 })
    const outcome = s.transmitter.transmit(request)
    await settle()
    s.advance(3000)
    s.transmitter.silence('Silenced.')
    expect(await outcome).toEqual({ sent: true, complete: false })
    expect(s.stops()).toBeGreaterThan(0)
    expect(s.onAir()).toBeUndefined()
    expect(await s.transmitter.transmit(request)).toMatchObject({ sent: false, need: 'start' })
  })

  it('does not start audio that was still being made when Silence fell', async () => {
    const s = setUp()
    s.slow()
    s.transmitter.send({ type: 'checkPassed', nowMs: 0 })
    const outcome = s.transmitter.transmit(request)
    await settle()
    s.transmitter.silence('Silenced.')
    s.transmitter.send({ type: 'started', nowMs: 1 })
    s.release()
    expect(await outcome).toMatchObject({ sent: false, why: 'Silenced.' })
    expect(s.played).toEqual([])
  })

  it('drops what goes on too long', async () => {
    const s = setUp()
    s.transmitter.send({ type: 'checkPassed', nowMs: 0 })
    const outcome = s.transmitter.transmit(request)
    await settle()
    s.advance(14_200)
    s.transmitter.send({ type: 'tick', nowMs: 14_200 })
    expect(await outcome).toEqual({ sent: true, complete: false })
    expect(s.stops()).toBeGreaterThan(0)
  })
})
