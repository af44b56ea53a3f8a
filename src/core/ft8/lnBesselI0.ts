const { log } = Math
const STEP = 1 / 32
const TABLE_END = 40
const table = Float64Array.from({ length: TABLE_END / STEP + 2 }, (_, i) => exactLnI0(i * STEP))

/** Series for small arguments, asymptotic expansion beyond (Abramowitz and Stegun 9.6.10 and 9.7.1). */
function exactLnI0(x: number): number {
  if (x > 15) return x - 0.5 * log(2 * Math.PI * x) + log(1 + 1 / (8 * x) + 9 / (128 * x * x))
  let term = 1
  let sum = 1
  for (let k = 1; term > 1e-17 * sum; k++) {
    term *= (x / 2 / k) ** 2
    sum += term
  }
  return log(sum)
}

/** Natural logarithm of the modified Bessel function of order 0, for x >= 0; error below 1e-3. */
export function lnBesselI0(x: number): number {
  if (x >= TABLE_END) return x - 0.5 * log(2 * Math.PI * x)
  const at = x / STEP
  const i = at | 0
  const below = table[i]!
  return below + (at - i) * (table[i + 1]! - below)
}
