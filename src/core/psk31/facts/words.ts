// Words of running text, with how sure each of their characters is.

/** Text as it was heard, and for each character how likely the waveform alone makes it, from 0 to 1; without that all are taken to be as good. */
export interface HeardText {
  text: string
  sure?: readonly number[]
}

export interface HeardWord {
  /** In capitals. */
  text: string
  /** For each character; 0 for one that cannot be right where it stands. */
  sure: readonly number[]
  /** Where it stands in the text. */
  from: number
  to: number
}

/** What a character is worth of which nothing else is known: one in fifty is wrong where copy is fair. */
export const USUAL_SURE = 0.98

const LOCATOR = /^[A-R]{2}\d{2}(?:[A-X]{2})?$/
/** A call as it is written on the air: it has a digit and letters on both sides of it or before a suffix. */
const CALL = /^(?:[A-Z0-9]{1,3}\/)?[A-Z0-9]{1,2}\d[A-Z]{1,4}(?:\/[A-Z0-9]{1,4})?$/

export const isLocatorWord = (word: string): boolean => LOCATOR.test(word)
export const isCallWord = (word: string): boolean =>
  CALL.test(word) && !LOCATOR.test(word) && /[A-Z]/.test(word) && !/^\d+$/.test(word) && !/^[1-5]\d?N?N$/.test(word)

/** People write a word in small letters or in capitals, or begin it with one, and locators end in small ones: a letter out of line is badly read. */
function outOfLine(word: string): boolean[] {
  const letters = [...word]
  const small = letters.filter((one) => one >= 'a' && one <= 'z').length
  const capitals = letters.filter((one) => one >= 'A' && one <= 'Z').length
  if (small === 0 || capitals === 0 || /^[A-R]{2}\d{2}[a-x]{2}$/.test(word)) return letters.map(() => false)
  const inSmall = small >= capitals
  return letters.map((one, k) => (inSmall ? k > 0 && one >= 'A' && one <= 'Z' : one >= 'a' && one <= 'z'))
}

/** What people put between things that they say, with and without a space. */
const APART = /[^\s=:]+/g
const EDGES = /^[("]+|[.,;!?-]+$/g
/** A stop with words on both sides ends one of them; within a word it is a character that was badly read. */
const STOP = /(?<=[^\s=:]{3})[.,;!?](?=[^\s=:]{2})/g
const LETTERS = /^[A-Z0-9/'?-]$/

/** Takes a text apart at spaces and at what people put between things that they say. What stands within a word and belongs into none is badly read. */
export function heardWords({ text, sure }: HeardText): HeardWord[] {
  const words: HeardWord[] = []
  for (const match of text.replace(STOP, ' ').matchAll(APART)) {
    const [whole] = match
    const word = whole.replace(EDGES, '')
    if (word === '') continue
    const from = match.index + whole.indexOf(word)
    const odd = outOfLine(word)
    const upper = word.toUpperCase()
    const sureOf = [...upper].map((one, k) => (odd[k] || !LETTERS.test(one) ? 0 : (sure?.[from + k] ?? USUAL_SURE)))
    words.push(...parted({ text: upper, sure: sureOf, from, to: from + upper.length }))
  }
  return words
}

/** The least length of a word of which it is seen that it is said twice without a space; of a number it is shorter. */
const LEAST_TWICE = 4
const LEAST_TWICE_NUMBER = 3

/** A word that was said twice, with nothing between or something badly read, as two. */
function parted(word: HeardWord): HeardWord[] {
  const { text } = word
  const least = /\d/.test(text) ? LEAST_TWICE_NUMBER : LEAST_TWICE
  for (let at = least; at <= text.length - least; at++)
    for (const gap of [0, 1]) {
      const [first, second] = [text.slice(0, at), text.slice(at + gap)]
      if (second.length < least || first !== second) continue
      return [cut(word, 0, at), cut(word, at + gap, text.length)]
    }
  return [word]
}

/** A part of a word. */
export const cut = ({ text, sure, from }: HeardWord, first: number, end: number): HeardWord => ({
  ...{ text: text.slice(first, end), sure: sure.slice(first, end) },
  ...{ from: from + first, to: from + end },
})

/** Whether two words differ by one character at most: changed, lost or put in. */
export function isNear(a: string, b: string): boolean {
  if (a === b) return true
  if (Math.abs(a.length - b.length) > 1) return false
  const at = firstDifference(a, b)
  const [restA, restB] = [a.slice(at), b.slice(at)]
  return restA.slice(1) === restB.slice(1) || restA.slice(1) === restB || restA === restB.slice(1)
}

export function firstDifference(a: string, b: string): number {
  let at = 0
  while (at < a.length && at < b.length && a[at] === b[at]) at++
  return at
}

/** From this length on two words may be the same though each is badly read at a place of its own. */
const LEAST_LONG = 6

/** Whether two words may be the same, each perhaps with a character badly read. */
export function isAlike(a: string, b: string): boolean {
  if (isNear(a, b)) return true
  if (a.length !== b.length || a.length < LEAST_LONG) return false
  return [...a].filter((character, k) => character !== b[k]).length <= 2
}
