/**
 * The varicode of PSK31: characters as words of one to twelve bits that begin and end with 1 and hold no 00, so that 00 parts them.
 * Source: "PSK31: A new radio-teletype mode", Radio Communication, January 1999, and the table published with it.
 */
import { windows1252 } from '../text/windows1252'

/** Words of the ASCII codes 0 to 127, in their order. */
const ASCII_WORDS = `
  1010101011 1011011011 1011101101 1101110111 1011101011 1101011111 1011101111 1011111101
  1011111111 11101111 11101 1101101111 1011011101 11111 1101110101 1110101011
  1011110111 1011110101 1110101101 1110101111 1101011011 1101101011 1101101101 1101010111
  1101111011 1101111101 1110110111 1101010101 1101011101 1110111011 1011111011 1101111111
  1 111111111 101011111 111110101 111011011 1011010101 1010111011 101111111
  11111011 11110111 101101111 111011111 1110101 110101 1010111 110101111
  10110111 10111101 11101101 11111111 101110111 101011011 101101011 110101101
  110101011 110110111 11110101 110111101 111101101 1010101 111010111 1010101111
  1010111101 1111101 11101011 10101101 10110101 1110111 11011011 11111101
  101010101 1111111 111111101 101111101 11010111 10111011 11011101 10101011
  11010101 111011101 10101111 1101111 1101101 101010111 110110101 101011101
  101110101 101111011 1010101101 111110111 111101111 111111011 1010111111 101101101
  1011011111 1011 1011111 101111 101101 11 111101 1011011
  101011 1101 111101011 10111111 11011 111011 1111 111
  111111 110111111 10101 10111 101 110111 1111011 1101011
  11011111 1011101 111010101 1010110111 110111011 1010110101 1011010111 1110110101
`
  .trim()
  .split(/\s+/)

const LAST_CODE = 255
const LONGEST_WORD = 12

/** The words of 128 to 255 go on where those of ASCII end: by length, then by value. */
function laterWords(): string[] {
  const known = new Set(ASCII_WORDS)
  const words: string[] = []
  for (let length = 10; length <= LONGEST_WORD; length++)
    for (let value = 2 ** (length - 1) + 1; value < 2 ** length; value += 2) {
      const word = value.toString(2)
      if (!word.includes('00') && !known.has(word)) words.push(word)
    }
  return words.slice(0, LAST_CODE + 1 - ASCII_WORDS.length)
}

const WORDS: readonly string[] = [...ASCII_WORDS, ...laterWords()]
/** Codes beyond ASCII are those of Windows-1252, as they are in common use. */
const CHARACTERS: readonly string[] = WORDS.map((_, code) => windows1252(code))
const BY_WORD = new Map(WORDS.map((word, code) => [word, CHARACTERS[code]!]))
const BY_CHARACTER = new Map(CHARACTERS.map((character, code) => [character, WORDS[code]!]))

/** A character with the bits of its word and of the gap after it. */
export interface VaricodeWord {
  character: string
  bits: readonly number[]
}

/** Words by their bits from the last one on backwards: where a bit is out of the question, all words that hold it there are. */
export interface WordTree {
  zero?: WordTree
  one?: WordTree
  /** The word that begins here. */
  word?: VaricodeWord
}

export const WORD_TREE: WordTree = {}
WORDS.forEach((word, code) => {
  const bits = [...word, ...'00'].map(Number)
  let node = WORD_TREE
  for (const bit of bits.toReversed()) node = bit === 1 ? (node.one ??= {}) : (node.zero ??= {})
  node.word = { character: CHARACTERS[code]!, bits }
})

/** What stands for a word that is none. */
export const UNKNOWN_CHARACTER = '\ufffd'
/** Between characters. */
const GAP = '00'

/** The bits of a text, with the gap after each character. Characters that have no word are left out. */
export function encodeVaricode(text: string): number[] {
  return [...text].flatMap((character) => {
    const word = BY_CHARACTER.get(character)
    return word === undefined ? [] : [...word, ...GAP].map(Number)
  })
}

/** Whether every character of a text can be sent. */
export const isSendable = (text: string): boolean => [...text].every((character) => BY_CHARACTER.has(character))

/** Seconds that a text takes on the air, without what begins and ends a transmission. */
export const secondsOfText = (text: string, symbolS: number): number => encodeVaricode(text).length * symbolS

/** A character that was read. */
export interface ReadCharacter {
  /** `UNKNOWN_CHARACTER` for a word that is none. */
  character: string
  /** Bits of its word and its gap. */
  bits: number
  /** How likely it is that none of them is wrong. */
  sure: number
}

/** Reads bits, one after the other. */
export class VaricodeReader {
  private word = ''
  private sures: number[] = []

  /** @param llr how much likelier the bit is 1 than 0, as a logarithm; without it, it is taken for sure */
  push(bit: number, llr = Infinity): ReadCharacter | undefined {
    this.word += bit
    this.sures.push(1 / (1 + Math.exp(-Math.abs(llr))))
    if (!this.word.endsWith(GAP)) {
      // No word is longer: what goes on is a carrier, or no signal at all.
      this.word = this.word.slice(-LONGEST_WORD - GAP.length)
      this.sures = this.sures.slice(-LONGEST_WORD - GAP.length)
      return undefined
    }
    const word = this.word.slice(0, -GAP.length).replace(/^0+/, '')
    const bits = word.length + GAP.length
    const sure = this.sures.slice(-bits).reduce((product, one) => product * one, 1)
    // A zero more than the gap needs belongs to the idling that follows.
    this.reset()
    // Idling before it, or a carrier that ended: nothing that was sent as a character.
    if (word === '' || word.length > LONGEST_WORD) return undefined
    return { character: BY_WORD.get(word) ?? UNKNOWN_CHARACTER, bits, sure }
  }

  reset(): void {
    this.word = ''
    this.sures = []
  }
}
