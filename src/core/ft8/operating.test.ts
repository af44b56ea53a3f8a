import { createSlotCutter } from './slotCutter'
import { answerParity, hearSlot, type StationsHeard } from './heardStation'
import { createRealFft } from '../dsp/fft'
import { createLaneMeter, laneExcessDb, ofParity, type SlotOccupancy } from './laneOccupancy'
import { findIntruder, findLanes } from './lanes'
import { heardAs, simulateSlot, type SimulatedSignal } from './simulate'
import { emptyTally, tallySlot } from './slotTally'

const decode = (text: string, snrDb = -8) => heardAs(text, { snrDb })!

describe('hearSlot', () => {
  it.each([
    ['CQ Q1ABC JO31', { kind: 'callingAll', word: 'CQ' }],
    ['CQ RIVR Q1ABC JO31', { kind: 'callingAll', word: 'CQ RIVR' }],
    ['Q5RVR Q1ABC JO31', { kind: 'callingMe' }],
    ['Q5RVR Q1ABC R-08', { kind: 'workingMe' }],
    ['Q2DEF Q1ABC JO31', { kind: 'calling', whom: 'Q2DEF' }],
    ['Q2DEF Q1ABC -08', { kind: 'working', whom: 'Q2DEF' }],
    ['Q2DEF Q1ABC RR73', { kind: 'ending', whom: 'Q2DEF' }],
  ])('%s', (text, doing) => expect(hearSlot({}, 5, [decode(text)], 'Q5RVR').Q1ABC!.doing).toEqual(doing))

  it('keeps locator and strengths, and forgets who went quiet', () => {
    let stations: StationsHeard = {}
    stations = hearSlot(stations, 4, [decode('CQ Q1ABC JO31', -3)], 'Q5RVR')
    stations = hearSlot(stations, 6, [decode('Q2DEF Q1ABC -08', -5)], 'Q5RVR')
    const heard = stations.Q1ABC!
    expect(heard).toMatchObject({
      locator: 'JO31',
      parity: 'even',
      timesHeard: 2,
      strengths: [
        { slotIndex: 4, snrDb: -3 },
        { slotIndex: 6, snrDb: -5 },
      ],
    })
    expect(answerParity(heard)).toBe('odd')
    expect(hearSlot(stations, 60, [], 'Q5RVR')).toEqual({})
  })

  it('does not list the own station or free text', () => {
    expect(hearSlot({}, 4, [decode('CQ Q5RVR JN97'), decode('HELLO RIVER')], 'Q5RVR')).toEqual({})
  })
})

const users = (...hz: number[]) => hz.map((frequencyHz) => ({ frequencyHz, snrDb: -10 }))

describe('findLanes', () => {
  it('offers three lanes apart from one another and from what is heard', () => {
    const heard = users(500, 800, 1500, 1530, 2200)
    const lanes = findLanes({ users: heard })
    expect(lanes).toHaveLength(3)
    for (const lane of lanes)
      for (const { frequencyHz } of heard) expect(Math.abs(frequencyHz - lane.audioOffsetHz) - 50).toBeGreaterThanOrEqual(lane.clearanceHz)
    expect(lanes[0]!.clearanceHz).toBeGreaterThanOrEqual(lanes[2]!.clearanceHz)
  })
  it('offers the middle of an empty band, and nothing in a full one', () => {
    const [best] = findLanes({ users: [] })
    expect(best!.audioOffsetHz).toBeCloseTo(1475, -1)
    expect(best!.reasons).toEqual(['nobody heard in these slots'])
    expect(findLanes({ users: users(...Array.from({ length: 60 }, (_, i) => 250 + 45 * i)) })).toEqual([])
  })
  it('keeps away from a strong station by more than from a weak one, and says why', () => {
    const between = (snrDb: number) =>
      findLanes({ users: [{ call: 'Q1ABC', frequencyHz: 1000, snrDb }, ...users(1300)], passband: { lowHz: 960, highHz: 1380 } })[0]!
    expect(between(-10).audioOffsetHz).toBe(1150)
    expect(between(-10).reasons[0]).toMatch(/^100 Hz to /)
    expect(between(30).audioOffsetHz).toBeGreaterThan(1160)
    expect(between(40).reasons[0]).toBe('strong neighbour: Q1ABC at 1000 Hz, 40 dB')
  })
  it('stays within what the filter lets through', () => {
    for (const lane of findLanes({ users: [], passband: { lowHz: 600, highHz: 1400 } })) {
      expect(lane.audioOffsetHz).toBeGreaterThanOrEqual(650)
      expect(lane.audioOffsetHz + 50).toBeLessThanOrEqual(1350)
    }
  })
})

describe('lanes as they are measured', () => {
  /** Rows as the band picture makes them, of slots with these signals. */
  function measure(slots: readonly (readonly SimulatedSignal[])[], ownSlots: readonly number[] = []) {
    let kept: readonly SlotOccupancy[] = []
    const binHz = 3.125
    const meter = createLaneMeter(binHz, (now) => (kept = now))
    const fft = createRealFft(3840)
    const block = new Float64Array(3840)
    const re = new Float64Array(1921)
    const im = new Float64Array(1921)
    ownSlots.forEach((slot) => meter.forget(slot))
    slots.forEach((signals, slot) => {
      const samples = simulateSlot(signals, 50 + slot)
      for (let at = 0; at + 3840 <= samples.length; at += 1920) {
        for (let i = 0; i < 3840; i++) block[i] = samples[at + i]! * Math.sin((Math.PI * i) / 3840) ** 2
        fft.forward(block, re, im)
        const levels = Float32Array.from({ length: 960 }, (_, b) => 10 * Math.log10(re[b]! ** 2 + im[b]! ** 2))
        meter.push(slot * 15_000 + (at + 1920) / 12, levels)
      }
    })
    meter.push(slots.length * 15_000 + 2000, new Float32Array(960))
    return kept
  }
  const signal = (audioOffsetHz: number, snrDb = -8): SimulatedSignal => ({ text: 'CQ Q1ABC JO31', snrDb, audioOffsetHz, timeOffsetS: 0.1 })
  const kept = measure([[signal(1475)], [signal(700)], [signal(1475)], [], [], []], [4])

  it('tells a used lane from a free one, in the slots of each parity', () => {
    expect(kept.map((slot) => slot.slotIndex)).toEqual([0, 1, 2, 3, 5])
    const even = ofParity(kept, 'even')
    expect(even.map((slot) => slot.slotIndex)).toEqual([0, 2])
    for (const slot of even) {
      expect(laneExcessDb(slot, 1475)).toBeGreaterThan(6)
      expect(laneExcessDb(slot, 700)).toBeLessThan(2.5)
    }
    expect(laneExcessDb(ofParity(kept, 'odd')[0]!, 700)).toBeGreaterThan(6)
  })

  it('offers no lane in which something was measured, though nothing was decoded there', () => {
    const lanes = findLanes({ users: [], occupancy: ofParity(kept, 'even') })
    for (const lane of lanes) expect(Math.abs(lane.audioOffsetHz - 1475)).toBeGreaterThanOrEqual(45)
    expect(lanes[0]!.reasons[0]).toBe('measured free in 2 of 2 slots')
    // In the odd slots the middle is free.
    expect(findLanes({ users: [], occupancy: ofParity(kept, 'odd') })[0]!.audioOffsetHz).toBeCloseTo(1475, -1)
  })

  it('tells who came upon the own lane', () => {
    const slot = (slotUsers: { call?: string; frequencyHz: number; snrDb: number }[], at = 3) => ({ slotIndex: at, users: slotUsers })
    expect(findIntruder(1500, 'Q5RVR', [slot([{ call: 'Q9ZZ', frequencyHz: 1530, snrDb: -5 }])])).toMatchObject({ call: 'Q9ZZ' })
    expect(findIntruder(1500, 'Q5RVR', [slot([{ call: 'Q5RVR', frequencyHz: 1500, snrDb: 20 }])])).toBeUndefined()
    expect(findIntruder(1500, 'Q5RVR', [slot([{ call: 'Q9ZZ', frequencyHz: 1560, snrDb: -5 }])])).toBeUndefined()
    expect(findIntruder(1500, 'Q5RVR', [slot([{ call: 'Q9ZZ', frequencyHz: 1500, snrDb: -5 }]), slot([], 5)])).toBeUndefined()
    expect(findIntruder(1475, 'Q5RVR', [{ slotIndex: 2, users: [], occupancy: kept[2]! }])).toEqual({ frequencyHz: 1475, slotIndex: 2 })
    expect(findIntruder(1475, 'Q5RVR', [])).toBeUndefined()
  })
})

describe('createSlotCutter', () => {
  const cut = (seconds: number, start = 0, blockS = 1.37) => {
    const cutter = createSlotCutter(start)
    const pieces = []
    for (let at = 0; at < seconds; at += blockS) {
      const length = Math.round(Math.min(blockS, seconds - at) * 12_000)
      pieces.push(...cutter.push(Float32Array.from({ length }, (_, i) => at + i / 12_000)))
    }
    return [...pieces, ...cutter.flush()]
  }
  it.each([
    [45, 0, [0, 1, 2]],
    [46, 0, [0, 1, 2]],
    [13, 0, [0]],
    [3, 0, []],
    [33, 3, [0, 1]],
    [33, -3, [0, 1, 2]],
    [33, -20, [1, 2, 3]],
  ])('%i s from %i s make slots %j', (seconds, start, slots) => {
    const pieces = cut(seconds, start)
    expect(pieces.map((p) => p.slot)).toEqual(slots)
    for (const { slot, samples, slotStartS } of pieces) {
      // Each sample holds its own time in the file.
      expect(samples[0]! + slotStartS).toBeCloseTo(start + 15 * slot, 3)
    }
  })
})

describe('tallySlot', () => {
  const slot = (slotIndex: number, over: Partial<Parameters<typeof tallySlot>[1]> = {}) => ({
    ...{ slotIndex, messages: 3, missingMs: 0, cutShort: false, transmitted: false, spoilt: false },
    ...over,
  })
  it('counts what became of slots, and those that never came', () => {
    const slots = [
      slot(10),
      slot(11, { transmitted: true, messages: 0 }),
      slot(12, { messages: 0, spoilt: true }),
      slot(15, { missingMs: 4000, cutShort: true }),
    ]
    expect(slots.reduce(tallySlot, emptyTally)).toEqual({
      ...{ heard: 2, empty: 1, transmitted: 1, gaps: 1, cutShort: 1, spoilt: 1, lost: 2, messages: 6 },
      ...{ firstSlotIndex: 10, lastSlotIndex: 15 },
    })
  })
})
