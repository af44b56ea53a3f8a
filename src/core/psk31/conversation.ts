// What can be read in running text without guessing: who is who, whose turn it is, and what was told. Never what was not sent.

/** A call as it is written on the air: it has a digit and letters on both sides of it or before a suffix. */
const CALL = /^(?:[A-Z0-9]{1,3}\/)?[A-Z0-9]{1,2}\d[A-Z]{1,4}(?:\/[A-Z0-9]{1,4})?$/
const LOCATOR = /^[A-R]{2}\d{2}(?:[A-X]{2})?$/

const wordsOf = (text: string) =>
  text
    .toUpperCase()
    .split(/[^A-Z0-9/?]+/)
    .filter(Boolean)

const isCall = (word: string) =>
  CALL.test(word) && !LOCATOR.test(word) && /[A-Z]/.test(word) && !/^\d+$/.test(word) && !/^[1-5]\d?N?N$/.test(word)

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
    if (words[at] !== 'DE' || !isCall(from)) continue
    const before = words[at - 1]
    return { from, cq, ...(before && isCall(before) && before !== from && { to: before }) }
  }
  return { cq }
}

/** What a station told of itself and of us. */
export interface Told {
  name?: string
  place?: string
  locator?: string
  /** What it gave us. */
  report?: string
}

const AFTER = {
  name: /\b(?:NAME|OP)\b(?:\s+(?:IS|HR|HERE))?[\s:=]+([A-Z][A-Z'-]{1,19})\b/g,
  place:
    /\bQTH\b(?:\s+(?:IS|HR|NR|NEAR))?[\s:=]+([A-Z][A-Z' -]{1,28}?)(?=\s*(?:[=.,;:\n]|\b(?:LOC|QRA|NAME|OP|QTH|RST|RSQ|BTU|HW|DE)\b|$))/g,
  locator: /\b([A-R]{2}\d{2}(?:[A-X]{2})?)\b/g,
  report: /\b(?:RST|RSQ|RPRT|REPORT|UR)\b(?:\s+(?:IS|UR|RST|RSQ))*[\s:=]+([1-5][1-9][1-9N]|[1-9]\d\d?[1-9][1-9]|[1-5]NN)\b/g,
} as const

/** Reads what was told; of things told twice the last counts. */
export function readTold(text: string): Told {
  const upper = text.toUpperCase().replace(/[ \t]+/g, ' ')
  const told: Told = {}
  for (const [what, pattern] of Object.entries(AFTER) as [keyof Told, RegExp][]) {
    const last = [...upper.matchAll(pattern)].at(-1)?.[1]
    if (last) told[what] = what === 'report' ? last.replaceAll('N', '9') : last.trim()
  }
  return told
}

/** What is known when a phrase is filled in. */
export interface Known {
  me: string
  them: string
  myName: string
  theirName: string
  myLocator: string
  myPlace: string
  report: string
}

/** What may stand in braces, in words for the screen. */
const PHRASE_WORDS: Readonly<Record<keyof Known, string>> = {
  me: 'own call',
  them: 'their call',
  myName: 'own name',
  theirName: 'their name',
  myLocator: 'own locator',
  myPlace: 'own place',
  report: 'report for them',
}

/**
 * Fills a phrase in from what is known.
 * @returns the text, and what it wants and nobody knows, in words
 */
export function fillPhrase(phrase: string, known: Known): { text: string; missing: string[] } {
  const missing: string[] = []
  // What stands between bars is left out as a whole when something in it is not known.
  const whole = phrase.replace(/\[([^\]]*)\]/g, (_, part: string) => (wanted(part).every((word) => known[word]) ? part : ''))
  const text = whole.replace(/\{(\w+)\}/g, (braces, word: string) => {
    const value = word in known ? known[word as keyof Known] : undefined
    if (!value) missing.push(word in PHRASE_WORDS ? PHRASE_WORDS[word as keyof Known] : braces)
    return value ?? ''
  })
  return { text: text.replace(/ {2,}/g, ' ').trim(), missing: [...new Set(missing)] }
}

const wanted = (part: string): (keyof Known)[] =>
  [...part.matchAll(/\{(\w+)\}/g)].flatMap(([, word]) => (word && word in PHRASE_WORDS ? [word as keyof Known] : []))

/** Phrases that are always at hand. `ends` hands the turn over. */
export const USUAL_PHRASES: readonly { label: string; text: string; ends: boolean }[] = [
  { label: 'CQ', text: 'cq cq cq de {me} {me} {me} pse k', ends: true },
  { label: 'Answer', text: '{them} {them} de {me} {me} k', ends: true },
  {
    label: 'Report',
    text: '{them} de {me} = ga[ {theirName}] tnx fer call = ur rst {report} {report}[ = name {myName} {myName}][ = qth {myPlace}][ = loc {myLocator}] = hw? btu {them} de {me} kn',
    ends: true,
  },
  { label: 'Again?', text: '{them} de {me} = sri pse agn ur rst name qth? btu {them} de {me} kn', ends: true },
  { label: 'Who calls?', text: 'qrz? qrz? de {me} pse k', ends: true },
  { label: '73', text: '{them} de {me} = r r tnx fer fb qso[ {theirName}] 73 73 = {them} de {me} sk', ends: true },
]
