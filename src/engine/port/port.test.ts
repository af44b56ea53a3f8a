import { SOUND_MODE_IDS } from '@/core/modes'
import { initialFt8State } from '../modes/ft8/state'
import { initialPsk31State } from '../modes/psk31/state'
import { initialState } from '../station/state'
import type { RunningStation } from '../station/station'
import { commandSchema } from './commands'
import { LocalStation } from './localStation'
import { initialSlices } from './stationPort'

/** A station that notes what it is told. */
function setUp(mode: 'ft8' | 'psk31' = 'ft8') {
  const told: unknown[][] = []
  const spy = (name: string, answer?: unknown): unknown =>
    new Proxy(() => undefined, {
      apply: (_, __, args: unknown[]) => {
        told.push([name, ...args])
        return answer
      },
      get: (_, key) => (key === 'then' ? undefined : spy(`${name}.${String(key)}`, answer)),
    })
  const station = {
    ...{ store: { getState: () => ({ ...initialState, mode }), setState: () => undefined }, time: spy('time'), levels: spy('levels') },
    ...{ modes: { ft8: spy('ft8', { ok: true }), psk31: spy('psk31', { ok: true }) } },
    ...{ silence: spy('silence'), playRecording: spy('playRecording'), bringToFront: spy('bringToFront', { ok: false, why: 'Busy.' }) },
    sendTest: spy('sendTest', { sent: false, why: 'No.', need: 'wait' }),
  } as unknown as RunningStation
  return { port: new LocalStation(station), told }
}

describe('what a screen may ask of the station', () => {
  it('is checked, and refused with the place of what is wrong', async () => {
    const { port, told } = setUp()
    const odd = { type: 'ft8.callCq', txParity: 'sometimes', audioOffsetHz: 1500 } as never
    expect(await port.do(odd)).toEqual({ ok: false, why: expect.stringMatching(/ft8\.callCq txParity/) })
    expect(await port.do({ type: 'ft8.callCq', txParity: 'odd', audioOffsetHz: Number.NaN })).toMatchObject({ ok: false })
    expect(await port.do({ type: 'launch' } as never)).toMatchObject({ ok: false })
    expect(told).toEqual([])
  })

  it('is silence, whatever is wrong with the order', async () => {
    const { port, told } = setUp()
    expect(await port.do({ type: 'silence', why: 'x'.repeat(5000) })).toEqual({ ok: true })
    expect(await port.do({ type: 'silence', why: 7 } as never)).toEqual({ ok: true })
    expect(told).toEqual([
      ['silence', 'x'.repeat(200)],
      ['silence', undefined],
    ])
  })

  it('reaches the part that does it, and its answer comes back', async () => {
    const { port, told } = setUp()
    expect(await port.do({ type: 'ft8.callCq', txParity: 'odd', audioOffsetHz: 1500 })).toEqual({ ok: true })
    expect(await port.do({ type: 'silence' })).toEqual({ ok: true })
    expect(await port.do({ type: 'front', mode: 'psk31' })).toEqual({ ok: false, why: 'Busy.' })
    expect(await port.do({ type: 'test', kind: 'tone', amplitude: 0.5, durationS: 2 })).toEqual({ ok: false, why: 'No.', need: 'wait' })
    expect(told).toEqual([
      ['ft8.callCq', 'odd', 1500],
      ['silence', undefined],
      ['bringToFront', 'psk31'],
      ['sendTest', 'tone', { amplitude: 0.5, durationS: 2 }],
    ])
  })

  it.each([
    [1, 0],
    [8, 1400],
    // Days slow, as the exercise has it.
    [30, -1_000_007_300],
  ])('takes practice at %i times the pace with a clock that is %i ms off', (pace, clockErrorMs) => {
    const practise = { type: 'practise', seed: 1, stations: 24, pace, audible: false, clockErrorMs, faults: [] }
    expect(commandSchema.safeParse(practise).success).toBe(true)
  })

  it('of a mode that is not in front is not done', async () => {
    const { port, told } = setUp('psk31')
    const refused = await port.do({ type: 'ft8.callCq', txParity: 'odd', audioOffsetHz: 1500 })
    expect(refused).toEqual({ ok: false, why: 'FT8 is not in front. Bring it there first.' })
    expect(await port.do({ type: 'psk31.leave' })).toEqual({ ok: true })
    expect(told).toEqual([['psk31.leaveFocus']])
  })

  it('is in words that could go over a wire, but for what only this page has', () => {
    const live = new Set(['play'])
    for (const option of commandSchema.options) {
      const [type] = option.shape.type.values
      expect(type).toMatch(/^[a-zA-Z]+(\.[a-zA-Z]+)?$|^(ft8|psk31)\.[a-zA-Z]+$/)
      if (live.has(type!)) expect('recording' in option.shape).toBe(true)
    }
  })

  it('shows state that is plain data, a slice for each mode', () => {
    expect(Object.keys(initialSlices).sort()).toEqual(['station', ...SOUND_MODE_IDS].sort())
    for (const slice of [initialState, initialFt8State, initialPsk31State])
      expect(JSON.parse(JSON.stringify(slice))).toEqual(dropUndefined(slice))
  })
})

const dropUndefined = (value: object) => Object.fromEntries(Object.entries(value).filter(([, one]) => one !== undefined))
