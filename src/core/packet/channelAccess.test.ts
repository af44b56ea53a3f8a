import { createRandom } from '../dsp'
import { ChannelUsage, lookAtChannel, type AccessState } from './channelAccess'
import { usualKissParameters, type KissParameters } from './kissParameters'

const look = { nowMs: 0, waits: true, busy: false, draw: 0 }

describe('access to a channel', () => {
  it.each<[string, Partial<KissParameters>, AccessState, Partial<typeof look>, boolean, AccessState]>([
    ['nothing waits', {}, { nextSlotMs: 1 }, { waits: false }, false, {}],
    ['the channel is free and the draw is good', {}, {}, { draw: 0.2 }, true, {}],
    ['the draw is not good', {}, {}, { nowMs: 5, draw: 0.25 }, false, { nextSlotMs: 105 }],
    ['the slot has not ended', {}, { nextSlotMs: 105 }, { nowMs: 104 }, false, { nextSlotMs: 105 }],
    ['the slot has ended', {}, { nextSlotMs: 105 }, { nowMs: 105 }, true, {}],
    ['somebody sends', {}, { nextSlotMs: 105 }, { nowMs: 200, busy: true }, false, {}],
    ['somebody sends on the other channel of two', { fullDuplex: true }, {}, { busy: true, draw: 0.99 }, true, {}],
  ])('when %s', (_, parameters, state, seen, begin, next) => {
    expect(lookAtChannel(state, { ...look, ...seen }, { ...usualKissParameters, ...parameters })).toEqual({ state: next, begin })
  })

  it('waits on a free channel as long as its settings say, in the mean', () => {
    const random = createRandom(7)
    const parameters = { ...usualKissParameters, persistence: 0.25, slotTimeMs: 100 }
    let sum = 0
    for (let trial = 0; trial < 2000; trial++) {
      let state: AccessState = {}
      for (let nowMs = 0; ; nowMs += 10) {
        const { begin, state: next } = lookAtChannel(state, { nowMs, waits: true, busy: false, draw: random() }, parameters)
        state = next
        if (!begin) continue
        sum += nowMs
        break
      }
    }
    expect(sum / 2000).toBeGreaterThan(280)
    expect(sum / 2000).toBeLessThan(320)
  })
})

describe('the account of a channel', () => {
  const run = (usage: ChannelUsage, marks: readonly (readonly [nowMs: number, carrier: boolean, frames: number])[]) =>
    marks.forEach(([nowMs, carrier, frames]) => usage.look(nowMs, carrier, frames))

  it('counts what others send, what could not be read of it, and what we send', () => {
    const usage = new ChannelUsage(60_000)
    run(usage, [
      [0, false, 0],
      [1000, true, 0],
      [1800, true, 0],
      // Its frame is read a little after its end.
      [2000, false, 0],
      [2100, false, 1],
      [5000, true, 0],
      [5900, true, 0],
      [6000, false, 0],
      // A click.
      [7000, true, 0],
      [7020, false, 0],
      [10_000, false, 0],
    ])
    usage.sent(8000, 9000)
    expect(usage.at(10_000)).toEqual({ overS: 10, othersShare: expect.closeTo(0.2), ownShare: expect.closeTo(0.1), bursts: 2, spoiled: 1 })
  })

  it('forgets what is older than its window, and holds no more than that', () => {
    const usage = new ChannelUsage(10_000)
    run(usage, [
      [0, true, 0],
      [1000, false, 1],
      [30_000, false, 0],
    ])
    expect(usage.at(30_000)).toEqual({ overS: 10, othersShare: 0, ownShare: 0, bursts: 0, spoiled: 0 })
  })

  it('takes a frame for a transmission though the lock of the modem was never told', () => {
    const usage = new ChannelUsage(10_000)
    run(usage, [
      [0, false, 0],
      [1000, false, 1],
      [3000, false, 0],
    ])
    expect(usage.at(3000)).toMatchObject({ bursts: 1, spoiled: 0 })
  })
})
