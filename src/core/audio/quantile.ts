/**
 * The value below which a share of the values lies (nearest rank). Sorts the values in place.
 * @param values not empty
 * @param share 0 to 1
 */
export function quantileInPlace(values: Float32Array | Float64Array, share: number): number {
  values.sort()
  return values[Math.min(values.length - 1, Math.floor(share * values.length))]!
}

/** The same, leaving the values as they are. */
export function quantile(values: ArrayLike<number>, share: number): number {
  return quantileInPlace(Float64Array.from(values), share)
}

export const powerToDb = (power: number): number => (power > 0 ? 10 * Math.log10(power) : -Infinity)
export const amplitudeToDb = (amplitude: number): number => (amplitude > 0 ? 20 * Math.log10(amplitude) : -Infinity)
export const dbToPower = (db: number): number => 10 ** (db / 10)
