import { GENERATOR_ROWS, PARITY_CHECKS } from './ldpcTables'
import { CODEWORD_BITS, MESSAGE_BITS, PARITY_BITS } from './signal'

const { log } = Math

/** generator[row] as 91 values 0 or 1, from the hex rows. */
const generator: readonly Uint8Array[] = GENERATOR_ROWS.map((hex) => {
  const bits = new Uint8Array(MESSAGE_BITS)
  for (let i = 0; i < MESSAGE_BITS; i++) {
    const nibble = parseInt(hex[i >> 2]!, 16)
    bits[i] = (nibble >> (3 - (i & 3))) & 1
  }
  return bits
})

/**
 * Encodes 91 message bits systematically: the codeword is the message followed by 83 parity bits.
 * @param message 91 values 0 or 1
 * @returns 174 values 0 or 1
 */
export function encodeLdpc(message: ArrayLike<number>): Uint8Array {
  const codeword = new Uint8Array(CODEWORD_BITS)
  for (let i = 0; i < MESSAGE_BITS; i++) codeword[i] = message[i]!
  for (let row = 0; row < PARITY_BITS; row++) {
    const mask = generator[row]!
    let parity = 0
    for (let i = 0; i < MESSAGE_BITS; i++) parity ^= mask[i]! & message[i]!
    codeword[MESSAGE_BITS + row] = parity
  }
  return codeword
}

/** Counts the parity checks that a hard-decided codeword breaks, 0 to 83. */
export function countBrokenChecks(codeword: ArrayLike<number>): number {
  let broken = 0
  for (const check of PARITY_CHECKS) {
    let parity = 0
    for (const position of check) parity ^= codeword[position]!
    broken += parity
  }
  return broken
}

/** Edges of the code's graph in check order, flattened for the decoder's inner loops. */
const checkStart = new Int32Array(PARITY_BITS + 1)
const edgeBit: Int32Array = (() => {
  const bits: number[] = []
  PARITY_CHECKS.forEach((check, i) => {
    bits.push(...check)
    checkStart[i + 1] = bits.length
  })
  return Int32Array.from(bits)
})()
const edgeCount = edgeBit.length
const longestCheck = Math.max(...PARITY_CHECKS.map((check) => check.length))

export interface BeliefPropagationResult {
  /** True when all parity checks hold. */
  readonly converged: boolean
  /** Hard decisions, 174 values 0 or 1. Reused by the next call. */
  readonly codeword: Uint8Array
  /** Beliefs summed over the first iterations, 174 values, positive for a 1: a good order for ordered statistics. */
  readonly belief: Float64Array
}

export interface BeliefPropagation {
  (llr: ArrayLike<number>, maxIterations: number): BeliefPropagationResult
}

/**
 * Creates a sum-product decoder with its own working memory.
 * The decoder takes 174 log-likelihood ratios (natural log, positive for a 1) and gives up early
 * when the number of broken checks has stopped falling.
 */
export function createBeliefPropagation(): BeliefPropagation {
  const toBit = new Float64Array(edgeCount)
  const total = new Float64Array(CODEWORD_BITS)
  const belief = new Float64Array(CODEWORD_BITS)
  const codeword = new Uint8Array(CODEWORD_BITS)
  const tanhs = new Float64Array(longestCheck)
  const prefix = new Float64Array(longestCheck + 1)
  const accumulateFor = 3

  return (llr, maxIterations) => {
    toBit.fill(0)
    for (let i = 0; i < CODEWORD_BITS; i++) total[i] = llr[i]!
    belief.fill(0)
    let fewest = PARITY_BITS + 1
    let stalled = 0
    for (let iteration = 0; iteration <= maxIterations; iteration++) {
      for (let i = 0; i < CODEWORD_BITS; i++) {
        codeword[i] = total[i]! > 0 ? 1 : 0
        if (iteration > 0 && iteration <= accumulateFor) belief[i]! += total[i]!
      }
      let broken = 0
      for (let c = 0; c < PARITY_BITS; c++) {
        let parity = 0
        for (let e = checkStart[c]!; e < checkStart[c + 1]!; e++) parity ^= codeword[edgeBit[e]!]!
        broken += parity
      }
      if (broken === 0) return { converged: true, codeword, belief }
      if (broken < fewest) {
        fewest = broken
        stalled = 0
      } else if (++stalled >= 6 && iteration > 8 && broken > 12) break
      if (iteration === maxIterations) break

      for (let c = 0; c < PARITY_BITS; c++) {
        const from = checkStart[c]!
        const degree = checkStart[c + 1]! - from
        prefix[0] = 1
        for (let k = 0; k < degree; k++) {
          const v = total[edgeBit[from + k]!]! - toBit[from + k]!
          const t = fastTanh(-0.5 * v)
          tanhs[k] = t
          prefix[k + 1] = prefix[k]! * t
        }
        let suffix = 1
        for (let k = degree - 1; k >= 0; k--) {
          const e = from + k
          const message = -2 * fastAtanh(prefix[k]! * suffix)
          total[edgeBit[e]!]! += message - toBit[e]!
          toBit[e] = message
          suffix *= tanhs[k]!
        }
      }
    }
    return { converged: false, codeword, belief }
  }
}

/** tanh by a continued fraction; its error, below 1e-3, is far under the noise of any log-likelihood ratio. */
function fastTanh(x: number): number {
  if (x > 4.97) return 0.9999
  if (x < -4.97) return -0.9999
  const s = x * x
  return (x * (135135 + s * (17325 + s * (378 + s)))) / (135135 + s * (62370 + s * (3150 + s * 28)))
}

function fastAtanh(x: number): number {
  if (x > 0.99995) return 5.3
  if (x < -0.99995) return -5.3
  return 0.5 * log((1 + x) / (1 - x))
}
