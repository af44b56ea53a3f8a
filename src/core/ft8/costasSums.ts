import type { PowerGrid } from './powerGrid'
import { COSTAS, TONE_COUNT } from './signal'

export const BINS_PER_TONE = 2
export const STEPS_PER_SYMBOL = 4

/** Steps that a Costas array may begin before the grid does: its last symbol is then the grid's first. */
export const STEPS_BEFORE = STEPS_PER_SYMBOL * (COSTAS.length - 1)

/** Power of a Costas array that begins at each place of the grid. All three arrays of a signal are alike, so this is done once. */
export interface CostasSums {
  /** Of the array's own tones: own[(step + STEPS_BEFORE) * bins + bin], the bin being that of the lowest tone. */
  readonly own: Float32Array
  /** Of all the seven tones that an array uses, own ones among them. */
  readonly all: Float32Array
  /** How many of the seven symbols lie on the grid, for each step. The last row stands for all that lie beside it: 0. */
  readonly symbols: Uint8Array
}

interface Kept extends CostasSums {
  /** Where the grid was changed since. */
  stale: { from: number; to: number }[]
}

const kept = new WeakMap<Float32Array, Kept>()
let seven = new Float32Array(0)

/** The sums of a grid, kept with it for further looks. */
export function costasSums(grid: PowerGrid): CostasSums {
  const { power, bins, steps } = grid
  let sums = kept.get(power)
  if (!sums) {
    const rows = steps + STEPS_BEFORE + 1
    sums = {
      own: new Float32Array(rows * bins),
      all: new Float32Array(rows * bins),
      symbols: new Uint8Array(rows),
      stale: [{ from: 0, to: bins }],
    }
    for (let row = 0; row < rows - 1; row++) sums.symbols[row] = symbolsOnGrid(row, steps).length
    kept.set(power, sums)
  }
  for (const { from, to } of joined(sums.stale)) fill(grid, sums, from, to)
  sums.stale = []
  return sums
}

/** Says that the grid was changed in place between two bins. */
export function staleCostasSums({ power, bins }: PowerGrid, fromBin: number, toBin: number): void {
  // A lowest tone this far below has its highest in what changed.
  kept.get(power)?.stale.push({ from: Math.max(0, fromBin - BINS_PER_TONE * (TONE_COUNT - 1)), to: Math.min(bins, toBin) })
}

/** Stretches that touch made one. */
export function joined(stretches: readonly { from: number; to: number }[]): { from: number; to: number }[] {
  const out: { from: number; to: number }[] = []
  for (const { from, to } of [...stretches].sort((a, b) => a.from - b.from)) {
    const last = out[out.length - 1]
    if (last && from <= last.to) last.to = Math.max(last.to, to)
    else if (from < to) out.push({ from, to })
  }
  return out
}

/** Which symbols of an array that belongs to this row lie on the grid. */
function symbolsOnGrid(row: number, steps: number): number[] {
  return [...COSTAS.keys()].filter((k) => {
    const step = row - STEPS_BEFORE + STEPS_PER_SYMBOL * k
    return step >= 0 && step < steps
  })
}

function fill({ power, bins, steps }: PowerGrid, { own, all, symbols }: CostasSums, from: number, to: number): void {
  const end = Math.min(to, bins - BINS_PER_TONE * (COSTAS.length - 1))
  if (seven.length < steps * bins) seven = new Float32Array(steps * bins)
  for (let step = 0; step < steps; step++) {
    for (let at = step * bins + from; at < step * bins + end; at++) {
      seven[at] = power[at]! + power[at + 2]! + power[at + 4]! + power[at + 6]! + power[at + 8]! + power[at + 10]! + power[at + 12]!
    }
  }
  const symbolRows = STEPS_PER_SYMBOL * bins
  const [c0, c1, c2, c3, c4, c5, c6] = COSTAS.map((tone, k) => k * symbolRows + BINS_PER_TONE * tone) as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ]
  for (let row = 0; row < steps + STEPS_BEFORE; row++) {
    const into = row * bins
    const first = (row - STEPS_BEFORE) * bins
    if (symbols[row] === COSTAS.length) {
      // Nearly all rows: written out, for this is a good part of a decoder's work.
      for (let b = from; b < end; b++) {
        const p = first + b
        own[into + b] = power[p + c0]! + power[p + c1]! + power[p + c2]! + power[p + c3]! + power[p + c4]! + power[p + c5]! + power[p + c6]!
        let sum = seven[p]!
        for (let q = p + symbolRows; q <= p + 6 * symbolRows; q += symbolRows) sum += seven[q]!
        all[into + b] = sum
      }
      continue
    }
    const present = symbolsOnGrid(row, steps)
    for (let b = from; b < end; b++) {
      own[into + b] = 0
      all[into + b] = 0
      for (const k of present) {
        const p = first + b + k * symbolRows
        own[into + b]! += power[p + BINS_PER_TONE * COSTAS[k]!]!
        all[into + b]! += seven[p]!
      }
    }
  }
}
