import {
  createGate,
  keyedWithin,
  reduceGate,
  UNATTENDED_MS,
  whyRefused,
  type GateEffect,
  type GateEvent,
  type GateState,
} from './transmitGate'

const transmission = (startMs: number, lengthMs = 12_640, id = 'a') => ({ id, what: 'CQ Q5RVR JN97', startMs, endMs: startMs + lengthMs })
const request = (nowMs: number, over: Partial<Extract<GateEvent, { type: 'request' }>> = {}) =>
  ({ type: 'request', nowMs, transmission: transmission(nowMs), ownCall: 'Q5RVR', licenceConfirmed: true, ...over }) as const

function run(events: readonly GateEvent[], from: GateState = createGate(0)): [GateState, GateEffect[]] {
  let state = from
  let last: GateEffect[] = []
  for (const event of events) [state, last] = reduceGate(state, event)
  return [state, last]
}

const checked: GateEvent = { type: 'checkPassed', nowMs: 0 }

describe('the transmit gate', () => {
  it('keys when everything is in order, and lets go at the end', () => {
    const [keyed, effects] = run([checked, request(1000)])
    expect(effects).toEqual([{ type: 'key', transmission: transmission(1000) }])
    const [idle] = run([{ type: 'ended', nowMs: 13_640, id: 'a' }], keyed)
    expect(idle.keyed).toBeNull()
    expect(keyedWithin(idle, 20_000)).toBe(12_640)
  })

  it.each<[string, readonly GateEvent[], GateEvent, string]>([
    ['no call', [checked], request(1, { ownCall: '' }), 'ownCall'],
    ['no licence', [checked], request(1, { licenceConfirmed: false }), 'licence'],
    ['no first check', [], request(1), 'firstCheck'],
    ['after Silence', [checked, { type: 'silence', nowMs: 5, why: 'Silenced.' }], request(6), 'start'],
    ['nobody there', [checked], request(UNATTENDED_MS + 1), 'start'],
    ['already keyed', [checked, request(1)], request(2), 'wait'],
    ['too long', [checked], request(1, { transmission: transmission(1, 16_000) }), 'shorter'],
    ['of no length', [checked], request(1, { transmission: transmission(1, 0) }), 'shorter'],
  ])('refuses with %s', (_, before, event, need) => {
    const [state] = run(before)
    const [after, effects] = reduceGate(state, event)
    expect(effects).toMatchObject([{ type: 'refuse', need }])
    expect(after).toEqual(state)
  })

  it('asks for a look at the SWR once on each band where no meter is read', () => {
    const on = (band: string) => request(1000, { band })
    const [seen] = run([{ type: 'checkPassed', nowMs: 0, band: '20m' }])
    expect(reduceGate(seen, on('20m'))[1]).toMatchObject([{ type: 'key' }])
    expect(reduceGate(seen, on('40m'))[1]).toMatchObject([{ type: 'refuse', need: 'firstCheck', why: expect.stringMatching(/on 40m/) }])
    const [both] = run([{ type: 'checkPassed', nowMs: 5, band: '40m' }], seen)
    expect(both.swrSeen).toEqual(['20m', '40m'])
    expect(reduceGate(both, on('40m'))[1]).toMatchObject([{ type: 'key' }])
    // A check that was made where a meter is read says nothing of a band.
    expect(reduceGate(run([checked])[0], on('20m'))[1]).toMatchObject([{ type: 'refuse' }])
    expect(reduceGate(run([checked])[0], request(1000))[1]).toMatchObject([{ type: 'key' }])
  })

  it('opens again after Silence only when a person starts something', () => {
    const silence: GateEvent = { type: 'silence', nowMs: 5, why: 'Silenced.' }
    expect(run([checked, silence, { type: 'personActed', nowMs: 6 }, request(7)])[1][0]!.type).toBe('refuse')
    expect(run([checked, silence, { type: 'started', nowMs: 6 }, request(7)])[1][0]!.type).toBe('key')
  })

  it('unkeys on Silence whatever it believes', () => {
    expect(run([{ type: 'silence', nowMs: 5, why: 'Silenced.' }])[1]).toEqual([{ type: 'unkey', id: '', why: 'Silenced.' }])
    const [state, effects] = run([checked, request(1), { type: 'silence', nowMs: 50, why: 'Silenced.' }])
    expect(effects).toMatchObject([{ type: 'unkey', id: 'a' }])
    expect(state.keyed).toBeNull()
  })

  it('has a watchdog for what does not end', () => {
    const [before] = run([checked, request(1000), { type: 'tick', nowMs: 13_700 }])
    expect(before.keyed).not.toBeNull()
    const [after, effects] = run([{ type: 'tick', nowMs: 14_200 }], before)
    expect(effects).toMatchObject([{ type: 'unkey', id: 'a' }])
    expect(after.silenced?.why).toMatch(/watchdog/)
  })

  it('lets FT8 run half of the time for ever, and stops what keys more', () => {
    let state = run([checked])[0]
    for (let slot = 0; slot < 40; slot += 2) {
      const now = slot * 15_000
      ;[state] = reduceGate(state, { type: 'personActed', nowMs: now })
      const [keyed, effects] = reduceGate(state, request(now))
      expect(effects[0]!.type).toBe('key')
      ;[state] = reduceGate(keyed, { type: 'ended', nowMs: now + 12_640, id: 'a' })
    }
    let refused = 0
    for (let slot = 40; slot < 60; slot++) {
      const now = slot * 15_000
      ;[state] = reduceGate(state, { type: 'personActed', nowMs: now })
      const [next, effects] = reduceGate(state, request(now))
      if (effects[0]!.type === 'refuse') refused++
      ;[state] = reduceGate(next, { type: 'ended', nowMs: now + 12_640, id: 'a' })
    }
    expect(refused).toBeGreaterThan(3)
  })

  it('ignores the end of something else', () => {
    const [state] = run([checked, request(1), { type: 'ended', nowMs: 2, id: 'other' }])
    expect(state.keyed?.id).toBe('a')
    expect(whyRefused(state, request(3))?.need).toBe('wait')
  })
})
