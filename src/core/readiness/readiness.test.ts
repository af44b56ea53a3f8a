import { emptyStation, type Station } from '../station/station'
import { createClockState, type ClockState } from '../time/clockState'
import { judgeClock } from '../time/clockVerdict'
import { correctTimebase } from '../time/timebase'
import type { ReadinessEvidence, ReadyId, ReadyState } from './evidence'
import { assessReadiness } from './readiness'

const now = Date.UTC(2026, 5, 1, 12)
const station: Station = {
  ...emptyStation,
  call: 'Q5RVR',
  operatorName: 'Rowan Ames',
  locator: 'JN97LK',
  licenceConfirmedUtcMs: now - 1e6,
  dialFrequencyHz: 14_074_000,
  dialSetUtcMs: now - 60_000,
}
const computer = createClockState(now, 0, 15_000)
const set = (uncertaintyMs: number, over: Partial<ClockState> = {}): ClockState => ({
  ...computer,
  timebase: correctTimebase(computer.timebase, { byMs: 0, source: 'gps', uncertaintyMs }, 0),
  ...over,
})
const undecided = { offsetMs: 0, uncertaintyMs: 50, driftAgeMs: 0, members: [], kind: 'gps' as const, undecided: true }
/** The clock as judged from a state and the band's opinion. */
const clock = (state: ClockState, offsetMs?: number, stations = 9): ReadinessEvidence['clock'] => ({
  verdict: judgeClock(state, 0, offsetMs === undefined ? undefined : { offsetMs, uncertaintyMs: 90, stations }),
  source: state.timebase.source,
  setUtcMs: now,
})
const links = (
  control: Partial<NonNullable<ReadinessEvidence['links']>['control']>,
  keying: 'ready' | 'problem' = 'ready',
): NonNullable<ReadinessEvidence['links']> => ({
  control: {
    state: 'talking',
    detail: 'Not there.',
    frequencyHz: 14_074_000,
    mode: 'usb',
    keyed: false,
    power: null,
    swr: null,
    alc: null,
    swrMeter: true,
    ...control,
  },
  tnc: { state: 'off', detail: 'Off.', frames: [], badFrames: 0, modem: false, airBaud: 1200 },
  keying: { by: 'cat', state: keying, detail: 'Not there.', proof: 'readBack' as const, unknown: false, leadMs: 100, tailMs: 50 },
})
const good: ReadinessEvidence = {
  nowUtcMs: now,
  mode: 'ft8',
  modesInUse: ['ft8'],
  station,
  source: 'microphone',
  lastBlockUtcMs: now - 100,
  level: { rmsDbfs: -34, peakDbfs: -20, clippedSamples: 0, digitalSilence: false, durationS: 0.25, utcMs: now - 100 },
  clock: clock(set(40)),
}
const stateOf = (e: ReadinessEvidence, id: ReadyId): ReadyState => assessReadiness(e).items.find((i) => i.id === id)!.state

describe('assessReadiness', () => {
  it('says yes when all is well', () => {
    expect(assessReadiness(good)).toMatchObject({ answer: 'operate', sentence: 'Yes, you can operate on the air.' })
    expect(assessReadiness(good).items.map((i) => i.state)).toEqual(Array(8).fill('ready'))
  })

  it.each<[ReadyId, ReadyState, Partial<ReadinessEvidence>, RegExp]>([
    ['call', 'missing', { station: { ...station, call: '' } }, /listen, not transmit: no own call/],
    ['locator', 'missing', { station: { ...station, locator: '' } }, /no locator/],
    ['licence', 'missing', { station: { ...station, licenceConfirmedUtcMs: null } }, /licence is not confirmed/],
    ['dial', 'missing', { station: { ...station, dialFrequencyHz: null } }, /the frequency is not set/],
    ['dial', 'attention', { station: { ...station, dialSetUtcMs: now - 86_400_000 } }, /Yes.*Worth a look: dial/],
    ['dial', 'attention', { station: { ...station, dialSetUtcMs: now - 2 * 3_600_000 } }, /Yes.*Worth a look: dial/],
    ['dial', 'ready', { source: 'practice', station: { ...station, dialFrequencyHz: null } }, /^Yes/],
    ['audio', 'missing', { source: 'none' }, /Not yet: nothing is being listened to/],
    ['audio', 'missing', { source: 'none', sourceProblem: 'The browser was not allowed.' }, /Not yet: The browser was not allowed\.$/],
    ['audio', 'missing', { lastBlockUtcMs: now - 9000 }, /Not yet: no sound arrives from the microphone/],
    ['level', 'attention', { level: { ...good.level!, clippedSamples: 12 } }, /Worth a look: receive level/],
    ['level', 'missing', { level: { ...good.level!, digitalSilence: true, rmsDbfs: -Infinity, peakDbfs: -Infinity } }, /no sound at all/],
    ['level', 'unknown', { level: undefined }, /Worth a look: receive level/],
    ['clock', 'unknown', { clock: clock(computer) }, /Worth a look: clock/],
    ['clock', 'attention', { clock: clock(computer, 800) }, /Worth a look: clock/],
    ['clock', 'missing', { clock: clock(computer, -1900) }, /9 stations say this clock is 1\.90 s slow/],
    ['clock', 'ready', { clock: clock(computer, 120, 5) }, /^Yes/],
    ['clock', 'ready', { clock: clock(set(300)) }, /^Yes/],
    ['clock', 'attention', { clock: clock(set(700)) }, /Worth a look: clock/],
    ['clock', 'attention', { clock: clock(set(40, { waitingMs: -600 })) }, /Worth a look: clock/],
    ['clock', 'attention', { clock: clock(set(40, { consensus: undecided })) }, /Worth a look: clock/],
    ['clock', 'attention', { clock: clock(set(40), 900) }, /Worth a look: clock/],
    ['clock', 'ready', { clock: clock(set(200), 250) }, /^Yes/],
    ['dial', 'ready', { links: links({}) }, /^Yes/],
    ['dial', 'attention', { links: links({ state: 'silent' }) }, /Worth a look: dial/],
    ['dial', 'attention', { links: links({ mode: 'fm' }) }, /Worth a look: dial/],
    ['dial', 'ready', { source: 'practice', links: links({ state: 'problem' }) }, /^Yes/],
    ['output', 'ready', { links: links({}, 'ready') }, /^Yes/],
    ['output', 'missing', { links: links({}, 'problem') }, /cannot be keyed by CAT control: Not there/],
    ['output', 'missing', { outputProblem: 'The output is gone.' }, /The output is gone/],
    ['output', 'attention', { source: 'recording' }, /transmit audio/],
  ])('%s is %s: case %#', (id, state, change, sentence) => {
    const e = { ...good, ...change }
    expect(stateOf(e, id)).toBe(state)
    expect(assessReadiness(e).sentence).toMatch(sentence)
  })

  it('gives everything that is not ready a next action, unless it answers itself', () => {
    const bare = assessReadiness({
      nowUtcMs: now,
      mode: 'ft8',
      modesInUse: ['ft8'],
      station: emptyStation,
      source: 'none',
      clock: clock(computer),
    })
    expect(bare.answer).toBe('no')
    for (const item of bare.items.filter((i) => i.state === 'missing')) expect(item.action?.label).toBeTruthy()
  })

  it('asks each mode what it needs, and answers for all that are in use', () => {
    const late = { ...good, clock: clock(set(40), 2500), station: { ...station, locator: '' } }
    expect(assessReadiness(late).answer).toBe('listen')
    // Nobody takes turns by the clock, and nobody needs the locator: it is worth a look.
    const psk31 = assessReadiness({ ...late, mode: 'psk31', modesInUse: ['ft8', 'psk31', 'packet'] })
    expect(psk31).toMatchObject({ answer: 'operate', sentence: 'Yes, you can operate on the air. Worth a look: locator.' })
    expect(psk31.items.find((item) => item.id === 'clock')!.evidence).toMatch(/good enough for the log/)
    expect(psk31.others.map(({ mode, answer }) => [mode, answer])).toEqual([
      ['ft8', 'listen'],
      ['packet', 'no'],
    ])
    expect(psk31.others[1]!.sentence).toBe('Not yet: no TNC is set up.')
    // Of what nobody knows nothing is said.
    for (const [state, wanted] of [
      [computer, 'unknown'],
      [set(40, { consensus: undecided }), 'attention'],
    ] as const)
      expect(assessReadiness({ ...good, mode: 'psk31', clock: clock(state) }).items.find((item) => item.id === 'clock')).toMatchObject({
        state: wanted,
        evidence: expect.not.stringMatching(/good enough/),
      })
    const hourOff = assessReadiness({ ...good, mode: 'psk31', clock: clock(set(40), 3_600_000) })
    expect(hourOff.items.find((item) => item.id === 'clock')!.state).toBe('attention')
  })

  it('says when it is practice', () => {
    expect(assessReadiness({ ...good, source: 'practice' }).sentence).toBe('Yes, you can operate in practice.')
  })
})
