import { createRandom } from '../../dsp'
import { fillFields } from './fields'
import { WRITTEN_TEXT } from './writtenText'

/** Characters before one that say what it may be. */
const CONTEXT = 5
/** How often each line is filled in anew: the same text several times over would be trusted too much. */
const FILLED = 1
const SEED = 31
/** Of what is never seen after a context, so much is left for characters that were not learned at all. */
const UNSEEN = 1e-4
const NEVER_SEEN = Math.log(UNSEEN / 100)
const MOST_CACHED = 20_000

/** The characters that it knows; every other one is as unlikely as can be. */
const CHARACTERS = [...Array.from({ length: 95 }, (_, i) => String.fromCharCode(32 + i)), '\n']
const INDEX = new Map(CHARACTERS.map((character, i) => [character, i]))

interface Counts {
  total: number
  seen: Map<number, number>
}

interface Known {
  counts: Counts[]
  /** Logarithms of what has been asked for; 0 for what has not. */
  likely: Float32Array
}

/** How likely characters follow each other in what people type, learned from text written for it. */
export class LetterModel {
  private readonly counts = new Map<string, Counts>()
  private readonly cache = new Map<string, Known>()

  constructor(lines: readonly string[]) {
    for (const line of lines) this.learn(line)
  }

  private learn(line: string): void {
    const text = `\n${line}\n`
    for (let k = 1; k < text.length; k++) {
      const character = INDEX.get(text[k]!)
      if (character === undefined) continue
      for (let length = 0; length <= Math.min(CONTEXT, k); length++) {
        const context = text.slice(k - length, k)
        let counts = this.counts.get(context)
        if (!counts) this.counts.set(context, (counts = { total: 0, seen: new Map() }))
        counts.total++
        counts.seen.set(character, (counts.seen.get(character) ?? 0) + 1)
      }
    }
  }

  /** The end of a text that matters for what comes after it. */
  contextOf(text: string): string {
    return text.slice(-CONTEXT)
  }

  /** Logarithm of how likely a character is after a context. */
  after(context: string, character: string): number {
    const index = INDEX.get(character)
    if (index === undefined) return NEVER_SEEN
    const known = this.known(context)
    const before = known.likely[index]!
    if (before !== 0) return before
    // Each longer context has its say by how much was seen after it, and in how many ways it goes on (Witten and Bell).
    let p = 1 / CHARACTERS.length
    for (const { total, seen } of known.counts) p = (p * seen.size + (seen.get(index) ?? 0)) / (total + seen.size)
    return (known.likely[index] = Math.log(p * (1 - UNSEEN) + UNSEEN / CHARACTERS.length))
  }

  /** What was seen after the ends of a context, the shortest first. */
  private known(context: string): Known {
    const before = this.cache.get(context)
    if (before) return before
    const counts: Counts[] = []
    for (let length = 0; length <= context.length; length++) {
      const seen = this.counts.get(context.slice(context.length - length))
      if (!seen) break
      counts.push(seen)
    }
    if (this.cache.size >= MOST_CACHED) this.cache.clear()
    const known = { counts, likely: new Float32Array(CHARACTERS.length) }
    this.cache.set(context, known)
    return known
  }
}

let usual: LetterModel | undefined

/** The model that is shipped; it is learned when it is first asked for. */
export function usualLetters(): LetterModel {
  if (usual) return usual
  const random = createRandom(SEED)
  const lines = WRITTEN_TEXT.trim().split('\n')
  const filled = Array.from({ length: FILLED }, () => lines.map((line) => fillFields(line, random))).flat()
  const variants = filled.flatMap((line, k) => (k % 4 === 0 ? [line.toUpperCase()] : k % 4 === 1 ? [line.toLowerCase()] : [line]))
  return (usual = new LetterModel(variants))
}
