import {
  adviseLevel,
  findSweep,
  findTone,
  makeTestSignal,
  SWEEP_LEAD_S,
  measureTone,
  reduceVox,
  startVoxSearch,
  VOX_LEVELS,
  voxLevel,
  voxResult,
} from '@/core/transmit'
import { monitorPracticeTransmitter, PRACTICE_TRANSMITTER } from './index'

const signal = (kind: Parameters<typeof makeTestSignal>[0]['kind'], amplitude: number, durationS: number, sampleRateHz: number) =>
  makeTestSignal({ kind, amplitude, durationS, sampleRateHz })

describe('the practice transmitter, measured through its monitor', () => {
  const straight = { ...PRACTICE_TRANSMITTER, voxThreshold: 0, voxDelayMs: 0, latencyMs: 0, noiseRms: 1e-4 }
  test('the ramp finds where it stops following', () => {
    const heard = monitorPracticeTransmitter(signal('ramp', 1, 8, 48_000), 48_000, straight)
    const advice = adviseLevel(heard, 8, 1)
    expect(advice.level!).toBeGreaterThan(0.15)
    expect(advice.level!).toBeLessThan(0.45)
    // At the advised level a tone is clean, at full level it is not.
    const at = (amplitude: number) =>
      measureTone(monitorPracticeTransmitter(signal('tone', amplitude, 3, 48_000), 48_000, straight).subarray(3000, 33_000))!
    expect(Math.max(...at(advice.level!).harmonicsDb)).toBeLessThan(-35)
    expect(Math.max(...at(1).harmonicsDb)).toBeGreaterThan(-20)
  })
  test('a straight one is followed all the way', () => {
    const advice = adviseLevel(monitorPracticeTransmitter(signal('ramp', 0.5, 8, 48_000), 48_000, { ...straight, limit: 2 }), 8, 0.5)
    expect(advice.bendDb).toBeUndefined()
    expect(advice.level).toBeCloseTo(0.5, 5)
  })
  test.each([0, 37, 120])('a delay of %i ms is found within a millisecond', (latencyMs) => {
    const heard = monitorPracticeTransmitter(signal('latency', 0.4, 0.68, 48_000), 48_000, { ...PRACTICE_TRANSMITTER, latencyMs })
    expect(Math.abs(1000 * (findSweep(heard)!.atS - SWEEP_LEAD_S) - latencyMs)).toBeLessThan(1)
  })
  test('VOX: lowest level, delay, and a lead-in with room', () => {
    let state = startVoxSearch()
    let bursts = 0
    while (state.phase === 'trying' || state.phase === 'timing') {
      const heard = monitorPracticeTransmitter(
        signal('vox', voxLevel(state), 1, 48_000),
        48_000,
        { ...PRACTICE_TRANSMITTER, latencyMs: 0 },
        ++bursts,
      )
      const tone = findTone(heard)
      state = reduceVox(state, tone ? { type: 'burst', keyed: true, delayMs: 1000 * tone.fromS } : { type: 'burst', keyed: false })
    }
    expect(state.phase).toBe('done')
    expect(VOX_LEVELS[state.at]).toBe(0.12)
    const result = voxResult(state, 450)!
    expect(result.leadInMs).toBeGreaterThanOrEqual(PRACTICE_TRANSMITTER.voxDelayMs)
    expect(result.leadInMs).toBeLessThan(PRACTICE_TRANSMITTER.voxDelayMs + 70)
  })
})
