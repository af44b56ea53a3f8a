import { hearSlot, heardAs, SLOT_MS, type Ft8Decode } from '@/core/ft8'
import { emptyStation } from '@/core/station'
import { ExchangeRunner, type ExchangeHost } from './exchangeRunner'
import { initialFt8State, type Ft8State } from './state'

const decode = (text: string): Ft8Decode => heardAs(text)!

describe('what broke off', () => {
  /** A runner on a clock that is set by hand. */
  const open = () => {
    let nowUtcMs = 0
    let state: Ft8State = initialFt8State
    const host = {
      clock: { nowUtcMs: () => nowUtcMs, timebase: { source: 'none' } },
      state: () => state,
      set: (change: Partial<Ft8State>) => void (state = { ...state, ...change }),
      profile: () => ({ ...emptyStation, call: 'Q5RVR', locator: 'JN97LK' }),
      whyNot: () => undefined,
      begin: (what: string) => ({ what, silences: 0 }),
      source: () => ({ kind: 'practice' }),
      notify: () => undefined,
      unfinishedStore: { load: () => [], save: () => undefined },
    } as unknown as ExchangeHost
    const runner = new ExchangeRunner(host)
    const heard = (slotIndex: number, ...texts: string[]) => {
      nowUtcMs = (slotIndex + 1) * SLOT_MS
      const decodes = texts.map(decode)
      host.set({ stations: hearSlot(state.stations, slotIndex, decodes, 'Q5RVR') })
      runner.heard(slotIndex, decodes, false)
    }
    return { runner, heard, unfinished: () => state.unfinished }
  }

  it.each(['stop', 'silence'] as const)('by %s ended then, and not anew with every slot that is heard', (type) => {
    const { runner, heard, unfinished } = open()
    heard(0, 'CQ Q1ABC JO31')
    runner.answer('Q1ABC', 1500)
    heard(2, 'Q5RVR Q1ABC -05')
    expect(unfinished()).toEqual([])
    runner.send({ type })
    const [kept] = unfinished()
    expect(kept).toMatchObject({ otherCall: 'Q1ABC', endedUtcMs: 3 * SLOT_MS })
    heard(3)
    heard(20, 'CQ Q7XYZ JN45')
    expect(unfinished()).toHaveLength(1)
    expect(unfinished()[0]).toBe(kept)
    // Half an hour after they were last heard nothing is left of it.
    heard(3 + 30 * 4)
    expect(unfinished()).toEqual([])
  })
})
