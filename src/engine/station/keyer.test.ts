import { jest } from '@jest/globals'
import { encodeFt8 } from '@/core/ft8'
import type { KeyRequest } from '@/core/links'
import { transmissionOf } from '../modes/ft8/ft8Audio'
import { Air } from './air'
import type { AudioOutput } from './audioOutput'
import { LinkKeyer, LinkWatch, type SendKey } from './keyer'
import { StationClock } from './stationClock'

const noon = Date.UTC(2026, 5, 1, 12)
const slotIndex = noon / 15_000

beforeEach(() => jest.useFakeTimers())
afterEach(() => jest.useRealTimers())

/** Waits for answers without letting time pass. */
const settle = () => jest.advanceTimersByTimeAsync(0)

function keyer(answer: (request: KeyRequest) => { ok: true } | { ok: false; error: string } = () => ({ ok: true })) {
  const sent: KeyRequest[] = []
  const lost: string[] = []
  const send: SendKey = async (request) => {
    sent.push(request)
    return answer(request)
  }
  const links = { keying: { leadMs: 100, tailMs: 40 } } as never
  return { sent, lost, it: new LinkKeyer({ links: () => links, send, acknowledged: () => 7, onLost: (why) => lost.push(why) }) }
}

describe('a keyer over a link', () => {
  it('keys, says that it is alive, and unkeys', async () => {
    const { sent, it: key } = keyer()
    expect(await key.key('a', 12_640)).toEqual({ ok: true })
    await jest.advanceTimersByTimeAsync(1600)
    key.unkey()
    await jest.advanceTimersByTimeAsync(3000)
    expect(sent.map((s) => s.action)).toEqual(['on', 'alive', 'alive', 'alive', 'off'])
    expect(sent[0]).toEqual({ action: 'on', id: 'a', acknowledged: 7, longestMs: 12_780 })
  })

  it('tells when it was unkeyed by itself, and stops saying that it is alive when it could not key', async () => {
    const gone = keyer((request) => (request.action === 'alive' ? { ok: false, error: 'SWR 4.0' } : { ok: true }))
    await gone.it.key('a', 12_640)
    await jest.advanceTimersByTimeAsync(600)
    expect(gone.lost).toEqual(['SWR 4.0'])
    const never = keyer(() => ({ ok: false, error: 'No port.' }))
    expect(await never.it.key('a', 12_640)).toEqual({ ok: false, error: 'No port.' })
    await jest.advanceTimersByTimeAsync(3000)
    expect(never.sent.map((s) => s.action)).toEqual(['on', 'off'])
  })

  it('that was unkeyed while the answer was on its way unkeys once more', async () => {
    const { sent, it: key } = keyer()
    const keying = key.key('a', 12_640)
    key.unkey()
    await keying
    expect(sent.map((s) => s.action)).toEqual(['on', 'off', 'off'])
  })
})

describe('a watch over a radio that keys itself', () => {
  it('tells the server of it, gives signs of life, and lets nothing wait for an answer', async () => {
    const sent: KeyRequest[] = []
    const watch = new LinkWatch({
      acknowledged: () => 4,
      send: async (request) => {
        sent.push(request)
        return { ok: false, error: 'The server does not answer.' }
      },
    })
    expect(watch).toMatchObject({ leadMs: 0, tailMs: 0 })
    expect(await watch.key('a', 12_640)).toEqual({ ok: true })
    await jest.advanceTimersByTimeAsync(1100)
    watch.unkey()
    await jest.advanceTimersByTimeAsync(2000)
    expect(sent).toEqual([
      { action: 'on', id: 'a', acknowledged: 4, longestMs: 12_640 },
      { action: 'alive', id: 'a' },
      { action: 'alive', id: 'a' },
      { action: 'off' },
    ])
  })
})

describe('the transmitter with a keyer', () => {
  function setUp(answer?: Parameters<typeof keyer>[0]) {
    const clock = new StationClock(
      () => performance.now(),
      () => noon - 2000 + performance.now(),
    )
    jest.setSystemTime(0)
    const notes: string[] = []
    let end: ((complete: boolean) => void) | undefined
    const output: AudioOutput = {
      sampleRateHz: 12_000,
      play: (_, onEnded) => {
        notes.push('audio')
        end = onEnded
      },
      stop: () => {
        notes.push('audio off')
        end?.(false)
        end = undefined
      },
    }
    const keys = keyer(answer)
    const air = new Air({
      clock,
      monotonicMs: () => performance.now(),
      output: () => output,
      authority: () => ({ ownCall: 'Q5RVR', licenceConfirmed: true }),
      keyer: () => keys.it,
      newId: () => 'id',
      onChange: () => undefined,
    })
    air.event({ type: 'checkPassed', nowMs: performance.now() })
    const message = { slotIndex, text: 'CQ Q5RVR JN97', audioOffsetHz: 1500, amplitude: 0.5, voxLeadInMs: 0 }
    const transmit = () =>
      air.send(
        transmissionOf(message, async (text, options) => encodeFt8(text, options)),
        air.begin('a test'),
      )
    return { air, transmit, notes, keys, finish: () => end?.(true) }
  }
  const actions = (sent: KeyRequest[]) => sent.map((s) => s.action).filter((a) => a !== 'alive')

  it('keys just before the audio begins and unkeys after the tail', async () => {
    const { transmit, keys, finish } = setUp()
    const sent = transmit()
    await settle()
    // The audio begins half a second into the slot, 2.5 s from now.
    await jest.advanceTimersByTimeAsync(2380)
    expect(actions(keys.sent)).toEqual([])
    await jest.advanceTimersByTimeAsync(40)
    expect(actions(keys.sent)).toEqual(['on'])
    await jest.advanceTimersByTimeAsync(12_000)
    finish()
    expect(await sent).toMatchObject({ sent: true, complete: true })
    expect(actions(keys.sent)).toEqual(['on'])
    await jest.advanceTimersByTimeAsync(60)
    expect(actions(keys.sent)).toEqual(['on', 'off'])
  })

  it('unkeys at once on Silence, before and while it is keyed, and when nothing seems keyed', async () => {
    const early = setUp()
    const waiting = early.transmit()
    await settle()
    early.air.silence('Quiet.')
    expect(await waiting).toMatchObject({ sent: true, complete: false })
    await jest.advanceTimersByTimeAsync(5000)
    expect(actions(early.keys.sent)).not.toContain('on')
    expect(actions(early.keys.sent)).toContain('off')

    const late = setUp()
    const sending = late.transmit()
    await settle()
    await jest.advanceTimersByTimeAsync(4000)
    expect(actions(late.keys.sent)).toEqual(['on'])
    late.air.silence('Quiet.')
    expect(actions(late.keys.sent)[1]).toBe('off')
    expect(await sending).toMatchObject({ sent: true, complete: false })
    const before = late.keys.sent.length
    late.air.silence('Quiet again.')
    expect(new Set(actions(late.keys.sent.slice(before)))).toEqual(new Set(['off']))
  })

  it('ends a transmission whose radio cannot be keyed', async () => {
    const { air, transmit, keys, notes } = setUp((r) =>
      r.action === 'on' ? { ok: false, error: 'The radio does not answer.' } : { ok: true },
    )
    const sent = transmit()
    await settle()
    await jest.advanceTimersByTimeAsync(3000)
    expect(await sent).toMatchObject({ sent: true, complete: false })
    expect(notes.at(-1)).toBe('audio off')
    expect(actions(keys.sent).at(-1)).toBe('off')
    expect(air.state.silenced?.why).toBe('The radio does not answer.')
  })
})
