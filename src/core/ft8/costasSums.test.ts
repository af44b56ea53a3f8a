import { createRandom } from '../dsp/random'
import { BINS_PER_TONE, costasSums, joined, staleCostasSums, STEPS_BEFORE, STEPS_PER_SYMBOL } from './costasSums'
import type { PowerGrid } from './powerGrid'
import { COSTAS } from './signal'

const BINS = 40
const STEPS = 60

function randomGrid(seed: number): PowerGrid {
  const random = createRandom(seed)
  return { steps: STEPS, bins: BINS, power: Float32Array.from({ length: STEPS * BINS }, () => random()) }
}

/** Straight from the definition. */
function byHand({ power, bins, steps }: PowerGrid, firstStep: number, bin: number) {
  let [own, all, symbols] = [0, 0, 0]
  COSTAS.forEach((tone, k) => {
    const step = firstStep + STEPS_PER_SYMBOL * k
    if (step < 0 || step >= steps) return
    symbols++
    own += power[step * bins + bin + BINS_PER_TONE * tone]!
    for (let t = 0; t < COSTAS.length; t++) all += power[step * bins + bin + BINS_PER_TONE * t]!
  })
  return { own, all, symbols }
}

function expectToAgree(grid: PowerGrid) {
  const { own, all, symbols } = costasSums(grid)
  for (let step = -STEPS_BEFORE; step < STEPS; step++) {
    for (let bin = 0; bin < BINS - BINS_PER_TONE * (COSTAS.length - 1); bin++) {
      const at = (step + STEPS_BEFORE) * BINS + bin
      const wanted = byHand(grid, step, bin)
      expect(own[at]).toBeCloseTo(wanted.own, 4)
      expect(all[at]).toBeCloseTo(wanted.all, 4)
      expect(symbols[step + STEPS_BEFORE]).toBe(wanted.symbols)
    }
  }
}

describe('sums over Costas arrays', () => {
  it('are what the definition says, also for arrays that stand out of the grid on either side', () => expectToAgree(randomGrid(1)))

  it('hold no symbol and no power beside the grid', () => {
    const { own, all, symbols } = costasSums(randomGrid(2))
    expect(symbols[STEPS + STEPS_BEFORE]).toBe(0)
    expect([...own.subarray(-BINS), ...all.subarray(-BINS)].every((value) => value === 0)).toBe(true)
  })

  it.each([
    ['in the middle', 18, 22],
    ['at the lower edge', 0, 3],
    ['at the upper edge', 37, 40],
  ])('follow a change of the grid %s', (_, from, to) => {
    const grid = randomGrid(3)
    costasSums(grid)
    const random = createRandom(4)
    for (let step = 0; step < STEPS; step++) for (let bin = from; bin < to; bin++) grid.power[step * BINS + bin] = 5 * random()
    staleCostasSums(grid, from, to)
    expectToAgree(grid)
  })

  it('of two grids are kept apart', () => {
    const [one, other] = [randomGrid(5), randomGrid(6)]
    costasSums(one)
    costasSums(other)
    expectToAgree(one)
    expectToAgree(other)
  })
})

describe('stretches', () => {
  it.each([
    [[], []],
    [[{ from: 5, to: 5 }], []],
    [
      [
        { from: 10, to: 20 },
        { from: 0, to: 10 },
      ],
      [{ from: 0, to: 20 }],
    ],
    [
      [
        { from: 0, to: 50 },
        { from: 10, to: 20 },
        { from: 60, to: 61 },
      ],
      [
        { from: 0, to: 50 },
        { from: 60, to: 61 },
      ],
    ],
  ])('that touch are made one: %j', (stretches, expected) => expect(joined(stretches)).toEqual(expected))
})
