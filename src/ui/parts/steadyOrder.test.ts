import fc from 'fast-check'
import { BLIND_MS, isAimed, nothingSteady, PAUSE_MS, REST_MS, settle, type Steady } from './steadyOrder'

const filled: Steady = settle(nothingSteady, ['a', 'b', 'c'], { nowMs: 0, handMs: -Infinity })

describe('a list under a hand', () => {
  it('is filled at once', () => {
    expect(filled).toMatchObject({ keys: ['a', 'b', 'c'], waits: false })
    expect(isAimed(filled, 'a', 0)).toBe(true)
  })

  it('takes new rows at its end, and says that it would stand otherwise', () => {
    const next = settle(filled, ['d', 'a', 'b', 'c'], { nowMs: 100_000, handMs: 99_000 })
    expect(next).toMatchObject({ keys: ['a', 'b', 'c', 'd'], waits: true })
  })

  it('comes into order when the hand pauses, and not again before it has rested', () => {
    const first = settle(filled, ['c', 'a', 'b'], { nowMs: 100_000, handMs: 100_000 - PAUSE_MS })
    expect(first).toMatchObject({ keys: ['c', 'a', 'b'], waits: false, sortedMs: 100_000 })
    const soon = settle(first, ['b', 'c', 'a'], { nowMs: 100_000 + REST_MS - 1, handMs: -Infinity })
    expect(soon).toMatchObject({ keys: ['c', 'a', 'b'], waits: true })
    expect(settle(soon, ['b', 'c', 'a'], { nowMs: 100_000 + REST_MS, handMs: -Infinity }).keys).toEqual(['b', 'c', 'a'])
  })

  it('comes into order at once when that is asked for', () => {
    expect(settle(filled, ['c', 'b', 'a'], { nowMs: 1, handMs: 1, asked: true }).keys).toEqual(['c', 'b', 'a'])
  })

  it('does not obey a tap on a row that has just come under the finger', () => {
    const sorted = settle(filled, ['c', 'b', 'a'], { nowMs: 50_000, handMs: 0 })
    expect([isAimed(sorted, 'c', 50_000 + BLIND_MS - 1), isAimed(sorted, 'b', 50_001), isAimed(sorted, 'c', 50_000 + BLIND_MS)]).toEqual([
      false,
      true,
      true,
    ])
    // When one is gone, those below have moved up.
    const gone = settle(filled, ['a', 'c'], { nowMs: 50_000, handMs: 50_000 })
    expect(gone.keys).toEqual(['a', 'c'])
    expect([isAimed(gone, 'a', 50_001), isAimed(gone, 'c', 50_001)]).toEqual([true, false])
  })

  it('shows all rows and no others, and never moves one under a hand unless another is gone', () => {
    const rows = fc.uniqueArray(fc.constantFrom(...'abcdefgh'), { maxLength: 8 })
    fc.assert(
      fc.property(
        fc.array(fc.record({ wanted: rows, waitMs: fc.integer({ min: 0, max: 12_000 }), hand: fc.boolean() }), { maxLength: 40 }),
        (steps) => {
          let steady = nothingSteady
          let nowMs = 0
          let handMs = -Infinity
          for (const { wanted, waitMs, hand } of steps) {
            nowMs += waitMs
            if (hand) handMs = nowMs
            const next = settle(steady, wanted, { nowMs, handMs })
            expect([...next.keys].sort()).toEqual([...wanted].sort())
            if (nowMs - handMs < PAUSE_MS && steady.keys.some((key) => wanted.includes(key)))
              expect(next.keys.slice(0, steady.keys.filter((key) => wanted.includes(key)).length)).toEqual(
                steady.keys.filter((key) => wanted.includes(key)),
              )
            steady = next
          }
        },
      ),
      { seed: 16 },
    )
  })
})
