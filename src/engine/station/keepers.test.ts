import { contactFromMade, contactSchema, type Contact } from '@/core/log'
import { emptyStation } from '@/core/station'
import type { HeardReport } from '@/core/station/heardContract'
import { heardBatchSchema } from '@/core/station/heardContract'
import { ContactKeeper } from './contactKeeper'
import { HeardKeeper, type HeardEvent } from './heardKeeper'
import { LevelTap } from './levelTap'
import { initialState, type StationState } from './state'
import { StationClock } from './stationClock'

const noon = Date.UTC(2026, 5, 1, 12)
const uuid = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`

describe('HeardKeeper', () => {
  const circumstances = { source: 'microphone' as const, dialFrequencyHz: 14_074_000, clockUncertaintyMs: null }
  const event = (text: string, call: string | null, startUtcMs: number): HeardEvent => ({
    ...{ mode: 'ft8', startUtcMs, endUtcMs: startUtcMs + 12_640, text, call, locator: null, snrDb: -5, audioOffsetHz: 1500 },
    details: { timeOffsetS: 0.1, pass: 1 },
  })
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
      () => circumstances,
      (utcMs) => utcMs - 1000,
    )
    await keeper.keep([event('CQ Q1ABC JO31', 'Q1ABC', 150_000), event('HELLO RIVER', null, 150_000)])
    up = true
    await keeper.keep([event('CQ Q2DEF KN44', 'Q2DEF', 165_000)])
    expect(heardBatchSchema.parse(sent[1])).toEqual(sent[1])
    await keeper.keep([])
    expect(sent.map((batch) => batch.map((r) => [r.text, r.call, r.startUtcMs]))).toEqual([
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
  it('dates what was heard in practice by real time, and nothing else', async () => {
    const sent: HeardReport[] = []
    let source: 'microphone' | 'practice' = 'practice'
    const keeper = new HeardKeeper(
      () => uuid(1),
      async (reports) => {
        sent.push(...reports)
        return true
      },
      () => ({ ...circumstances, source }),
      (utcMs) => utcMs - 1000,
    )
    await keeper.keep([event('CQ Q1ABC JO31', 'Q1ABC', 150_000)])
    source = 'microphone'
    await keeper.keep([event('CQ Q1ABC JO31', 'Q1ABC', 150_000)])
    expect(sent.map((r) => [r.source, r.startUtcMs, r.endUtcMs])).toEqual([
      ['practice', 149_000, 161_640],
      ['microphone', 150_000, 162_640],
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
      () => circumstances,
      (utcMs) => utcMs - 1000,
    )
    const crowd = (slot: number) => Array.from({ length: 600 }, () => event('CQ Q1ABC JO31', 'Q1ABC', slot * 15_000))
    for (let slot = 0; slot < 5; slot++) await keeper.keep(crowd(slot))
    expect(last).toHaveLength(500)
    expect(last[0]!.startUtcMs).toBe(15_000)
  })
})

describe('ContactKeeper', () => {
  const made = (at: number) => ({
    ...{ mode: 'ft8' as const, call: 'Q1ABC', startedUtcMs: at - 60_000, endedUtcMs: at },
    evidence: [{ utcMs: at - 60_000, direction: 'heard' as const, text: 'CQ Q1ABC JO31' }],
  })
  it('dates what was practised by real time, evidence and all, and compares it by the band’s own', () => {
    let mono = 0
    const clock = new StationClock(
      () => mono,
      () => noon + mono,
    )
    let state: StationState = { ...initialState, source: { kind: 'practice', label: 'Practice band', warnings: [], pace: 8 } }
    const kept: Contact[] = []
    const keeper = new ContactKeeper({
      ...{ clock, newId: () => uuid(1), state: () => state, profile: () => emptyStation, dialFrequencyHz: () => 14_074_000 },
      ...{
        set: (change) => (state = { ...state, ...change }),
        activation: () => undefined,
        keep: async (contact) => void kept.push(contact),
      },
    })
    clock.simulate({ startUtcMs: noon, pace: 8 })
    mono = 20_000
    const at = clock.nowUtcMs()
    expect(at).toBe(noon + 160_000)
    keeper.made(made(at))
    expect(kept[0]).toMatchObject({ origin: 'practice', startedUtcMs: noon + 12_500, endedUtcMs: noon + 20_000 })
    expect(kept[0]!.evidence[0]!.utcMs).toBe(noon + 12_500)
    expect(state.worked['Q1ABC']![0]!.startedUtcMs).toBe(at - 60_000)
    clock.endSimulation()
    state = { ...state, source: { kind: 'microphone', label: 'Radio', warnings: [], pace: 1 } }
    keeper.made(made(noon + 20_000))
    expect(kept[1]).toMatchObject({ origin: 'air', endedUtcMs: noon + 20_000 })
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

describe('contactFromMade', () => {
  const made = {
    ...{ mode: 'ft8' as const, call: 'Q1ABC', reportSent: '-08', reportReceived: '+03', audioOffsetHz: 1234.56, locator: 'JO31' },
    ...{ startedUtcMs: noon, endedUtcMs: noon + 60_000, evidence: [] },
  }
  const station = { ...emptyStation, call: 'Q5RVR', locator: 'JN97LK', dialFrequencyHz: 7_074_000, powerW: 5 }
  it('writes all that is known', () => {
    const contact = contactFromMade(made, { id: uuid(1), station, source: 'microphone', knownName: 'Ines', clockUncertaintyMs: 40 })
    expect(contactSchema.parse(contact)).toEqual(contact)
    expect(contact).toMatchObject({
      ...{
        origin: 'air',
        band: '40m',
        mode: 'FT8',
        submode: null,
        reportSent: '-08',
        reportReceived: '+03',
        locator: 'JO31',
        name: 'Ines',
      },
      ...{ audioOffsetHz: 1234.6, clockUncertaintyMs: 40 },
    })
  })
  it('names mode and submode as ADIF does, and prefers the name that was told', () => {
    const told = { ...made, mode: 'psk31' as const, name: 'Isa', place: 'Salt Ferry' }
    const contact = contactFromMade(told, { id: uuid(1), station, source: 'practice', knownName: 'Ines' })
    expect(contact).toMatchObject({ mode: 'PSK', submode: 'PSK31', name: 'Isa', place: 'Salt Ferry', origin: 'practice' })
  })
  it('leaves open what is not', () => {
    const { reportReceived: _, locator: __, ...little } = made
    const contact = contactFromMade(little, { id: uuid(2), station: emptyStation, source: 'practice' })
    expect(contact).toMatchObject({ origin: 'practice', band: null, reportReceived: null, locator: null, ownCall: null, name: null })
  })
})
