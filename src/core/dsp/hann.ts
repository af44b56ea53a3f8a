/** The window of Hann: rises softly from nothing to one and falls again; its ends lie half a sample outside. */
export function hannWindow(length: number): Float64Array {
  return Float64Array.from({ length }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / length))
}
