import { VaricodeReader, WORD_TREE, type ReadCharacter, type VaricodeWord, type WordTree } from '../varicode'
import { CONTEXT, type LetterContext, type LetterModel } from './letterModel'

/** A bit as it was received. */
export interface SoftBit {
  /** How much likelier it is 1 than 0, as a logarithm. */
  llr: number
  /** When it was, in seconds from the first sample. */
  atS: number
}

/** A character with the bits that it was read from. */
export interface TextCharacter {
  character: string
  atS: number
  /** How likely the waveform alone makes its bits. */
  sure: number
  first: number
  last: number
}

/** What has become of a text: so many characters at its end are taken back, and these come in their place. */
export interface TextChange<T = TextCharacter> {
  back: number
  added: T[]
}

interface Link {
  before: Link | undefined
  character: string
  sure: number
  first: number
  last: number
  atS: number
}
interface Path {
  score: number
  context: LetterContext | undefined
  link: Link | undefined
}

/** A reading of before that goes on by a word, or by a pause. */
interface Candidate {
  score: number
  path: Path
  word: VaricodeWord | undefined
}

/** How much what letters are likely counts against what was received. */
const WEIGHT = 0.48
/** Logarithms of how likely a sender pauses after a character, and goes on pausing. */
const PAUSES = -4
const PAUSES_ON = -0.15
/** Readings that are followed at once, and how far behind the best one may be. */
const MOST_PATHS = 10
const BEHIND = 11
/** What letters cost for each bit at least: readings that end earlier have it before them. */
const LETTERS_COST = 0.3
/** What they are taken to cost where the end of the text is shown: what has just ended is not held back until the next one has. */
const SHOWN_COST = 0.8
/** A word that the bits speak so much against is not tried. */
const WORD_BEHIND = 11
/** The longest word that is tried, with its gap. */
const LONGEST = 14
/** What is further back than this does not change any more. */
const SETTLED_BITS = 48
/** A word that does not end waits so much longer: in all less than the pause that ends a stretch of text. */
const WORD_WAITS_BITS = 6
/** Characters as received that are kept. */
const MOST_PLAIN = 100
/** A character that the waveform itself makes so likely is believed, whatever is likely in a text. */
const BELIEVED = 0.5
const BEGINS_WITH = '\n'

const sureOf = (llr: number) => 1 / (1 + Math.exp(-llr))

/**
 * Reads bits as text: of all ways to part them into words of the code, the one that what was received and what people write make
 * likeliest together. Calls and numbers are left as they were received: what holds a digit is never completed by what is likely.
 */
export class TextReader {
  private readonly plain = new VaricodeReader()
  private plainRead: TextCharacter[] = []
  /** Bits from `firstBit` on. */
  private bits: SoftBit[] = []
  /** Readings that end at a bit, for the last bits; the last entry ends at the newest. */
  private ends: Path[][]
  /** What every reading begins with. */
  private settled: Link | undefined
  /** Whether what is settled ends within a word that holds a digit. */
  private withinNumber = false
  /** What was told of the end of the text and may change still. */
  private told: TextCharacter[] = []
  /** The last of what was read, and of what was received, when it was told. */
  private newest: Link | undefined
  private newestPlain: TextCharacter | undefined

  /** @param firstBit number of the bit that is pushed first */
  constructor(
    private readonly letters: LetterModel | undefined,
    private firstBit = 0,
  ) {
    this.ends = [[{ score: 0, context: letters?.contextOf(BEGINS_WITH), link: undefined }]]
  }

  private get count(): number {
    return this.firstBit + this.bits.length
  }

  push(bit: SoftBit): void {
    const value = bit.llr > 0 ? 1 : 0
    this.bits.push(bit)
    const read = this.plain.push(value, bit.llr)
    if (read) this.plainRead.push(this.plainCharacter(read, bit))
    if (this.letters) this.extend(this.letters)
  }

  private plainCharacter({ character, bits, sure }: ReadCharacter, { atS }: SoftBit): TextCharacter {
    return { character, atS, sure, first: this.count - bits, last: this.count - 1 }
  }

  /** What has changed in the text since it was last asked. */
  change(): TextChange {
    if (!this.letters) {
      const added = this.plainRead
      this.plainRead = []
      this.forget()
      return { back: 0, added }
    }
    const links = this.bestPath()
    const newest = links.at(-1)
    // Nothing has ended since: neither what is read nor what was received is another one. What is far enough back is settled all the same.
    const isSame = newest === this.newest && this.plainRead.at(-1) === this.newestPlain
    if (newest !== undefined && isSame && newest.last > this.count - SETTLED_BITS) return { back: 0, added: [] }
    this.newest = newest
    this.newestPlain = this.plainRead.at(-1)
    const text = this.wholeTokens(links)
    let same = 0
    while (same < text.length && same < this.told.length && alike(text[same]!, this.told[same]!)) same++
    const change = { back: this.told.length - same, added: text.slice(same) }
    this.told = text
    this.settle(links)
    return change
  }

  private llrAt(bit: number): number {
    return this.bits[bit - this.firstBit]!.llr
  }

  /** Readings that end at the newest bit. */
  private extend(letters: LetterModel): void {
    const newest = this.llrAt(this.count - 1)
    const limit = this.bestScore() + Math.abs(newest) / 2 - BEHIND
    const found = new Map<string, Candidate>()
    const add = (candidate: Candidate) => {
      // Readings that end alike go on alike: the better one stays.
      const ending = candidate.path.context!.text + (candidate.word?.character ?? '')
      const end = candidate.word ? ending.slice(-CONTEXT) : ending
      const known = found.get(end)
      if (!known || known.score < candidate.score) found.set(end, candidate)
    }
    for (const path of this.ends.at(-1)!) {
      const pausing = path.link === undefined || path.link.last < this.count - 2
      const score = path.score - newest / 2 + (pausing ? PAUSES_ON : PAUSES)
      if (score >= limit) add({ score, path, word: undefined })
    }
    /** The best of all that end here, also of those that are too far behind to be followed. */
    let best: Candidate | undefined
    const end = (word: VaricodeWord, score: number) => {
      for (const path of this.ends[this.ends.length - word.bits.length] ?? []) {
        const whole = path.score + score + WEIGHT * letters.after(path.context!, word.character)
        if (whole < limit && best && whole <= best.score) continue
        const candidate = { score: whole, path, word }
        if (!best || whole > best.score) best = candidate
        if (whole >= limit) add(candidate)
      }
    }
    this.eachWord(WORD_TREE, { back: 1, score: 0, against: 0 }, end)
    const kept = [...found.values()]
    if (kept.length > 1) kept.sort((x, y) => y.score - x.score)
    this.ends.push(kept.slice(0, MOST_PATHS).map((one) => this.pathOf(one)))
    if (this.ends.length <= LONGEST + 1) return
    const leaving = this.ends.shift()!
    // Bits that are no words at all, as a carrier's: they are passed over, and reading goes on after them.
    if (this.ends.every((paths) => paths.length === 0)) this.ends[this.ends.length - 1] = best ? [this.pathOf(best)] : leaving.slice(0, 1)
  }

  /** Tells of each word that may end at the newest bit, with the score of its bits: back from there, while they do not speak too much against it. */
  private eachWord(
    node: WordTree,
    { back, score, against }: { back: number; score: number; against: number },
    found: (word: VaricodeWord, score: number) => void,
  ): void {
    if (node.word) found(node.word, score)
    const bit = this.bits[this.bits.length - back]
    if (!bit) return
    const { llr } = bit
    const size = Math.abs(llr)
    const [likely, other] = llr > 0 ? [node.one, node.zero] : [node.zero, node.one]
    if (likely) this.eachWord(likely, { back: back + 1, score: score + size / 2, against }, found)
    if (other && against + size <= WORD_BEHIND)
      this.eachWord(other, { back: back + 1, score: score - size / 2, against: against + size }, found)
  }

  private pathOf({ score, path, word }: Candidate): Path {
    if (!word) return { score, context: path.context, link: path.link }
    return {
      score,
      context: this.letters?.contextOf(path.context!.text + word.character),
      link: { ...this.linkOf(word.character, word.bits, this.count - word.bits.length), before: path.link },
    }
  }

  private linkOf(character: string, bits: readonly number[], first: number): Omit<Link, 'before'> {
    const sure = bits.reduce((product, bit, k) => product * sureOf(bit === 1 ? this.llrAt(first + k) : -this.llrAt(first + k)), 1)
    const last = first + bits.length - 1
    return { character, sure, first, last, atS: this.bits[last - this.firstBit]!.atS }
  }

  /** The best that the readings of the last bits can still come to. */
  private bestScore(): number {
    let rest = 0
    let best = -Infinity
    for (let k = 0; k < this.ends.length; k++) {
      const paths = this.ends[this.ends.length - 1 - k]!
      for (const { score } of paths) best = Math.max(best, score + rest)
      if (k < this.bits.length - 1) rest += Math.abs(this.bits[this.bits.length - 2 - k]!.llr) / 2 - LETTERS_COST
    }
    return best
  }

  private bestPath(): Link[] {
    let rest = 0
    let best: { path: Path; score: number } | undefined
    for (let k = 0; k < this.ends.length; k++) {
      for (const path of this.ends[this.ends.length - 1 - k]!)
        if (!best || path.score + rest > best.score) best = { path, score: path.score + rest }
      if (k < this.bits.length) rest += Math.abs(this.bits[this.bits.length - 1 - k]!.llr) / 2 - SHOWN_COST
    }
    const links: Link[] = []
    for (let link = best?.path.link; link && link !== this.settled; link = link.before) links.push(link)
    return links.reverse()
  }

  /** The text of a reading, with what holds a digit as it was received. */
  private wholeTokens(links: readonly Link[]): TextCharacter[] {
    const out: TextCharacter[] = []
    let token: Link[] = []
    let { withinNumber } = this
    const close = () => {
      if (token.length > 0) out.push(...this.asReceived(token, withinNumber))
      token = []
      withinNumber = false
    }
    for (const link of links) {
      if (!isSpace(link)) {
        token.push(link)
        continue
      }
      close()
      out.push(characterOf(link))
    }
    close()
    return out
  }

  private asReceived(token: readonly Link[], withinNumber: boolean): TextCharacter[] {
    const [first, last] = [token[0]!.first, token.at(-1)!.last]
    const received = this.plainRead.filter((one) => one.last >= first && one.last <= last)
    // Where a call is read in two pieces, neither is completed: the word as it was received counts.
    const isNumber =
      withinNumber || token.some(hasDigit) || this.wordAsReceived(first, last).some((one) => hasDigit(one) && one.sure > BELIEVED)
    return isNumber ? received : token.map(characterOf)
  }

  /** The words as they were received of which bits hold a part. */
  private wordAsReceived(first: number, last: number): TextCharacter[] {
    const from = this.plainRead.findLastIndex((one) => one.last < first && isSpace(one))
    const to = this.plainRead.findIndex((one) => one.first > last && isSpace(one))
    return this.plainRead.slice(from + 1, to < 0 ? undefined : to)
  }

  /** What lies far back is settled, up to the last end of a word. */
  private settle(links: readonly Link[]): void {
    const limit = this.count - SETTLED_BITS
    let upTo = -1
    links.forEach((link, k) => {
      if (link.last < limit && (isSpace(link) || link.last < limit - WORD_WAITS_BITS)) upTo = k
    })
    if (upTo < 0) return this.forget()
    const settled = links[upTo]!
    this.ends = this.ends.map((paths) => paths.filter(({ link }) => holds(link, settled)))
    const word = links.slice(0, upTo + 1)
    const space = word.findLastIndex(isSpace)
    const shown = this.told.filter(({ first, last }) => last <= settled.last && (space < 0 || first > word[space]!.last))
    this.withinNumber = !isSpace(settled) && ((space < 0 && this.withinNumber) || [...word.slice(space + 1), ...shown].some(hasDigit))
    this.settled = settled
    settled.before = undefined
    this.told = this.told.filter(({ last }) => last > settled.last)
    // Of the word that goes on, its beginning is kept: whether it holds a digit is asked of it as a whole.
    const from = this.plainRead.findLastIndex((one) => one.last <= settled.last && isSpace(one))
    this.plainRead = this.plainRead.slice(Math.max(0, from, this.plainRead.length - MOST_PLAIN))
    this.forget()
  }

  private forget(): void {
    const keep = Math.max(LONGEST + 2, this.settled ? this.count - this.settled.last : 0)
    const spare = this.bits.length - Math.min(keep, 6 * SETTLED_BITS)
    if (spare <= 0) return
    this.bits.splice(0, spare)
    this.firstBit += spare
  }
}

const characterOf = ({ character, atS, sure, first, last }: Link): TextCharacter => ({ character, atS, sure, first, last })
const isSpace = ({ character }: { character: string }) => /\s/.test(character)
const hasDigit = ({ character }: { character: string }) => /\d/.test(character)
const alike = (a: TextCharacter, b: TextCharacter) => a.character === b.character && a.last === b.last && a.first === b.first

function holds(link: Link | undefined, wanted: Link): boolean {
  for (let one = link; one; one = one.before) {
    if (one === wanted) return true
    if (one.last < wanted.last) return false
  }
  return false
}
