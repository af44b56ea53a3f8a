import { createSlotCutter } from './slotCutter'
import { answerParity, hearSlot, type HeardStation } from './heardStation'
import { findLanes } from './lanes'
import { heardAs } from './simulate'

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
  ])('%s', (text, doing) => expect(hearSlot(new Map(), 5, [decode(text)], 'Q5RVR').get('Q1ABC')!.doing).toEqual(doing))

  it('keeps locator and strengths, and forgets who went quiet', () => {
    let stations: ReadonlyMap<string, HeardStation> = new Map()
    stations = hearSlot(stations, 4, [decode('CQ Q1ABC JO31', -3)], 'Q5RVR')
    stations = hearSlot(stations, 6, [decode('Q2DEF Q1ABC -08', -5)], 'Q5RVR')
    const heard = stations.get('Q1ABC')!
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
    expect(hearSlot(stations, 60, [], 'Q5RVR').size).toBe(0)
  })

  it('does not list the own station or free text', () => {
    expect(hearSlot(new Map(), 4, [decode('CQ Q5RVR JN97'), decode('HELLO RIVER')], 'Q5RVR').size).toBe(0)
  })
})

describe('findLanes', () => {
  it('offers three lanes apart from one another and from what is heard', () => {
    const heard = [500, 800, 1500, 1530, 2200]
    const lanes = findLanes(heard)
    expect(lanes).toHaveLength(3)
    for (const lane of lanes)
      for (const hz of heard) expect(Math.abs(hz - lane.audioOffsetHz) - 50).toBeGreaterThanOrEqual(lane.clearanceHz)
    expect(lanes[0]!.clearanceHz).toBeGreaterThanOrEqual(lanes[2]!.clearanceHz)
  })
  it('offers the middle of an empty band, and nothing in a full one', () => {
    expect(findLanes([])[0]!.audioOffsetHz).toBeCloseTo(1475, -1)
    expect(findLanes(Array.from({ length: 60 }, (_, i) => 300 + 45 * i))).toEqual([])
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
