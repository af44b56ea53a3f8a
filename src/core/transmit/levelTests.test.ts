import { whiteNoise } from '../dsp'
import {
  adviseLevel,
  createGate,
  findSweep,
  findTone,
  LONGEST_TEST_MS,
  makeTestSignal,
  measureTone,
  measureTwoTones,
  dutyReminder,
  rampGain,
  reduceGate,
  reduceVox,
  startVoxSearch,
  VOX_LEVELS,
  voxResult,
  whyRefused,
} from './index'

const RATE = 12_000
const signal = (kind: Parameters<typeof makeTestSignal>[0]['kind'], amplitude = 0.5, durationS = 3, sampleRateHz = RATE) =>
  makeTestSignal({ kind, amplitude, durationS, sampleRateHz })

describe('test signals', () => {
  test.each(['tone', 'twoTone', 'ramp', 'vox', 'latency', 'mode'] as const)('%s keeps to its level and begins and ends softly', (kind) => {
    const samples = makeTestSignal({ kind, amplitude: 0.4, durationS: 2, sampleRateHz: 48_000, ownCall: 'Q5RVR' })
    expect(Math.max(...samples.map(Math.abs))).toBeLessThanOrEqual(0.4001)
    expect(Math.max(...samples.map(Math.abs))).toBeGreaterThan(0.3)
    expect(Math.abs(samples[0]!)).toBeLessThan(0.01)
    expect(Math.abs(samples[samples.length - 1]!)).toBeLessThan(0.01)
  })
  test('nothing longer or louder than allowed', () => {
    expect(() => signal('tone', 0.5, 10.1)).toThrow(/durationS/)
    expect(() => signal('tone', 1.2, 1)).toThrow(/amplitude/)
  })
  test('a ramp rises to its end in equal steps', () => {
    expect(rampGain(0)).toBeCloseTo(10 ** (-33 / 20), 5)
    expect(rampGain(0.999)).toBe(1)
    expect(rampGain(0.5) / rampGain(0.42)).toBeCloseTo(10 ** (3 / 20), 3)
  })
})

describe('what comes back of a tone', () => {
  const tone = signal('tone')
  test('clean', () => {
    const q = measureTone(tone.subarray(2000))!
    expect(Math.max(...q.harmonicsDb)).toBeLessThan(-60)
    expect(Math.abs(q.crestExcessDb)).toBeLessThan(0.2)
    expect(q.humDb).toBeLessThan(-60)
  })
  test('a third harmonic of known size, hum of known size, flat tops', () => {
    const third = tone.map((v, i) => v + 0.5 * 0.02 * Math.sin((2 * Math.PI * 4500 * i) / RATE))
    expect(Math.max(...measureTone(third.subarray(2000))!.harmonicsDb)).toBeCloseTo(20 * Math.log10(0.02), 0)
    const humming = tone.map((v, i) => v * (1 + 0.04 * Math.sin((2 * Math.PI * 100 * i) / RATE)))
    expect(measureTone(humming.subarray(2000))!.humDb).toBeCloseTo(20 * Math.log10(0.02), 0)
    const flat = tone.map((v) => Math.max(-0.3, Math.min(0.3, v)))
    expect(measureTone(flat.subarray(2000))!.crestExcessDb).toBeLessThan(-0.8)
  })
  test('two tones: clean, and through a cubic of known effect', () => {
    const two = signal('twoTone', 0.6)
    expect(measureTwoTones(two.subarray(2000))!.thirdDb).toBeLessThan(-60)
    const bent = two.map((v) => v - 0.6 * v ** 3)
    // Each tone has a = 0.3; the third-order product of k v³ is 3/4 k a³, the tone itself a - 9/4 k a³.
    const expected = 20 * Math.log10((0.75 * 0.6 * 0.3 ** 3) / (0.3 - 2.25 * 0.6 * 0.3 ** 3))
    expect(measureTwoTones(bent.subarray(2000))!.thirdDb).toBeCloseTo(expected, 0)
  })
  test('nothing is measured where nothing came back', () => {
    const noise = whiteNoise(3 * RATE, 0.05, 2)
    expect(measureTone(noise)).toBeUndefined()
    expect(measureTwoTones(noise)).toBeUndefined()
    expect(findTone(noise)).toBeUndefined()
    expect(findSweep(noise)).toBeUndefined()
    expect(adviseLevel(noise, 3, 1).level).toBeUndefined()
    expect(measureTone(new Float32Array(10))).toBeUndefined()
  })
})

describe('the search for the VOX level', () => {
  const keyed = { type: 'burst' as const, keyed: true, delayMs: 100, hangMs: 2000 }
  const missed = { type: 'burst' as const, keyed: false }
  test('gives up when nothing trips it', () => {
    let state = startVoxSearch()
    VOX_LEVELS.forEach(() => (state = reduceVox(state, missed)))
    expect(state.phase).toBe('never')
    expect(reduceVox(state, keyed)).toBe(state)
    expect(voxResult(state, 450)).toBeUndefined()
  })
  test('a level that trips once only is too near the edge', () => {
    const state = [missed, keyed, missed].reduce(reduceVox, startVoxSearch())
    expect(state).toMatchObject({ at: 2, phase: 'trying' })
  })
  test('too slow and too long are said', () => {
    const state = [keyed, { ...keyed, delayMs: 600 }, keyed].reduce(reduceVox, startVoxSearch())
    const result = voxResult(state, 450)!
    expect(result.leadInMs).toBe(450)
    expect(result.words).toMatch(/more than the 450 ms/)
    expect(result.words).toMatch(/shorten the VOX delay/)
  })
})

describe('tests at the gate', () => {
  const request = (startMs: number, lengthMs: number) => ({
    type: 'request' as const,
    nowMs: startMs,
    transmission: { id: 'a', what: 'Test tone', startMs, endMs: startMs + lengthMs, test: true },
    ownCall: 'Q5RVR',
    licenceConfirmed: true,
  })
  const ready = reduceGate(createGate(0), { type: 'checkPassed', nowMs: 0 })[0]

  test('are short, and are followed by a rest as long as they were', () => {
    expect(whyRefused(ready, request(0, LONGEST_TEST_MS + 1))?.need).toBe('shorter')
    const sent = reduceGate(ready, request(0, 4000))[0]
    const after = reduceGate(sent, { type: 'ended', nowMs: 4000, id: 'a' })[0]
    expect(whyRefused(after, request(5000, 1000))).toMatchObject({
      need: 'wait',
      why: expect.stringMatching(/rests for another 3 s/) as string,
    })
    expect(whyRefused(after, request(8000, 1000))).toBeUndefined()
  })
  test('a silenced test rests as well, a message needs no rest', () => {
    const sent = reduceGate(ready, request(0, 4000))[0]
    const silenced = reduceGate(sent, { type: 'silence', nowMs: 2000, why: 'Silenced.' })[0]
    const again = reduceGate(silenced, { type: 'started', nowMs: 2100 })[0]
    expect(whyRefused(again, request(2500, 1000))?.need).toBe('wait')
    const message = { ...request(2500, 12_000), transmission: { id: 'b', what: 'CQ', startMs: 2500, endMs: 14_500 } }
    expect(whyRefused(again, message)).toBeUndefined()
  })
  test('still need call, licence, check and a person', () => {
    expect(whyRefused(ready, { ...request(0, 1000), ownCall: '' })?.need).toBe('ownCall')
    expect(whyRefused(createGate(0), request(0, 1000))?.need).toBe('firstCheck')
  })
})

test('reminders in words', () => {
  expect(dutyReminder('ft8', 10)).toContain('5 W')
  expect(dutyReminder('psk31', null)).toContain('half')
})
