import { firstDifference, isAlike, type HeardWord } from './words'

/** A word that tells something. */
export interface Mention {
  word: HeardWord
  /** How clearly it was said to be that, from 0 to 1. */
  weight: number
}

/** What a text tells, and what speaks for it: what was sent three times alike is surer than what was sent once. */
export interface Fact {
  value: string
  /** How often it was read exactly so, and how often it was sent as far as can be told. */
  times: number
  of: number
  /** How likely it is right, from 0 to 1. */
  sure: number
  /** Where it stands in the text. */
  places: readonly (readonly [from: number, to: number])[]
}

/** What is so likely right may be filled in for the log; the rest is only shown. */
const FILLED_SURE = 0.7

export const isSure = (fact: Pick<Fact, 'sure'> | undefined): boolean => fact !== undefined && fact.sure >= FILLED_SURE

/** What was told, where that is sure. */
export const sureValue = (fact: Pick<Fact, 'value' | 'sure'> | undefined): string | undefined => (isSure(fact) ? fact!.value : undefined)

interface Wanted {
  /** Words beside the mentions that may be the same thing badly read. */
  supporters?: readonly HeardWord[]
  /** Whether a value can be meant at all. */
  isWhole: (value: string) => boolean
  /** Logarithm of how likely a word is, where two readings of the same word differ; for calls and numbers there is no such thing. */
  likely?: (value: string) => number
}

/** An exact repetition counts so many times what a similar one does when it is asked which word was meant. */
const EXACT = 3
/** What a word beside a mention counts. */
const BESIDE = 0.5
/** A character is sure within these: neither does one that looks perfect settle everything, nor is one that is read at all worth nothing. */
const LEAST_SURE = 0.05
const MOST_SURE = 0.995
/** Readings that are weighed against each other: those whose evidence differs by less. */
const CLOSE = 2.5
const MOST_READINGS = 16

const evidenceOf = (sure: number) => {
  const within = Math.min(MOST_SURE, Math.max(LEAST_SURE, sure))
  return sure <= 0 ? 0 : Math.log(within / (1 - within))
}
const chance = (logOdds: number) => 1 / (1 + Math.exp(-logOdds))

/** One way to read a word of which there are several mentions. */
interface Reading {
  value: string
  /** For each character what speaks for it alone. */
  sure: number
  /** What speaks for it, less than for the best reading of the same mentions. */
  evidence: number
}

/**
 * What several mentions of one thing say together, character by character, each counting by how sure it is.
 * @returns nothing when there are no mentions; a value that two readings speak for alike has a `sure` of one half or less
 */
export function agreed(mentions: readonly Mention[], { supporters = [], isWhole, likely }: Wanted): Fact | undefined {
  const meant = meantBy(mentions)
  if (meant === undefined) return undefined
  const near = mentions.filter(({ word }) => isAlike(word.text, meant))
  const beside = supporters.filter((word) => isAlike(word.text, meant)).map((word): Mention => ({ word, weight: BESIDE }))
  const all = [...near, ...beside]
  const readings = readingsOf(all)
    .filter(({ value }) => isWhole(value))
    .map((one) => ({ ...one, evidence: one.evidence + (likely?.(one.value) ?? 0) }))
    .sort((a, b) => b.evidence - a.evidence)
  const [best, second] = readings
  if (!best) return undefined
  const { value } = best
  const clearest = Math.max(...near.map((one) => one.weight))
  return {
    value,
    times: all.filter(({ word }) => word.text === value).length,
    of: all.length,
    sure: clearest * best.sure * (second ? chance(best.evidence - second.evidence) : 1),
    places: all.map(({ word }) => [word.from, word.to] as const).sort((a, b) => a[0] - b[0]),
  }
}

/** The word that most mentions are, or are like. Of things said alike often the last counts: people correct themselves. */
function meantBy(mentions: readonly Mention[]): string | undefined {
  let best: { text: string; score: number } | undefined
  for (const { word } of mentions) {
    const score = mentions.reduce(
      (sum, other) => sum + (other.word.text === word.text ? EXACT : isAlike(other.word.text, word.text) ? 1 : 0) * other.weight,
      0,
    )
    if (!best || score >= best.score) best = { text: word.text, score }
  }
  return best?.text
}

/** All ways to read the mentions that something speaks for. */
function readingsOf(mentions: readonly Mention[]): Reading[] {
  const lengths = lengthsOf(mentions)
  const most = Math.max(...lengths.map(({ evidence }) => evidence))
  return lengths
    .filter(({ evidence }) => most - evidence < CLOSE)
    .flatMap(({ length, evidence }) => readingsOfLength(mentions, length, evidence))
}

/** How long the word may be, and what speaks for it. */
function lengthsOf(mentions: readonly Mention[]): { length: number; evidence: number }[] {
  const votes = new Map<number, number>()
  for (const { word, weight } of mentions) {
    // One that is badly read may have lost a character there, or be two.
    const weakest = Math.max(0.1, evidenceOf(Math.min(...word.sure)))
    votes.set(word.text.length, (votes.get(word.text.length) ?? 0) + weight * weakest)
  }
  return [...votes].map(([length, evidence]) => ({ length, evidence }))
}

function readingsOfLength(mentions: readonly Mention[], length: number, evidence: number): Reading[] {
  let readings: Reading[] = [{ value: '', sure: 1, evidence }]
  for (const column of columnsOf(mentions, length)) {
    const ranked = [...column].sort((a, b) => b[1] - a[1])
    const close = ranked.filter(([, one]) => ranked[0]![1] - one < CLOSE)
    readings = readings
      .flatMap(({ value, sure, evidence: before }) =>
        close.map(([character, one]) => {
          // What is close is weighed as another reading; of the rest the best is against it.
          const against = Math.max(0, ranked[close.length]?.[1] ?? 0)
          return { value: value + character, sure: sure * chance(one - against), evidence: before + one - ranked[0]![1] }
        }),
      )
      .sort((a, b) => b.evidence - a.evidence)
      .slice(0, MOST_READINGS)
  }
  return readings
}

/** What speaks for each character of a word of a length, by place. */
function columnsOf(mentions: readonly Mention[], length: number): Map<string, number>[] {
  const columns = Array.from({ length }, () => new Map<string, number>())
  const whole = mentions.find(({ word }) => word.text.length === length)!.word.text
  for (const { word, weight } of mentions) {
    // One that has lost a character, or one too many, is moved from there on.
    const split = firstDifference(word.text, whole)
    const moved = whole.length - word.text.length
    for (let k = 0; k < word.text.length; k++) {
      if (moved < 0 && k === split) continue
      const column = columns[k < split ? k : k + moved]
      const character = word.text[k]!
      column?.set(character, (column.get(character) ?? 0) + weight * evidenceOf(word.sure[k]!))
    }
  }
  return columns
}
