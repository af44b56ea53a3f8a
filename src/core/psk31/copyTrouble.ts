// What the other one says when our signal does not come through, and what of ours was lost.
import { heardWords, isCallWord, isNear } from './facts'

/** What of ours may be lost, in the order in which it is repeated. */
const LOSABLE = ['call', 'report', 'name', 'place', 'locator'] as const
export type Losable = (typeof LOSABLE)[number]

export interface CopyTrouble {
  /** They ask who called, have our call wrong, or ask for something again. */
  kind: 'who' | 'wrongCall' | 'again'
  lost: readonly Losable[]
  /** Their words that say so. */
  words: string
}

const WORDS_FOR: Readonly<Record<string, Losable>> = {
  ...{ CALL: 'call', CALLSIGN: 'call', SIGN: 'call' },
  ...{ RST: 'report', RSQ: 'report', RPRT: 'report', REPORT: 'report' },
  ...{ NAME: 'name', OP: 'name' },
  ...{ QTH: 'place', TOWN: 'place' },
  ...{ LOC: 'locator', LOCATOR: 'locator', GRID: 'locator', SQUARE: 'locator', QRA: 'locator' },
} as const
const WHO_ASKS = /^(?:CALLED|CALLING)\b|^(?:IS|WAS) (?:CALLING|THERE|THIS|THAT|IT)$/
const AGAIN = new Set(['AGN', 'AGAIN', 'RPT', 'REPEAT', 'RPTS', 'MISSED', 'LOST'])
/** "See you again" asks for nothing. */
const MEETING = new Set(['CU', 'CUL', 'YOU', 'U', 'MEET', 'HPE', 'TALK', 'SOON'])
/** How far from "again" stands what is wanted again. */
const ABOUT = 6

/**
 * Whether they say that they do not copy us.
 * @param text what they said since our last words
 * @param ownCall ours, as it should stand in it
 */
export function copyTrouble(text: string, ownCall: string): CopyTrouble | undefined {
  const words = heardWords({ text }).map((word) => ({
    ...word,
    asks: /^\s*\?/.test(text.slice(word.to)),
    asksTwice: /^\s*\?\s*\?/.test(text.slice(word.to)),
  }))
  const around = (k: number) => text.slice(words[Math.max(0, k - 3)]!.from, words[Math.min(words.length - 1, k + ABOUT)]!.to)
  const who = words.findIndex(
    ({ text: word }, k) => word === 'QRZ' || (word === 'WHO' && WHO_ASKS.test(`${words[k + 1]?.text ?? ''} ${words[k + 2]?.text ?? ''}`)),
  )
  if (who >= 0) return { kind: 'who', lost: ['call'], words: around(who) }
  const wrong = words.findIndex(
    ({ text: word }, k) => word !== ownCall && isCallWord(word) && isNear(word, ownCall) && words[k + 1]?.text === 'DE',
  )
  if (wrong >= 0 && !words.some(({ text: word }) => word === ownCall)) return { kind: 'wrongCall', lost: ['call'], words: around(wrong) }
  const asked = words.flatMap(({ text: word, asks, asksTwice }, k) => {
    const one = WORDS_FOR[word]
    if ((AGAIN.has(word) && !MEETING.has(words[k - 1]?.text ?? '')) || (asksTwice && !one))
      return [{ k, lost: words.slice(Math.max(0, k - 3), k + ABOUT).flatMap((near) => WORDS_FOR[near.text] ?? []) }]
    return one && asks ? [{ k, lost: [one] }] : []
  })
  const [first] = asked
  if (!first) return undefined
  const lost = new Set(asked.flatMap((one) => one.lost))
  // Asked again without saying for what: for all that makes a contact.
  if (lost.size === 0) for (const one of ['call', 'report', 'name'] as const) lost.add(one)
  return { kind: 'again', lost: LOSABLE.filter((one) => lost.has(one)), words: around(first.k) }
}

/**
 * The over that says again what was lost, so often that it can be put together from all of them.
 * @param own what is known of us; what is empty is left out
 */
export function repeatPhrase(
  lost: readonly Losable[],
  { me, them, ...own }: { me: string; them: string; report: string; name: string; place: string; locator: string },
): string {
  const thrice = (word: string) => [word, word, word].join(' ')
  const said: Record<Losable, string> = {
    call: '',
    report: own.report && `rst ${thrice(own.report)}`,
    name: own.name && `name ${thrice(own.name)}`,
    place: own.place && `qth ${own.place} ${own.place}`,
    locator: own.locator && `loc ${thrice(own.locator)}`,
  }
  const calls = lost.includes('call') ? thrice(me) : me
  const rest = LOSABLE.filter((one) => lost.includes(one)).flatMap((one) => said[one] || [])
  return [
    ...(them ? [them] : []),
    `de ${calls}`,
    ...rest.map((words) => `= ${words}`),
    ...(rest.length > 0 ? [`= de ${me}`] : []),
    'k',
  ].join(' ')
}
