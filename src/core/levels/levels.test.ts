import { examineAudio } from '../audio'
import { createBandFilter, whiteNoise } from '../dsp'
import {
  compareNoise,
  compareWithProfile,
  emptySheet,
  figuresOf,
  findProfile,
  HOLD_GOOD_MS,
  idleReceiveSetup,
  judgeAntenna,
  judgeDevice,
  judgeRoom,
  levelProfileSchema,
  noiseOf,
  receiveTarget,
  reduceReceiveSetup,
  SampleClockMeter,
  sheetsFileSchema,
  withDose,
  type LevelProfile,
} from './index'

const RATE = 12_000
const heard = (rms: number, { seed = 1, lowHz = 250, highHz = 2750, gain = 1 } = {}) =>
  examineAudio(
    [
      createBandFilter(
        RATE,
        lowHz,
        highHz,
      )(whiteNoise(9 * RATE, rms, seed))
        .subarray(RATE)
        .map((v) => v * gain),
    ],
    RATE,
  )
const profileOf = (rms: number): LevelProfile => ({
  id: '3f0c1d1e-0000-4000-8000-000000000001',
  radio: 'Heron 20',
  interfaceName: 'Reed Box',
  deviceLabel: 'Reed Box audio',
  savedUtcMs: 1000,
  knobs: [{ name: 'Radio volume', position: '9 o’clock' }],
  hostVolume: '60 %',
  note: '',
  figures: figuresOf(heard(rms)),
  antennaRiseDb: 14,
  roomCostDb: null,
  converter2500Dbfs: -92,
  transmit: null,
})

describe('the target is computed from what limits it', () => {
  test('good in between, and by how much to turn on either side', () => {
    expect(receiveTarget(heard(0.003)).state).toBe('good')
    const quiet = receiveTarget(heard(2e-5))
    expect(quiet.state).toBe('up')
    // Turning by what is said brings it into the target.
    const after = receiveTarget(heard(2e-5 * 10 ** (quiet.moveDb / 20)))
    expect(after.state).toBe('good')
    const loud = receiveTarget(heard(0.2))
    expect(loud.state).toBe('down')
    expect(receiveTarget(heard(0.2 * 10 ** (loud.moveDb / 20))).state).toBe('good')
  })
  test('a noisy converter moves the lower end', () => {
    const r = heard(0.0005)
    expect(receiveTarget(r, -100).state).toBe('good')
    expect(receiveTarget(r, -72).state).toBe('up')
  })
  test('what is called too quiet and the target begin at the same level, and both name one dose', () => {
    for (const rms of [1e-5, 3e-5, 1e-4, 2e-4, 2.4e-4, 2.6e-4, 3e-4, 1e-3, 0.01]) {
      const r = heard(rms)
      const target = receiveTarget(r)
      const said = r.findings.find((f) => f.code === 'too-quiet')
      if (said) expect(target.state).toBe('up')
      expect(said?.advice ?? '').not.toMatch(/dB/)
      for (const f of withDose(r.findings, target)) expect(f.advice).toContain(target.words)
    }
  })
  test('a level that a better converter can take is not called too quiet; what no knob cures stays', () => {
    const r = heard(1e-4, { lowHz: 900, highHz: 1600 })
    expect(r.findings.map((f) => f.code)).toEqual(expect.arrayContaining(['too-quiet', 'narrow-filter']))
    const better = withDose(r.findings, receiveTarget(r, -120)).map((f) => f.code)
    expect(better).toContain('narrow-filter')
    expect(better).not.toContain('too-quiet')
  })
  test('clipping asks for less whatever the noise says, silence for sound', () => {
    const clipped = examineAudio([whiteNoise(5 * RATE, 0.5, 2).map((v) => Math.max(-1, Math.min(1, v)))], RATE)
    expect(receiveTarget(clipped)).toMatchObject({ state: 'down' })
    expect(receiveTarget(clipped).moveDb).toBeLessThanOrEqual(-10)
    expect(receiveTarget(examineAudio([new Float32Array(RATE)], RATE)).state).toBe('silent')
  })
})

describe('antenna and room', () => {
  test('a rise of known size, and its cost', () => {
    const off = noiseOf(heard(0.002))
    const on = noiseOf(heard(0.02, { seed: 7 }))
    const rise = compareNoise(off, on)
    expect(Math.abs(rise.riseDb - 20)).toBeLessThan(0.7)
    expect(rise.costDb).toBeCloseTo(0.044, 1)
    expect(compareNoise(off, noiseOf(heard(0.002, { seed: 8 }))).costDb).toBeGreaterThan(6)
  })
  test.each([
    [0.02, 0.0002, 'good', 'radio'],
    [0.004, 0.0002, 'fair', 'radio'],
    [0.0022, 0.0019, 'poor', 'converter'],
  ])('antenna on %d, radio off %d: %s, limited by the %s', (onRms, offRms, state, limit) => {
    const verdict = judgeAntenna(noiseOf(heard(0.002)), noiseOf(heard(onRms, { seed: 3 })), noiseOf(heard(offRms, { seed: 4 })))
    expect(verdict).toMatchObject({ state, limit })
    expect(verdict.sentence).toMatch(/dB/)
  })
  test('what limits is not guessed', () => {
    expect(judgeAntenna(noiseOf(heard(0.002)), noiseOf(heard(0.002, { seed: 2 }))).limit).toBe('unknown')
  })
  test('a loud room costs, a quiet one does not', () => {
    expect(judgeRoom(noiseOf(heard(0.001)), noiseOf(heard(0.02, { seed: 3 }))).state).toBe('good')
    const loud = judgeRoom(noiseOf(heard(0.01)), noiseOf(heard(0.0141, { seed: 3 })))
    expect(loud.state).toBe('poor')
    expect(Math.abs(loud.costDb - 3)).toBeLessThan(0.8)
  })
})

describe('the profile of a set-up', () => {
  test('is a valid record, and the next run of the same is unchanged', () => {
    const profile = profileOf(0.01)
    expect(levelProfileSchema.parse(profile)).toEqual(profile)
    expect(compareWithProfile(heard(0.01, { seed: 99 }), profile)).toEqual([])
  })
  test('says what changed: noise, filter, offset, a new fault', () => {
    const profile = profileOf(0.01)
    expect(compareWithProfile(heard(0.03), profile).map((c) => c.what)).toContain('noise')
    expect(compareWithProfile(heard(0.01, { highHz: 2200 }), profile).map((c) => c.what)).toContain('passband')
    const offset = examineAudio([createBandFilter(RATE, 250, 2750)(whiteNoise(9 * RATE, 0.01, 2)).map((v) => v + 0.05)], RATE)
    expect(compareWithProfile(offset, profile).map((c) => c.what)).toContain('offset')
    const silent = compareWithProfile(examineAudio([new Float32Array(9 * RATE)], RATE), profile)
    expect(silent.map((c) => c.what)).toContain('digital-silence')
  })
  test('belongs to radio, interface and device; the newest of those', () => {
    const old = profileOf(0.01)
    const now = { radio: 'heron 20', interfaceName: 'Reed Box', deviceLabel: 'Reed Box audio' }
    const newer = { ...old, id: '3f0c1d1e-0000-4000-8000-000000000002', savedUtcMs: 2000 }
    expect(findProfile([old, newer], now)).toBe(newer)
    expect(findProfile([old], { ...now, deviceLabel: 'Reed Box audio (2)' })).toBeUndefined()
  })
})

describe('guided set-up', () => {
  const report = (r: ReturnType<typeof heard>, nowMs: number) => ({ type: 'report' as const, report: r, nowMs })
  const from = (...events: Parameters<typeof reduceReceiveSetup>[1][]) => events.reduce(reduceReceiveSetup, idleReceiveSetup)

  test('sound, level, hold, good', () => {
    const silent = examineAudio([new Float32Array(RATE)], RATE)
    expect(from({ type: 'start' }, report(silent, 0)).now.step).toBe('sound')
    expect(from({ type: 'start' }, report(heard(0.2), 0)).now).toMatchObject({ step: 'level', target: { state: 'down' } })
    const good = heard(0.003)
    const holding = from({ type: 'start' }, report(good, 0))
    expect(holding.now).toMatchObject({ step: 'level', goodSinceMs: 0 })
    expect(reduceReceiveSetup(holding, report(good, HOLD_GOOD_MS - 1)).now.step).toBe('level')
    expect(reduceReceiveSetup(holding, report(good, HOLD_GOOD_MS)).now.step).toBe('good')
    // A turn in between begins the wait anew.
    const turned = reduceReceiveSetup(reduceReceiveSetup(holding, report(heard(0.2), 1000)), report(good, 2000))
    expect(reduceReceiveSetup(turned, report(good, HOLD_GOOD_MS)).now.step).toBe('level')
  })
  test('a fault stands in the way until it is gone or accepted', () => {
    const narrow = heard(0.003, { lowHz: 1200, highHz: 1800 })
    const stuck = from({ type: 'start' }, report(narrow, 0), report(narrow, HOLD_GOOD_MS))
    expect(stuck.now).toMatchObject({ step: 'faults', finding: { code: 'narrow-filter' } })
    const accepted = reduceReceiveSetup(stuck, { type: 'accept', code: 'narrow-filter' })
    const later = reduceReceiveSetup(accepted, report(narrow, 2 * HOLD_GOOD_MS))
    expect(reduceReceiveSetup(later, report(narrow, 4 * HOLD_GOOD_MS)).now.step).toBe('good')
    expect(reduceReceiveSetup(stuck, { type: 'stop' })).toEqual(idleReceiveSetup)
  })
  test('reports before the start change nothing', () => {
    expect(from(report(heard(0.003), 0))).toBe(idleReceiveSetup)
  })
})

describe('what no sample shows', () => {
  test('processing, lost blocks and a device off its rate', () => {
    expect(judgeDevice({ processing: [], lostBlocks: 0 })).toEqual([])
    expect(judgeDevice({ processing: ['automatic gain'], lostBlocks: 2 }).map((f) => f.code)).toEqual(['browser-processing', 'dropouts'])
    expect(judgeDevice({ processing: [], lostBlocks: 0, sampleClock: { ppm: 120, uncertaintyPpm: 20 } })).toEqual([])
    expect(judgeDevice({ processing: [], lostBlocks: 0, sampleClock: { ppm: -600, uncertaintyPpm: 50 } })[0]).toMatchObject({
      code: 'sample-clock',
      severity: 'warning',
    })
  })
  test.each([-300, 0, 250])('a device %i ppm off is measured through late messages', (ppm) => {
    const meter = new SampleClockMeter(48_000)
    let state = 1
    for (let batch = 1; batch < 3000; batch++) {
      state = (state * 16_807) % 2_147_483_647
      const trueMs = (batch * 2048 * 1000) / (48_000 * (1 + ppm * 1e-6))
      meter.push(batch * 2048, trueMs + 12 * (state / 2_147_483_647) ** 2)
      if (batch === 100) expect(meter.measure()).toBeUndefined()
    }
    const measured = meter.measure()!
    expect(Math.abs(measured.ppm - ppm)).toBeLessThan(measured.uncertaintyPpm + 5)
    meter.restart()
    expect(meter.measure()).toBeUndefined()
  })
})

test('sheets travel as JSON and come back the same; others are refused', () => {
  const sheets = (['FT8', 'packet 9600'] as const).map((mode, i) =>
    emptySheet(`3f0c1d1e-0000-4000-8000-00000000000${i}`, 'Heron 20', mode, 5),
  )
  const file = JSON.parse(JSON.stringify({ kind: 'zeptik radio sheets', version: 1, sheets })) as unknown
  expect(sheetsFileSchema.parse(file).sheets).toEqual(sheets)
  expect(sheets[1]!.lines.find((line) => line.setting === 'Data socket speed')?.value).toBe('9600')
  expect(sheetsFileSchema.safeParse({ kind: 'other', version: 1, sheets }).success).toBe(false)
  expect(sheetsFileSchema.safeParse({ kind: 'zeptik radio sheets', version: 1, sheets: [{ ...sheets[0], lines: [{}] }] }).success).toBe(
    false,
  )
})
