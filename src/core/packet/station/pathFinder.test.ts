import type { HeardStation } from './contracts'
import { pathsTo } from './pathFinder'

const heard = (call: string, by: string | null, lastUtcMs: number): HeardStation => ({ call, by, lastUtcMs, frames: 1, text: null })

describe('ways to a station', () => {
  it.each<[string, HeardStation[], string[][]]>([
    ['that nobody heard, where no digipeater was heard', [], [[]]],
    ['heard itself', [heard('Q5CTL-7', null, 1), heard('Q3TUV', 'Q8TOP', 2)], [[], ['Q8TOP']]],
    ['heard by a digipeater', [heard('Q5CTL-7', 'Q8TOP', 1)], [['Q8TOP'], []]],
    ['not heard, with two digipeaters', [heard('Q3TUV', 'Q8TOP', 1), heard('Q4BOT-3', 'Q6BRG', 2)], [[], ['Q6BRG'], ['Q8TOP']]],
    ['that repeats others itself', [heard('Q3TUV', 'Q5CTL-7', 1)], [[]]],
  ])('%s', (_, list, paths) => {
    expect(pathsTo('Q5CTL-7', list)).toEqual(paths)
  })

  it('are few, however many digipeaters there are', () => {
    const many = Array.from({ length: 30 }, (_, k) => heard(`Q1AA-${k % 16}`, `Q2D${k}`, k))
    expect(pathsTo('Q5CTL-7', many)).toHaveLength(6)
    expect(pathsTo('Q5CTL-7', many)[1]).toEqual(['Q2D29'])
  })
})
