import { whiteNoise } from '@/core/dsp'
import type { LevelHistoryEntry } from '@/core/levels'
import { createFaultyReceiver } from '@/standins'
import type { AudioSource } from '../audioBlock'
import { initialState, type StationState } from '../state'
import { LevelKeeper } from './levelKeeper'
import { createLocalExaminer } from './localExaminer'

const RATE = 12_000
const START = Date.UTC(2026, 5, 1, 12)

function setUp(source: Partial<AudioSource> = {}, sends = true) {
  let nowMs = 0
  let state: StationState = initialState
  const sent: LevelHistoryEntry[][] = []
  const keeper = new LevelKeeper({
    monotonicMs: () => nowMs,
    newId: () => '00000000-0000-4000-8000-000000000001',
    createExaminer: createLocalExaminer,
    sendLevelHistory: async (entries) => {
      sent.push([...entries])
      return sends
    },
    source: () => ({ kind: 'microphone', label: 'Reed Box', stop: () => undefined, ...source }),
    noFault: () => [],
    set: (change) => (state = { ...state, ...change }),
  })
  /** Lets audio arrive in tenths of a second, as it does. */
  const hear = async (samples: Float32Array, raw?: { channels: Float32Array[]; rateHz: number }) => {
    for (let at = 0; at < samples.length; at += RATE / 10) {
      const tenth = (at / samples.length) * (raw ? raw.channels[0]!.length : 0)
      keeper.push({
        samples: samples.subarray(at, at + RATE / 10),
        startUtcMs: START + nowMs,
        ...(raw && { raw: { rateHz: raw.rateHz, channels: raw.channels.map((c) => c.subarray(tenth, tenth + raw.rateHz / 10)) } }),
      })
      nowMs += 100
      await Promise.resolve()
      await Promise.resolve()
    }
  }
  return { keeper, hear, state: () => state, sent }
}

test('reports each second, keeps a point each ten, and sends the history of a microphone', async () => {
  const s = setUp()
  await s.hear(whiteNoise(41 * RATE, 0.01, 1))
  expect(s.state().audio!.rmsDbfs).toBeCloseTo(-40, 0)
  expect(s.state().audio!.findings).toEqual([])
  expect(s.state().levelPoints.length).toBeGreaterThanOrEqual(4)
  expect(s.sent.flat()[0]).toMatchObject({ deviceLabel: 'Reed Box', worst: null })
})

test('practice and recordings leave no history, and what could not be sent is sent again', async () => {
  const practice = setUp({ kind: 'practice' })
  await practice.hear(whiteNoise(12 * RATE, 0.01, 1))
  expect(practice.state().levelPoints.length).toBeGreaterThan(0)
  expect(practice.sent).toEqual([])
  const dead = setUp({}, false)
  await dead.hear(whiteNoise(65 * RATE, 0.01, 1))
  expect(dead.sent.length).toBeGreaterThanOrEqual(2)
  expect(dead.sent[1]!.slice(0, dead.sent[0]!.length)).toEqual(dead.sent[0])
})

test('what the device says of itself stands among the findings', async () => {
  const s = setUp({ facts: () => ({ processing: ['echo cancellation'], lostBlocks: 0, sampleClock: { ppm: 12, uncertaintyPpm: 5 } }) })
  await s.hear(whiteNoise(4 * RATE, 0.01, 1))
  expect(s.state().audio!.findings.map((f) => f.code)).toEqual(['browser-processing'])
  expect(s.state().audio).toMatchObject({ ok: false, sampleClock: { ppm: 12 } })
})

test('channels at their own rate are examined, not what was made of them', async () => {
  const s = setUp()
  const left = whiteNoise(4 * 48_000, 0.01, 1)
  await s.hear(whiteNoise(4 * RATE, 0.01, 2), { rateHz: 48_000, channels: [left, new Float32Array(left.length)] })
  expect(s.state().audio!.sampleRateHz).toBe(48_000)
  expect(s.state().audio!.findings.map((f) => f.code)).toEqual(['one-channel'])
})

test('a slot with speech in it is marked, one without is not', async () => {
  const s = setUp()
  const [spoken] = createFaultyReceiver([{ fault: 'speech', amount: 14 }], { rateHz: RATE, seed: 2, noiseRms: 0.01 }).push(
    whiteNoise(14 * RATE, 0.01, 3),
  )
  await s.hear(spoken!)
  expect(s.state().spoiltSlots).toEqual([{ slotIndex: START / 15_000, speechS: expect.any(Number) as number }])
  expect(s.state().spoiltSlots[0]!.speechS).toBeGreaterThan(1.5)
  s.keeper.restart(true)
  expect(s.state().spoiltSlots).toEqual([])
  expect(s.state().audio).toBeUndefined()
})

test('a restart measures the new situation by itself', async () => {
  const s = setUp()
  await s.hear(whiteNoise(12 * RATE, 0.1, 1))
  s.keeper.restart(false)
  expect(s.state().audio).toBeUndefined()
  expect(s.state().levelPoints.length).toBeGreaterThan(0)
  await s.hear(whiteNoise(4 * RATE, 0.001, 2))
  expect(s.state().audio!.rmsDbfs).toBeCloseTo(-60, 0)
  expect(s.state().audio!.durationS).toBeLessThan(5)
})
