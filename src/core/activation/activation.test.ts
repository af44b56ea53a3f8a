import { activationSchema, type Activation, type CountedContact } from './activation'
import { judgeActivation } from './progress'
import { sumUpSession } from './sessionStatistics'
import { wordSpot } from './spot'

const start = Date.UTC(2026, 5, 6, 10)
const activation: Activation = {
  id: '00000000-0000-4000-8000-000000000001',
  name: 'Sallow Reach ferry landing',
  programme: 'RIVERS',
  reference: 'SR-0042',
  goal: 10,
  startedUtcMs: start,
  endedUtcMs: null,
  practice: false,
}
const contact = (call: string, minute: number, over: Partial<CountedContact> = {}): CountedContact => ({
  ...{ id: activation.id, revision: 1, call, band: '20m', mode: 'FT8', locator: 'JO31' },
  ...{ startedUtcMs: start + minute * 60_000, endedUtcMs: start + (minute + 1) * 60_000 },
  ...{ otherReference: null, transmissions: 3, timeOffsetS: 0.1 },
  ...over,
})

describe('judgeActivation', () => {
  it('counts a station once per band, mode and day', () => {
    const progress = judgeActivation(
      activation,
      [
        contact('Q1ABC', 0),
        contact('Q1ABC', 20),
        contact('Q1ABC', 30, { band: '40m' }),
        contact('Q1ABC', 40, { mode: 'PSK31' }),
        contact('Q1ABC', 15 * 60),
        contact('Q2DEF', 50, { otherReference: 'SR-0007' }),
      ],
      start + 16 * 3_600_000,
    )
    expect(progress).toMatchObject({
      counted: 5,
      repeats: 1,
      reached: false,
      betweenReferences: 1,
      ratePerHour: undefined,
      projection: undefined,
    })
    expect(progress.perBand).toEqual([
      { name: '20m', count: 4 },
      { name: '40m', count: 1 },
    ])
    expect(progress.perDay).toEqual([
      { name: '2026-06-06', count: 4 },
      { name: '2026-06-07', count: 1 },
    ])
  })

  it('projects when the goal will be reached, with the range that chance leaves', () => {
    // One contact each six minutes: ten an hour.
    const contacts = Array.from({ length: 6 }, (_, i) => contact(`Q${i}ABC`, 6 * i))
    const now = start + 31 * 60_000
    const { ratePerHour, projection } = judgeActivation(activation, contacts, now)
    expect(ratePerHour).toBeCloseTo(10, 5)
    expect(projection!.utcMs).toBe(now + 24 * 60_000)
    expect(projection!.earliestUtcMs).toBeGreaterThan(now + 12 * 60_000)
    expect(projection!.earliestUtcMs).toBeLessThan(projection!.utcMs)
    expect(projection!.latestUtcMs).toBeGreaterThan(projection!.utcMs)
  })

  it('says when the goal was reached, and projects nothing from two contacts or an idle hour', () => {
    const contacts = Array.from({ length: 12 }, (_, i) => contact(`Q${i}ABC`, 2 * i))
    expect(judgeActivation(activation, contacts, start + 3_600_000)).toMatchObject({
      reached: true,
      reachedUtcMs: start + 19 * 60_000,
      projection: undefined,
    })
    expect(judgeActivation(activation, contacts.slice(0, 2), start + 600_000).projection).toBeUndefined()
    expect(judgeActivation(activation, contacts.slice(0, 6), start + 5 * 3_600_000).ratePerHour).toBeUndefined()
    expect(judgeActivation(activation, [], start)).toMatchObject({ counted: 0, repeats: 0, perBand: [] })
  })
})

describe('an activation', () => {
  it.each([
    [{ goal: 0 }, /at least one/],
    [{ goal: 2.5 }, /whole number/],
    [{ reference: 'x'.repeat(41) }, /40/],
  ])('refuses %j', (over, why) => {
    const parsed = activationSchema.safeParse({ ...activation, ...over })
    expect(parsed.error!.issues[0]!.message).toMatch(why)
  })

  it('is worded for others to find', () => {
    const spot = {
      call: 'Q5RVR',
      activation,
      mode: 'FT8',
      dialFrequencyHz: 14_074_000,
      audioOffsetHz: 1529.6,
      parity: 'even',
      locator: 'JN97LK',
    } as const
    expect(wordSpot(spot)).toBe(
      'Q5RVR at RIVERS SR-0042 (Sallow Reach ferry landing), FT8 on 14.074 MHz +1530 Hz, even slots, locator JN97LK',
    )
    expect(
      wordSpot({ call: 'Q5RVR', activation: { name: '', programme: '', reference: '' }, mode: 'FT8', dialFrequencyHz: null, locator: '' }),
    ).toBe('Q5RVR, FT8')
  })
})

describe('sumUpSession', () => {
  it('says what it came to', () => {
    const contacts = [
      contact('Q1ABC', 0, { locator: 'JO31', transmissions: 3, timeOffsetS: 0.1 }),
      contact('Q2DEF', 10, { locator: 'FN31', transmissions: 6, timeOffsetS: -0.3 }),
      contact('Q1ABC', 130, { locator: null, transmissions: 0, timeOffsetS: null }),
    ]
    const distanceTo = (locator: string) => (locator === 'FN31' ? 7000 : 1000)
    expect(sumUpSession(contacts, distanceTo)).toEqual({
      ...{ contacts: 3, stations: 2, bestHour: 2, farthest: { call: 'Q2DEF', distanceKm: 7000 }, medianDistanceKm: 4000 },
      perHour: [
        { utcMs: start, count: 2 },
        { utcMs: start + 3_600_000, count: 0 },
        { utcMs: start + 7_200_000, count: 1 },
      ],
      ...{ medianTimeOffsetS: expect.closeTo(-0.1, 5) as number, transmissionsPerContact: 4.5, withRepeats: 0.5 },
    })
  })
  it('has little to say of none', () => {
    expect(sumUpSession([], () => undefined)).toMatchObject({ contacts: 0, perHour: [], farthest: undefined, withRepeats: undefined })
  })
})
