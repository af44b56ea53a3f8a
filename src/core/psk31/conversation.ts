// What can be read in running text without guessing: who is who, whose turn it is, and what was told. Never what was not sent.
import { isCallWord } from './facts'

const wordsOf = (text: string) =>
  text
    .toUpperCase()
    .split(/[^A-Z0-9/?]+/)
    .filter(Boolean)

/** Whether an end of text hands over, and to whom: anybody, the one called, or nobody because it is over. */
export type Turn = 'anybody' | 'called' | 'over'

const TURNS: Readonly<Record<string, Turn>> = { K: 'anybody', KN: 'called', BK: 'called', BTU: 'called', SK: 'over', CL: 'over' }

/** Whose turn it is after a text; undefined while it does not say so. */
export function turnAfter(text: string): Turn | undefined {
  const words = wordsOf(text)
  const last = words.at(-1)
  // "BTU Q2LMN DE Q5RVR K" hands over to the one called, though it ends with K.
  if (last === 'K' && words.slice(-8).some((word) => word === 'BTU' || word === 'KN')) return 'called'
  return last ? TURNS[last] : undefined
}

export interface Said {
  /** The call after the last "de". */
  from?: string
  /** The call before it, when it is another one. */
  to?: string
  /** Whether anybody was called. */
  cq: boolean
}

/** Who says it, and to whom, by the last "de" with a call after it. */
export function whoSays(text: string): Said {
  const words = wordsOf(text)
  const cq = words.includes('CQ') || words.includes('QRZ?')
  for (let at = words.length - 2; at >= 0; at--) {
    const from = words[at + 1]!
    if (words[at] !== 'DE' || !isCallWord(from)) continue
    const before = words[at - 1]
    return { from, cq, ...(before && isCallWord(before) && before !== from && { to: before }) }
  }
  return { cq }
}
