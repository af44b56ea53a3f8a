import { contactFromExchange, contactSchema } from '@/core/log'
import { emptyStation } from '@/core/station'
import type { HeardReport } from '@/core/station/heardContract'
import { heardAs } from '@/core/ft8'
import { HeardKeeper } from './heardKeeper'
import { LevelTap } from './levelTap'

const noon = Date.UTC(2026, 5, 1, 12)
const uuid = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`

const decode = (text: string) => heardAs(text)!

describe('HeardKeeper', () => {
  const circumstances = { slotIndex: 10, source: 'microphone' as const, dialFrequencyHz: 14_074_000, clockUncertaintyMs: null }
  it('sends what was heard, with its sender, and again what did not get through', async () => {
    const sent: HeardReport[][] = []
    let up = false
    let ids = 0
    const keeper = new HeardKeeper(
      () => uuid(++ids),
      async (reports) => {
        sent.push(reports)
        return up
      },
    )
    await keeper.keep([decode('CQ Q1ABC JO31'), decode('HELLO RIVER')], circumstances)
    up = true
    await keeper.keep([decode('CQ Q2DEF KN44')], { ...circumstances, slotIndex: 11 })
    await keeper.keep([], circumstances)
    expect(sent.map((batch) => batch.map((r) => [r.text, r.call, r.slotUtcMs]))).toEqual([
      [
        ['CQ Q1ABC JO31', 'Q1ABC', 150_000],
        ['HELLO RIVER', null, 150_000],
      ],
      [
        ['CQ Q1ABC JO31', 'Q1ABC', 150_000],
        ['HELLO RIVER', null, 150_000],
        ['CQ Q2DEF KN44', 'Q2DEF', 165_000],
      ],
    ])
  })
  it('lets the oldest go rather than fill the memory', async () => {
    let last: HeardReport[] = []
    let ids = 0
    const keeper = new HeardKeeper(
      () => uuid(++ids),
      async (reports) => {
        last = reports
        return false
      },
    )
    const crowd = Array.from({ length: 600 }, () => decode('CQ Q1ABC JO31'))
    for (let slot = 0; slot < 5; slot++) await keeper.keep(crowd, { ...circumstances, slotIndex: slot })
    expect(last).toHaveLength(500)
    expect(last[0]!.slotUtcMs).toBe(15_000)
  })
})

describe('LevelTap', () => {
  it('measures all that came since the last reading, a few times a second', () => {
    let mono = 0
    const readings: { durationS: number; utcMs: number }[] = []
    const tap = new LevelTap(
      () => mono,
      (r) => readings.push(r),
    )
    for (let i = 0; i < 20; i++) {
      tap.push({ samples: new Float32Array(600).fill(i / 100), startUtcMs: noon + mono })
      mono += 50
    }
    expect(readings.length).toBe(4)
    expect(readings[1]).toMatchObject({ durationS: 0.25, utcMs: noon + 250 })
  })
})

describe('contactFromExchange', () => {
  const made = {
    call: 'Q1ABC',
    reportSentDb: -8,
    reportReceivedDb: 3,
    audioOffsetHz: 1234.56,
    startedUtcMs: noon,
    endedUtcMs: noon + 60_000,
    evidence: [],
  }
  const station = { ...emptyStation, call: 'Q5RVR', locator: 'JN97LK', dialFrequencyHz: 7_074_000, powerW: 5 }
  it('writes all that is known', () => {
    const contact = contactFromExchange(made, {
      id: uuid(1),
      station,
      source: 'microphone',
      heardLocator: 'JO31',
      knownName: 'Ines',
      clockUncertaintyMs: 40,
    })
    expect(contactSchema.parse(contact)).toEqual(contact)
    expect(contact).toMatchObject({
      origin: 'air',
      band: '40m',
      reportSent: '-08',
      reportReceived: '+03',
      locator: 'JO31',
      name: 'Ines',
      audioOffsetHz: 1234.6,
      clockUncertaintyMs: 40,
    })
  })
  it('leaves open what is not', () => {
    const contact = contactFromExchange(
      { ...made, reportReceivedDb: undefined },
      { id: uuid(2), station: emptyStation, source: 'practice' },
    )
    expect(contact).toMatchObject({ origin: 'practice', band: null, reportReceived: null, locator: null, ownCall: null, name: null })
  })
  it('prefers the locator said in the exchange', () => {
    expect(
      contactFromExchange({ ...made, locator: 'KN44' }, { id: uuid(3), station, source: 'microphone', heardLocator: 'JO31' }).locator,
    ).toBe('KN44')
  })
})
