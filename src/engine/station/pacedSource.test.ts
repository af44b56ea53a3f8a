import { jest } from '@jest/globals'
import { SAMPLE_RATE_HZ } from '@/core/dsp'
import { SLOT_MS } from '@/core/time'
import type { AudioBlock } from './audioBlock'
import { PacedSource, type StretchOfAudio } from './pacedSource'
import { StationClock } from './stationClock'

const START = Date.UTC(2026, 5, 1, 12)
const FIRST = START / SLOT_MS
const slotOfAudio = (value: number): StretchOfAudio => ({ samples: new Float32Array((SLOT_MS / 1000) * SAMPLE_RATE_HZ).fill(value) })

beforeEach(() => void jest.useFakeTimers())
afterEach(() => void jest.useRealTimers())

/** A source on a clock of its own, with all that it did and asked for. */
function open({
  pace = 1,
  slots = Infinity,
  answer = (slotIndex: number) => Promise.resolve<StretchOfAudio | undefined>(slotOfAudio(slotIndex - FIRST)),
} = {}) {
  const clock = new StationClock(
    () => performance.now(),
    () => Date.now(),
  )
  clock.simulate({ startUtcMs: START, pace })
  const asked: { slot: number; atMs: number }[] = []
  const blocks: AudioBlock[] = []
  const problems: string[] = []
  let ended = 0
  const state = { unsettled: false }
  const source = new PacedSource({
    kind: 'practice',
    label: 'made-up band',
    clock,
    stepMs: SLOT_MS,
    stretchAt: (atUtcMs) => {
      const slotIndex = atUtcMs / SLOT_MS
      asked.push({ slot: slotIndex - FIRST, atMs: clock.worldUtcMs() - START })
      return slotIndex - FIRST < slots ? answer(slotIndex) : Promise.resolve(undefined)
    },
    unsettled: () => state.unsettled,
    onBlock: (block) => blocks.push(block),
    onEnd: () => ended++,
    onProblem: (error) => problems.push(error),
  })
  return { clock, asked, blocks, problems, source, state, ended: () => ended }
}
const run = (ms: number) => jest.advanceTimersByTimeAsync(ms)

describe('audio in step with a simulated clock', () => {
  it('comes in blocks without a gap, each of its own slot', async () => {
    const { blocks, source } = open()
    await run(31_000)
    source.stop()
    expect(blocks.length).toBeGreaterThanOrEqual(308)
    blocks.forEach((block, i) => {
      expect(block.startUtcMs).toBeCloseTo(START + 100 * i, 3)
      expect(block.samples).toHaveLength(1200)
      expect(block.samples[600]).toBe(Math.floor(i / 150))
    })
  })

  it('is asked for before the decoder begins with the slot that is ending', async () => {
    const { asked, source } = open()
    await run(14_000)
    source.stop()
    expect(asked.map((a) => a.slot)).toEqual([0, 1])
    expect(asked[1]!.atMs).toBeGreaterThanOrEqual(13_700)
    expect(asked[1]!.atMs).toBeLessThan(13_900)
  })

  it('is asked for only when what it hangs on is settled', async () => {
    const { asked, state, source } = open()
    state.unsettled = true
    await run(14_300)
    expect(asked.map((a) => a.slot)).toEqual([0])
    state.unsettled = false
    await run(200)
    source.stop()
    expect(asked.map((a) => a.slot)).toEqual([0, 1])
    expect(asked[1]!.atMs).toBeGreaterThanOrEqual(14_300)
  })

  it('is asked for at the start of its slot at the latest, and goes on', async () => {
    const { asked, state, blocks, source } = open()
    state.unsettled = true
    await run(17_000)
    source.stop()
    expect(asked.map((a) => a.slot)).toEqual([0, 1])
    expect(asked[1]!.atMs).toBeGreaterThanOrEqual(15_000)
    expect(blocks.at(-1)!.samples[0]).toBe(1)
  })

  it('that is late holds a fast clock until it is there', async () => {
    let deliver: (slot: StretchOfAudio) => void = () => undefined
    const { clock, blocks, source } = open({
      pace: 4,
      answer: (slotIndex) => (slotIndex === FIRST ? Promise.resolve(slotOfAudio(0)) : new Promise((done) => (deliver = done))),
    })
    await run(10_000)
    const heldMs = clock.worldUtcMs() - START
    expect(heldMs).toBeGreaterThanOrEqual(15_000)
    expect(heldMs).toBeLessThan(15_300)
    expect(blocks).toHaveLength(150)
    deliver(slotOfAudio(1))
    await run(1000)
    source.stop()
    const goneOnMs = clock.worldUtcMs() - START - heldMs
    expect(goneOnMs).toBeGreaterThan(3800)
    expect(goneOnMs).toBeLessThanOrEqual(4000)
    expect(blocks.length).toBeGreaterThanOrEqual(187)
    expect(blocks[150]!.startUtcMs).toBeCloseTo(START + 15_000, 3)
  })

  it('that is late at real pace, which nothing holds, is caught up with', async () => {
    let deliver: (slot: StretchOfAudio) => void = () => undefined
    const { blocks, source } = open({
      answer: (slotIndex) => (slotIndex === FIRST ? Promise.resolve(slotOfAudio(0)) : new Promise((done) => (deliver = done))),
    })
    await run(17_000)
    expect(blocks).toHaveLength(150)
    deliver(slotOfAudio(1))
    await run(100)
    source.stop()
    expect(blocks.length).toBeGreaterThanOrEqual(170)
    blocks.forEach((block, i) => expect(block.startUtcMs).toBeCloseTo(START + 100 * i, 3))
  })

  it('runs at thirty times the pace without losing a block', async () => {
    const { blocks, source } = open({ pace: 30 })
    await run(2000)
    source.stop()
    expect(blocks.length).toBeGreaterThan(550)
    blocks.forEach((block, i) => expect(block.startUtcMs).toBeCloseTo(START + 100 * i, 3))
  })

  it('ends when there is no more, once', async () => {
    const { ended, blocks } = open({ slots: 2 })
    await run(40_000)
    expect(ended()).toBe(1)
    expect(blocks).toHaveLength(300)
  })

  it('says why a slot could not be made', async () => {
    const { problems, source } = open({
      answer: (slotIndex) => (slotIndex === FIRST ? Promise.resolve(slotOfAudio(0)) : Promise.reject(new Error('no band'))),
    })
    await run(16_000)
    source.stop()
    expect(problems).toEqual(['no band'])
  })

  it('says nothing after it was stopped', async () => {
    const { blocks, source } = open()
    await run(1000)
    source.stop()
    const before = blocks.length
    await run(5000)
    expect(blocks).toHaveLength(before)
  })
})
