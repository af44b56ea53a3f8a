import { createRandom } from '@/core/dsp'
import { afterCq, beginCq, type CqCalls } from './cqCalls'

const begun = beginCq('cq de Q5RVR k', { tries: 3, pauseMs: 10_000 })

describe('a CQ that is called several times', () => {
  it('is called again after each pause, and ends after the last one', () => {
    let cq = afterCq(begun, { type: 'sent', nowUtcMs: 0 }).cq!
    expect(afterCq(cq, { type: 'tick', nowUtcMs: 9999 })).toEqual({ cq, call: false })
    const second = afterCq(cq, { type: 'tick', nowUtcMs: 10_000 })
    expect(second).toEqual({ cq: { ...begun, called: 2 }, call: true })
    cq = afterCq(second.cq!, { type: 'sent', nowUtcMs: 20_000 }).cq!
    cq = afterCq(afterCq(cq, { type: 'tick', nowUtcMs: 30_000 }).cq!, { type: 'sent', nowUtcMs: 40_000 }).cq!
    expect(afterCq(cq, { type: 'tick', nowUtcMs: 50_000 })).toEqual({ call: false, ended: 'enough' })
  })
  it('ends when somebody is heard, but not by what is heard while it goes out', () => {
    expect(afterCq(begun, { type: 'heard' })).toEqual({ cq: begun, call: false })
    const waiting = afterCq(begun, { type: 'sent', nowUtcMs: 0 }).cq!
    expect(afterCq(waiting, { type: 'heard' })).toEqual({ call: false, ended: 'answered' })
  })
  it('is never called more often than was asked for, nor twice without a pause, whatever happens', () => {
    const random = createRandom(11)
    for (let trial = 0; trial < 200; trial++) {
      let cq: CqCalls | undefined = beginCq('cq', { tries: Math.ceil(random() * 5), pauseMs: 5000 })
      let [now, calls, sentUtcMs, sending] = [0, 1, -Infinity, true]
      while (cq) {
        now += Math.floor(random() * 3000)
        const event =
          sending && random() < 0.5
            ? ({ type: 'sent', nowUtcMs: now } as const)
            : random() < 0.02
              ? ({ type: 'heard' } as const)
              : ({ type: 'tick', nowUtcMs: now } as const)
        const after: ReturnType<typeof afterCq> = afterCq(cq, event)
        if (event.type === 'sent') [sending, sentUtcMs] = [false, now]
        if (after.call) {
          expect(sending).toBe(false)
          expect(now - sentUtcMs).toBeGreaterThanOrEqual(5000)
          ;[sending, calls] = [true, calls + 1]
          expect(calls).toBeLessThanOrEqual(cq.of)
        }
        ;({ cq } = after)
      }
    }
  })
})
