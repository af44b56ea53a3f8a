import { createRandom } from '../dsp/random'
import { EpochFinder, type Epoch, type EpochLine } from './epochFinder'
import { judgePace, type BurstRead } from './linePace'
import { LineLoadWatch } from './lineLoad'
import { ReadTimes } from './readTimes'

/** Reads of bursts whose bytes take so long each, in pieces, with jitter that never makes a read early or out of order. */
function readsOf({ byteMs, bursts = 20, bytes = 300, piece = 32, jitterMs = 0 }: Record<string, number> & { byteMs: number }): BurstRead[] {
  const random = createRandom(7)
  return Array.from({ length: bursts }, () => {
    let before = 0
    return Array.from({ length: Math.ceil(bytes / piece) }, (_, i): BurstRead => {
      const end = Math.min(bytes, (i + 1) * piece)
      before = Math.max(before, 40 + end * byteMs + jitterMs * random())
      return { bytes: end, afterMs: before }
    })
  }).flat()
}

describe('the pace of bytes', () => {
  it.each([
    ['a line of the speed told', readsOf({ byteMs: 1.0417 }), 1.0417, 'line', 1.0417],
    ['one with jitter', readsOf({ byteMs: 1.0417, jitterMs: 60 }), 1.0417, 'line', 1.0417],
    ['a receiver on USB', readsOf({ byteMs: 0 }), 1.0417, 'free', 0],
    ['one with jitter on USB', readsOf({ byteMs: 0, jitterMs: 60 }), 1.0417, 'free', 0],
    ['one read for each burst', readsOf({ byteMs: 0, piece: 300 }), 1.0417, 'unknown', 1.0417],
    ['a single burst', readsOf({ byteMs: 0, bursts: 1 }), 1.0417, 'unknown', 1.0417],
    ['a network with a slow line behind it', readsOf({ byteMs: 2.0833, piece: 70 }), undefined, 'line', 2.0833],
    ['one with a faster line', readsOf({ byteMs: 0.2604, piece: 16 }), undefined, 'line', 0.2604],
    ['a phone', readsOf({ byteMs: 0, piece: 70 }), undefined, 'free', 0],
  ] as const)('of %s', (_, reads, toldByteMs, kind, byteMs) => {
    const pace = judgePace(reads, toldByteMs)
    expect(pace.kind).toBe(kind)
    expect(pace.byteMs).toBeCloseTo(byteMs, 3)
  })
})

describe('a phone through a poor network', () => {
  it('looks like a fast line at worst, by which its first sentence moves little', () => {
    const pace = judgePace(readsOf({ byteMs: 0, piece: 70, jitterMs: 80, bursts: 40 }), undefined)
    expect(70 * (pace.kind === 'free' ? 0 : pace.byteMs)).toBeLessThan(15)
  })
})

describe('epochs', () => {
  /** Lines such as "GGA 1" or "GSV", ten bytes each. */
  const run = (...texts: string[]): Epoch[] => {
    const finder = new EpochFinder()
    return texts.flatMap((text, i) => {
      const [type, second] = text.split(' ')
      const line = { label: type!, firstByte: 10 * i, ...(second && { timeOfDayMs: 1000 * Number(second) }) }
      const known = ['RMC', 'GGA', 'GLL', 'ZDA', 'GSV'].includes(type!) ? { type: type as NonNullable<EpochLine['type']> } : {}
      return finder.push({ ...line, ...known }) ?? []
    })
  }
  const second = (s: number, order: string) => order.replaceAll('#', String(s)).split(',')
  const stream = (order: string) => [1, 2, 3, 4].flatMap((s) => second(s, order))

  it.each([
    // order of a burst, where the second burst begins and ends, and what of it may be its first line
    ['GGA #,RMC #', 20, 40, ['GGA fix']],
    ['RMC #,GSV,GGA #', 30, 60, ['RMC fix']],
    ['GSV,GGA #,RMC #', 40, 60, ['GSV maybe', 'GGA fix']],
    ['ZDA #,GGA #,RMC #', 30, 60, ['ZDA apart', 'GGA fix']],
    ['GGA #', 10, 20, ['GGA fix']],
  ])('of %s', (order, firstNamed, endByte, starts) => {
    const epoch = run(...stream(order)).find((e) => e.timeOfDayMs === 2000)!
    expect(epoch.starts.find((s) => s.says !== 'maybe')!.firstByte).toBe(firstNamed)
    expect(epoch.endByte).toBe(endByte)
    expect(epoch.starts.map((s) => `${s.label} ${s.says}`)).toEqual(starts)
  })
  it('are not begun by a sentence that is late, nor ended by one', () => {
    const late = run('GGA 1', 'RMC 1', 'GGA 2', 'RMC 2', 'ZDA 1', 'GGA 3', 'RMC 3', 'ZDA 2', 'GGA 4', 'RMC 4')
    expect(late.map((e) => [e.timeOfDayMs, e.starts[0]!.firstByte, e.endByte])).toEqual([
      [2000, 20, 40],
      [3000, 50, 70],
    ])
  })
  it('take whatever leads while nothing better is heard', () => {
    expect(run('GLL 1', 'GLL 2', 'GLL 3').map((e) => e.timeOfDayMs)).toEqual([2000])
    // RMC comes in: it leads from then on.
    expect(run('GGA 1', 'GGA 2', 'RMC 2', 'GGA 3', 'RMC 3', 'GGA 4', 'RMC 4', 'GGA 5', 'RMC 5').map((e) => e.timeOfDayMs)).toEqual([
      3000, 4000,
    ])
  })
  it('stay bounded in a stream without times', () => {
    const finder = new EpochFinder()
    for (let i = 0; i < 5000; i++) expect(finder.push({ label: 'TXT', firstByte: 40 * i })).toBeUndefined()
    expect((finder as unknown as { lines: unknown[] }).lines.length).toBeLessThanOrEqual(400)
  })
})

describe('the load of a line', () => {
  /** Bursts of so many bytes a second, in pieces, over a line of 9600 baud. */
  const load = (bytesASecond: number, seconds: number, { silentS = 0 } = {}) => {
    const reads = new ReadTimes()
    const watch = new LineLoadWatch(reads)
    let endByte = 0
    let lineMs = 0
    let none = false
    for (let s = 0; s < seconds; s++) {
      lineMs = Math.max(lineMs, 1000 * (s + (s > seconds / 2 ? silentS : 0)))
      for (let sent = 0; sent < bytesASecond; sent += 20) {
        lineMs += (20 * 10_000) / 9600
        reads.push({ endByte: (endByte += 20), monotonicMs: lineMs })
        none = watch.watchLine(lineMs, 10_000 / 9600) || none
      }
    }
    return { load: watch.at(lineMs), none }
  }
  it.each([
    ['half full', 480, 20, 'free'],
    ['nearly full', 940, 20, 'free'],
    ['nearly full, heard briefly', 940, 5, 'notKnownYet'],
    ['just begun', 480, 1, 'notKnownYet'],
    ['over full', 1100, 20, 'full'],
  ] as const)('that is %s', (_, bytes, seconds, expected) => expect(load(bytes, seconds).load).toBe(expected))
  it('does not take a line that fills up after a silence for a free one', () => {
    expect(load(1100, 12, { silentS: 5 }).load).not.toBe('free')
  })
  it('knows that what carries more than it can is no line', () => {
    const reads = new ReadTimes()
    const watch = new LineLoadWatch(reads)
    const seen = Array.from({ length: 300 }, (_, i) => {
      reads.push({ endByte: 300 * (i + 1), monotonicMs: 100 * i })
      return watch.watchLine(100 * i, 10_000 / 9600)
    })
    expect(seen.slice(0, 80)).not.toContain(true)
    expect(seen.at(-1)).toBe(true)
  })
})
