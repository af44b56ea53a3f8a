import { crcMatches } from './crc14'
import { bitLikelihoods } from './bitLikelihoods'
import type { SymbolAmplitudes } from './demodulate'
import { createBeliefPropagation } from './ldpc'
import { createOrderedStatistics } from './osd'
import { CODEWORD_BITS } from './signal'

const ITERATIONS = 30

const propagate = createBeliefPropagation()
const orderedStatistics = createOrderedStatistics()
const likelihoods = [1, 2, 3].map(() => new Float64Array(CODEWORD_BITS))

/** A codeword whose check holds, and by what means it was found. Its bits are reused by the next search. */
export interface Codeword {
  bits: Uint8Array
  how: 'iterative' | 'ordered'
}

/**
 * Looks for a codeword in the amplitudes of a signal, over one, two and three symbols in phase.
 * @param order of ordered statistics; 0 leaves them out
 */
export function decodeSymbols(symbols: SymbolAmplitudes, order: number): Codeword | undefined {
  for (let group = 1; group <= 3; group++) {
    const llr = likelihoods[group - 1]!
    bitLikelihoods(symbols, group, llr)
    const result = propagate(llr, ITERATIONS)
    if (result.converged && isMessage(result.codeword)) return { bits: result.codeword, how: 'iterative' }
  }
  for (let group = 3; group >= 1 && order > 0; group--) {
    const llr = likelihoods[group - 1]!
    const result = orderedStatistics(llr, order)
    if (isMessage(result.codeword) && isCredible(result.distance, result.flips, llr)) return { bits: result.codeword, how: 'ordered' }
  }
  return undefined
}

function isMessage(codeword: Uint8Array): boolean {
  // The all-zero word passes every check and means nothing.
  return crcMatches(codeword) && codeword.some((bit) => bit === 1)
}

/** Share of all reliability that a codeword from ordered statistics may contradict, and how many bits it may change. */
const LARGEST_CONTRADICTION = 0.085
const MOST_FLIPS = 36

function isCredible(distance: number, flips: number, llr: Float64Array): boolean {
  let total = 0
  for (let i = 0; i < CODEWORD_BITS; i++) total += Math.abs(llr[i]!)
  return flips <= MOST_FLIPS && distance <= LARGEST_CONTRADICTION * total
}
