import { createRandom } from '../../dsp'
import { fillFields } from './fields'
import { WRITTEN_TEXT } from './writtenText'

/** Characters before one that say what it may be. */
export const CONTEXT = 5
/** How often each line is filled in anew: the same text several times over would be trusted too much. */
const FILLED = 1
const SEED = 31
/** Of what is never seen after a context, so much is left for characters that were not learned at all. */
const UNSEEN = 1e-4
const NEVER_SEEN = Math.log(UNSEEN / 100)
const MOST_KEPT = 20_000

/** The characters that it knows are those from the space to the tilde, and the end of a line; every other one is as unlikely as can be. */
const KNOWN = 96
const indexOf = (character: string): number | undefined => {
  const code = character.charCodeAt(0)
  return code >= 32 && code < 127 ? code - 32 : character === '\n' ? KNOWN - 1 : undefined
}

interface Counts {
  total: number
  seen: Map<number, number>
}

/** The end of a text that matters for what comes after it, with what was learned of that. */
export interface LetterContext {
  text: string
  /** What was seen after its ends, the shortest first. */
  counts: Counts[]
  /** Logarithms of what has been asked for; 0 for what has not. */
  likely: Float32Array
}

/** How likely characters follow each other in what people type, learned from text written for it. */
export class LetterModel {
  private readonly counts = new Map<string, Counts>()
  private readonly contexts = new Map<string, LetterContext>()

  constructor(lines: readonly string[]) {
    for (const line of lines) this.learn(line)
  }

  private learn(line: string): void {
    const text = `\n${line}\n`
    for (let k = 1; k < text.length; k++) {
      const character = indexOf(text[k]!)
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

  contextOf(text: string): LetterContext {
    const end = text.slice(-CONTEXT)
    const before = this.contexts.get(end)
    if (before) return before
    const counts: Counts[] = []
    for (let length = 0; length <= end.length; length++) {
      const seen = this.counts.get(end.slice(end.length - length))
      if (!seen) break
      counts.push(seen)
    }
    if (this.contexts.size >= MOST_KEPT) this.contexts.clear()
    const context = { text: end, counts, likely: new Float32Array(KNOWN) }
    this.contexts.set(end, context)
    return context
  }

  /** Logarithm of how likely a character is after a context. */
  after(context: LetterContext, character: string): number {
    const index = indexOf(character)
    if (index === undefined) return NEVER_SEEN
    const before = context.likely[index]!
    if (before !== 0) return before
    // Each longer context has its say by how much was seen after it, and in how many ways it goes on (Witten and Bell).
    let p = 1 / KNOWN
    for (const { total, seen } of context.counts) p = (p * seen.size + (seen.get(index) ?? 0)) / (total + seen.size)
    return (context.likely[index] = Math.log(p * (1 - UNSEEN) + UNSEEN / KNOWN))
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
