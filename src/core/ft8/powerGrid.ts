import { createFft, createRealFft } from '../dsp/fft'
import { SAMPLES_PER_SYMBOL, SYMBOL_S } from './signal'
import { staleCostasSums } from './costasSums'
import type { SlotSpectrum } from './slotSpectrum'

/** Powers of short overlapping transforms: half a tone in frequency, a quarter of a symbol in time. */
export interface PowerGrid {
  readonly steps: number
  readonly bins: number
  /** power[step * bins + bin] */
  readonly power: Float32Array
}

export const GRID_BIN_HZ = 3.125
export const GRID_STEP_S = 0.04
const GRID_STEP = SAMPLES_PER_SYMBOL / 4
const GRID_FFT = SAMPLES_PER_SYMBOL * 2

const fft = createRealFft(GRID_FFT)

/**
 * Measures the grid: a symbol-long window (zero-padded to two) every quarter symbol.
 * @param samples 12 kHz audio
 * @param highestHz frequencies above are not kept
 */
export function measureGrid(samples: ArrayLike<number>, sampleCount: number, highestHz: number): PowerGrid {
  const steps = Math.max(0, Math.floor((sampleCount - SAMPLES_PER_SYMBOL) / GRID_STEP) + 1)
  const bins = Math.min(GRID_FFT / 2, Math.ceil(highestHz / GRID_BIN_HZ) + 2 * 8)
  const power = new Float32Array(steps * bins)
  const block = new Float64Array(GRID_FFT)
  const re = new Float64Array(GRID_FFT / 2 + 1)
  const im = new Float64Array(GRID_FFT / 2 + 1)
  for (let step = 0; step < steps; step++) {
    const from = step * GRID_STEP
    for (let i = 0; i < SAMPLES_PER_SYMBOL; i++) block[i] = samples[from + i]!
    fft.forward(block, re, im)
    const row = step * bins
    for (let b = 0; b < bins; b++) power[row + b] = re[b]! * re[b]! + im[b]! * im[b]!
  }
  return { steps, bins, power }
}

/** A band of 400 Hz has the same grid with 64 samples to a symbol. */
const NARROW_BINS = 8192
const NARROW_RATE_HZ = 400
const NARROW_SYMBOL = SYMBOL_S * NARROW_RATE_HZ
const NARROW_STEP = NARROW_SYMBOL / 4
const NARROW_FFT = NARROW_SYMBOL * 2
/** Towards its edges the band lacks what lies beyond them. */
const NARROW_REACH_BINS = 50
/** With more places than this the whole grid is measured faster. */
const MOST_PLACES = 24

const narrowFft = createFft(NARROW_FFT)

/**
 * Measures a grid again where signals were taken out of the slot.
 * @param placesHz middles of what was taken away; the grid changes within 150 Hz of them
 * @returns a grid with the changes; the old one is used up
 */
export function remeasureGrid(
  grid: PowerGrid,
  spectrum: SlotSpectrum,
  sampleCount: number,
  highestHz: number,
  placesHz: readonly number[],
): PowerGrid {
  if (placesHz.length > MOST_PLACES) return measureGrid(spectrum.toSamples(), sampleCount, highestHz)
  const { power, bins, steps } = grid
  const re = new Float64Array(NARROW_FFT)
  const im = new Float64Array(NARROW_FFT)
  for (const hz of placesHz) {
    const middle = Math.round(hz / GRID_BIN_HZ)
    const band = spectrum.cut(middle * GRID_BIN_HZ, NARROW_BINS)
    for (let step = 0; step < steps; step++) {
      const from = step * NARROW_STEP
      re.fill(0)
      im.fill(0)
      re.set(band.re.subarray(from, from + NARROW_SYMBOL))
      im.set(band.im.subarray(from, from + NARROW_SYMBOL))
      narrowFft.forward(re, im)
      for (let d = -NARROW_REACH_BINS; d <= NARROW_REACH_BINS; d++) {
        const bin = middle + d
        if (bin < 0 || bin >= bins) continue
        const at = d < 0 ? d + NARROW_FFT : d
        power[step * bins + bin] = re[at]! * re[at]! + im[at]! * im[at]!
      }
    }
    staleCostasSums(grid, middle - NARROW_REACH_BINS, middle + NARROW_REACH_BINS + 1)
  }
  return { steps, bins, power }
}
