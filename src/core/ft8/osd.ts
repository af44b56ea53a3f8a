import { PARITY_CHECKS } from './ldpcTables'
import { CODEWORD_BITS, MESSAGE_BITS, PARITY_BITS } from './signal'

const { abs } = Math

/** 174 bits in six 32-bit words: word w, bit b holds codeword position 32 w + b. */
const WORDS = 6
/** 83 bits of a parity column in three words. */
const COLUMN_WORDS = 3
const TABLES = 11

export interface OsdResult {
  /** The most likely codeword found, 174 values 0 or 1. Reused by the next call. */
  readonly codeword: Uint8Array
  /** Sum of |llr| over the positions where it differs from the hard decisions. */
  readonly distance: number
  /** Number of positions where it differs from the hard decisions. */
  readonly flips: number
}

export interface OrderedStatistics {
  /**
   * @param llr 174 log-likelihood ratios, positive for a 1
   * @param order how many of the reliable bits may be wrong together: 0, 1, 2 or 3
   * @param reach for order 3, how many of the least reliable of the reliable bits take part
   */
  (llr: ArrayLike<number>, order: number, reach?: number): OsdResult
}

/**
 * Creates an ordered-statistics decoder (Fossorier and Lin, 1995) with its own working memory.
 *
 * The 91 most reliable independent bits determine a codeword. Flipping few of them and re-encoding gives
 * candidates, of which the one nearest to the received values is returned; whether to believe it is the caller's matter.
 * It works on the parity-check side: 83 least reliable independent columns are reduced to the identity, so that
 * each reliable bit owns one 83-bit column, and trying a flip is three exclusive-ors and eleven table look-ups.
 */
export function createOrderedStatistics(): OrderedStatistics {
  const base = new Int32Array(PARITY_BITS * WORDS)
  PARITY_CHECKS.forEach((check, row) => {
    for (const position of check) base[row * WORDS + (position >> 5)]! |= 1 << (position & 31)
  })
  const rows = new Int32Array(PARITY_BITS * WORDS)
  const weight = new Float64Array(CODEWORD_BITS)
  const hard = new Uint8Array(CODEWORD_BITS)
  const sortKeys = new Float64Array(CODEWORD_BITS)
  const order = new Int32Array(CODEWORD_BITS)
  const pivotOfRow = new Int32Array(PARITY_BITS)
  const isPivot = new Uint8Array(CODEWORD_BITS)
  const info = new Int32Array(MESSAGE_BITS)
  const columns = new Int32Array(MESSAGE_BITS * COLUMN_WORDS)
  const tables = new Float64Array(TABLES * 256)
  const codeword = new Uint8Array(CODEWORD_BITS)

  const reduce = () => {
    rows.set(base)
    isPivot.fill(0)
    let done = 0
    for (let i = 0; i < CODEWORD_BITS && done < PARITY_BITS; i++) {
      const position = order[i]!
      const word = position >> 5
      const mask = 1 << (position & 31)
      let found = -1
      for (let r = done; r < PARITY_BITS; r++) {
        if (rows[r * WORDS + word]! & mask) {
          found = r
          break
        }
      }
      if (found < 0) continue
      if (found !== done) {
        for (let w = 0; w < WORDS; w++) {
          const t = rows[found * WORDS + w]!
          rows[found * WORDS + w] = rows[done * WORDS + w]!
          rows[done * WORDS + w] = t
        }
      }
      const p = done * WORDS
      for (let r = 0; r < PARITY_BITS; r++) {
        const o = r * WORDS
        if (r !== done && rows[o + word]! & mask) {
          rows[o]! ^= rows[p]!
          rows[o + 1]! ^= rows[p + 1]!
          rows[o + 2]! ^= rows[p + 2]!
          rows[o + 3]! ^= rows[p + 3]!
          rows[o + 4]! ^= rows[p + 4]!
          rows[o + 5]! ^= rows[p + 5]!
        }
      }
      pivotOfRow[done] = position
      isPivot[position] = 1
      done++
    }
  }

  const buildColumns = () => {
    let k = 0
    // Least reliable first, so that the flips most worth trying come first.
    for (let i = 0; i < CODEWORD_BITS; i++) if (!isPivot[order[i]!]) info[k++] = order[i]!
    columns.fill(0)
    for (let j = 0; j < MESSAGE_BITS; j++) {
      const position = info[j]!
      const word = position >> 5
      const shift = position & 31
      for (let r = 0; r < PARITY_BITS; r++) {
        if ((rows[r * WORDS + word]! >>> shift) & 1) columns[j * COLUMN_WORDS + (r >> 5)]! |= 1 << (r & 31)
      }
    }
    for (let t = 0; t < TABLES; t++) {
      const from = t * 256
      tables[from] = 0
      for (let b = 0; b < 8; b++) {
        const row = t * 8 + b
        const w = row < PARITY_BITS ? weight[pivotOfRow[row]!]! : 0
        const size = 1 << b
        for (let v = 0; v < size; v++) tables[from + size + v] = tables[from + v]! + w
      }
    }
  }

  const cost = (a: number, b: number, c: number): number =>
    tables[a & 255]! +
    tables[256 + ((a >>> 8) & 255)]! +
    tables[512 + ((a >>> 16) & 255)]! +
    tables[768 + (a >>> 24)]! +
    tables[1024 + (b & 255)]! +
    tables[1280 + ((b >>> 8) & 255)]! +
    tables[1536 + ((b >>> 16) & 255)]! +
    tables[1792 + (b >>> 24)]! +
    tables[2048 + (c & 255)]! +
    tables[2304 + ((c >>> 8) & 255)]! +
    tables[2560 + ((c >>> 16) & 255)]!

  return (llr, maxOrder, reach = 30) => {
    for (let i = 0; i < CODEWORD_BITS; i++) {
      const value = llr[i]!
      weight[i] = abs(value)
      hard[i] = value > 0 ? 1 : 0
      sortKeys[i] = weight[i]!
      order[i] = i
    }
    order.sort((x, y) => sortKeys[x]! - sortKeys[y]!)
    reduce()
    buildColumns()

    // Discrepancy of the dependent bits when the reliable ones are taken as received.
    let e0 = 0
    let e1 = 0
    let e2 = 0
    for (let j = 0; j < MESSAGE_BITS; j++) {
      if (!hard[info[j]!]) continue
      e0 ^= columns[j * 3]!
      e1 ^= columns[j * 3 + 1]!
      e2 ^= columns[j * 3 + 2]!
    }
    for (let r = 0; r < PARITY_BITS; r++) {
      if (!hard[pivotOfRow[r]!]) continue
      if (r < 32) e0 ^= 1 << r
      else if (r < 64) e1 ^= 1 << (r - 32)
      else e2 ^= 1 << (r - 64)
    }

    let best = cost(e0, e1, e2)
    let bestA = -1
    let bestB = -1
    let bestC = -1
    if (maxOrder >= 1) {
      for (let i = 0; i < MESSAGE_BITS; i++) {
        const wi = weight[info[i]!]!
        if (wi >= best) continue
        const a0 = e0 ^ columns[i * 3]!
        const a1 = e1 ^ columns[i * 3 + 1]!
        const a2 = e2 ^ columns[i * 3 + 2]!
        const d1 = wi + cost(a0, a1, a2)
        if (d1 < best) {
          best = d1
          bestA = i
          bestB = bestC = -1
        }
        if (maxOrder < 2) continue
        for (let j = 0; j < i; j++) {
          const wj = wi + weight[info[j]!]!
          if (wj >= best) continue
          const b0 = a0 ^ columns[j * 3]!
          const b1 = a1 ^ columns[j * 3 + 1]!
          const b2 = a2 ^ columns[j * 3 + 2]!
          const d2 = wj + cost(b0, b1, b2)
          if (d2 < best) {
            best = d2
            bestA = i
            bestB = j
            bestC = -1
          }
          if (maxOrder < 3 || i >= reach) continue
          for (let k = 0; k < j; k++) {
            const wk = wj + weight[info[k]!]!
            if (wk >= best) continue
            const d3 = wk + cost(b0 ^ columns[k * 3]!, b1 ^ columns[k * 3 + 1]!, b2 ^ columns[k * 3 + 2]!)
            if (d3 < best) {
              best = d3
              bestA = i
              bestB = j
              bestC = k
            }
          }
        }
      }
    }

    codeword.set(hard)
    for (const flip of [bestA, bestB, bestC]) {
      if (flip < 0) continue
      codeword[info[flip]!]! ^= 1
      e0 ^= columns[flip * 3]!
      e1 ^= columns[flip * 3 + 1]!
      e2 ^= columns[flip * 3 + 2]!
    }
    for (let r = 0; r < PARITY_BITS; r++) {
      const word = r < 32 ? e0 : r < 64 ? e1 : e2
      if ((word >>> (r & 31)) & 1) codeword[pivotOfRow[r]!]! ^= 1
    }
    let flips = 0
    for (let i = 0; i < CODEWORD_BITS; i++) flips += codeword[i]! ^ hard[i]!
    return { codeword, distance: best, flips }
  }
}
