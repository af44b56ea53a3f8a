import { NAMES, PLACES } from '../language/fields'

/** Of pairs that were not seen. */
const UNSEEN = 0.3
/** Names of all countries are more than pairs of letters can tell of. */
const WEIGHT = 0.5
const EDGE = ' '

/** How often a letter follows another one in names of people and places. */
const pairs = new Map<string, number>()
const firsts = new Map<string, number>()
for (const name of [...NAMES, ...PLACES]) {
  const letters = `${EDGE}${name.toUpperCase()}${EDGE}`
  for (let k = 1; k < letters.length; k++) {
    const [before, after] = [letters[k - 1]!, letters[k]!]
    pairs.set(before + after, (pairs.get(before + after) ?? 0) + 1)
    firsts.set(before, (firsts.get(before) ?? 0) + 1)
  }
}

/** Logarithm of how likely letters follow each other so in a name, in capitals. It only decides between two readings of what was received. */
export function likelyName(name: string): number {
  const letters = `${EDGE}${name}${EDGE}`
  let sum = 0
  for (let k = 1; k < letters.length; k++) {
    const [before, after] = [letters[k - 1]!, letters[k]!]
    sum += Math.log(((pairs.get(before + after) ?? 0) + UNSEEN) / ((firsts.get(before) ?? 0) + 27 * UNSEEN))
  }
  return WEIGHT * sum
}
