import fc from 'fast-check'
import { createRandom, createGaussian } from '../dsp/random'
import { crc14, crcMatches, withCrc } from './crc14'
import { countBrokenChecks, createBeliefPropagation, encodeLdpc } from './ldpc'
import { GENERATOR_ROWS, PARITY_CHECKS } from './ldpcTables'
import { createOrderedStatistics } from './osd'
import { codewordToTones } from './symbols'

const bits = (n: number) => fc.array(fc.integer({ min: 0, max: 1 }), { minLength: n, maxLength: n })

/** Log-likelihood ratios as a binary channel with Gaussian noise gives them. */
function throughNoise(codeword: Uint8Array, sigma: number, seed: number): Float64Array {
  const gaussian = createGaussian(createRandom(seed))
  return Float64Array.from(codeword, (bit) => (2 * ((bit ? 1 : -1) + sigma * gaussian())) / sigma ** 2)
}

describe('the tables', () => {
  it('have 83 rows each, and every position in three checks', () => {
    expect(GENERATOR_ROWS).toHaveLength(83)
    expect(PARITY_CHECKS).toHaveLength(83)
    const uses = new Array<number>(174).fill(0)
    PARITY_CHECKS.flat().forEach((position) => uses[position]!++)
    expect(new Set(uses)).toEqual(new Set([3]))
  })
})

describe('crc14', () => {
  it('is checked by its own matcher, and one changed bit is noticed', () => {
    fc.assert(
      fc.property(bits(77), fc.integer({ min: 0, max: 90 }), (payload, at) => {
        const message = withCrc(payload)
        expect(crcMatches(message)).toBe(true)
        message[at]! ^= 1
        expect(crcMatches(message)).toBe(false)
      }),
      { seed: 1 },
    )
  })
  it('is zero for nothing but zeros', () => expect(crc14(new Uint8Array(77))).toBe(0))
})

describe('encodeLdpc', () => {
  it('makes codewords that break no check and begin with the message', () => {
    fc.assert(
      fc.property(bits(91), (message) => {
        const codeword = encodeLdpc(message)
        expect(countBrokenChecks(codeword)).toBe(0)
        expect([...codeword.subarray(0, 91)]).toEqual(message)
      }),
      { seed: 2 },
    )
  })
})

describe('decoding', () => {
  const message = withCrc(Uint8Array.from({ length: 77 }, (_, i) => (i * i + (i >> 2)) & 1))
  const codeword = encodeLdpc(message)

  it('belief propagation mends what noise broke', () => {
    const propagate = createBeliefPropagation()
    let mended = 0
    for (let seed = 0; seed < 40; seed++) {
      const result = propagate(throughNoise(codeword, 0.6, seed), 40)
      if (result.converged && result.codeword.every((bit, i) => bit === codeword[i])) mended++
    }
    expect(mended).toBeGreaterThanOrEqual(39)
  })

  it('ordered statistics goes on where belief propagation gives up', () => {
    const propagate = createBeliefPropagation()
    const ordered = createOrderedStatistics()
    let iterative = 0
    let both = 0
    for (let seed = 0; seed < 60; seed++) {
      const llr = throughNoise(codeword, 0.82, seed)
      const right = (word: Uint8Array) => word.every((bit, i) => bit === codeword[i])
      const first = propagate(llr, 40)
      const byIteration = first.converged && right(first.codeword)
      if (byIteration) iterative++
      if (byIteration || right(ordered(llr, 2).codeword)) both++
    }
    expect(both).toBeGreaterThan(iterative)
  })

  it('ordered statistics always gives a codeword, with its true distance', () => {
    const ordered = createOrderedStatistics()
    for (const order of [0, 1, 2, 3]) {
      const llr = throughNoise(codeword, 1.2, order)
      const result = ordered(llr, order, 12)
      expect(countBrokenChecks(result.codeword)).toBe(0)
      let distance = 0
      let flips = 0
      result.codeword.forEach((bit, i) => {
        if (bit !== (llr[i]! > 0 ? 1 : 0)) {
          distance += Math.abs(llr[i]!)
          flips++
        }
      })
      expect(result.distance).toBeCloseTo(distance, 6)
      expect(result.flips).toBe(flips)
    }
  })
})

describe('codewordToTones', () => {
  it('puts the Costas array at 0, 36 and 72 and Gray-coded bits between', () => {
    const codeword = new Uint8Array(174)
    codeword.set([1, 0, 0, 0, 1, 1], 0)
    const tones = [...codewordToTones(codeword)]
    for (const start of [0, 36, 72]) expect(tones.slice(start, start + 7)).toEqual([3, 1, 4, 0, 6, 5, 2])
    expect(tones.slice(7, 10)).toEqual([5, 2, 0])
    expect(tones).toHaveLength(79)
  })
})
