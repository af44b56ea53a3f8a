import { agreed, type Fact, type Mention } from './agreement'
import { likelyName } from './likelyName'
import { cut, heardWords, isAlike, isCallWord, isLocatorWord, isNear, USUAL_SURE, type HeardText, type HeardWord } from './words'

/** What can be told of a station from what it sent. */
export interface ContactFacts {
  call?: Fact
  name?: Fact
  place?: Fact
  locator?: Fact
  /** What it gave us, with nines written out. */
  report?: Fact
}

const clearly = (word: HeardWord): Mention => ({ word, weight: 1 })
/** Said without a word that says what it is; noise seldom makes so much of it. */
const byItself = (word: HeardWord, weight: number): Mention => ({ word, weight })

const besides = (words: readonly HeardWord[], mentions: readonly Mention[]): HeardWord[] => {
  const said = new Set(mentions.map(({ word }) => word))
  return words.filter((word, k) => !said.has(word) && [words[k - 1], words[k + 1]].some((other) => other && said.has(other)))
}

const isAny = (text: string, of: readonly string[], shortest: number) =>
  of.includes(text) || (text.length >= shortest && of.some((one) => one.length >= shortest && isNear(text, one)))

// Calls

/** How many times people give their call after "de". */
const MOST_REPEATED = 4

/** "DE" and the call may have run into each other. */
const afterDe = (word: HeardWord): HeardWord | undefined =>
  word.text.startsWith('DE') && isCallWord(word.text.slice(2)) ? cut(word, 2, word.text.length) : undefined

function callIn(words: readonly HeardWord[], ownCall: string | undefined): Fact | undefined {
  const mentions: Mention[] = []
  const others: HeardWord[] = []
  words.forEach((word, k) => {
    const run = afterDe(word)
    if (run) mentions.push(clearly(run))
    if (word.text !== 'DE' && !run) return
    for (let at = k - 1; at >= 0 && isCallWord(words[at]!.text); at--) others.push(words[at]!)
    for (let at = k + 1; at < words.length && at <= k + MOST_REPEATED && isCallWord(words[at]!.text); at++)
      mentions.push(clearly(words[at]!))
  })
  const isOther = (text: string) => (ownCall !== undefined && isNear(text, ownCall)) || others.some((other) => isNear(other.text, text))
  // A call that is the one addressed as well is nobody's own.
  const own = mentions.filter(({ word }) => word.text !== ownCall)
  const known = new Set(own.map(({ word }) => word.from))
  const loose = words.filter((word) => isCallWord(word.text) && !known.has(word.from) && !isOther(word.text))
  const all = [...own, ...loose.map((word) => byItself(word, 0.4))]
  return agreed(all, { supporters: besides(words, all), isWhole: isCallWord })
}

// Names

const NAME_KEYS = ['NAME', 'OP', 'OPR', 'OPERATOR']
const NO_KEYS = ['SAME', 'CAME', 'GAME', 'QTH', 'SO', 'OR', 'OF', 'ON', 'OK', 'OM', 'UP', 'HP', 'ES', 'DE', 'K', 'R']
const FILLERS = ['IS', 'HR', 'HERE', 'MY', 'ES', 'AND', 'THE', 'OM', 'NAME', 'OP', '-', 'ITS', 'QRA']
const NO_NAMES = new Set(
  'QTH LOC LOCATOR RST RSQ UR YOUR BTU HW HOW BK DE ES AND IN IS MY THE FROM NEAR AT GRID QRA K KN SK PSE HR HERE RIG ANT PWR WX CPY COPY AR R SO I AM WE LIVE NR NAME OP REPORT OK FB TNX CQ TEST QRZ AGN DX'.split(
    ' ',
  ),
)
const isName = (text: string) => /^[A-Z][A-Z'-]{1,14}$/.test(text) && !NO_NAMES.has(text)
/** A filler, or one that was badly read. */
const isFiller = (text: string) => isAny(text, FILLERS, 4) || (text.length === 2 && /^[IH]/.test(text))
/** Whether a word announces a name: surely, or only where what follows is said twice. */
function nameKey(text: string): 'sure' | 'perhaps' | undefined {
  // With the word before or after it.
  if (/^.{0,3}NAME$|^NAME.{0,3}$/.test(text)) return 'sure'
  if (NAME_KEYS.includes(text) || (!NO_KEYS.includes(text) && text.length >= 3 && text.length <= 5 && isNear(text, 'NAME'))) return 'sure'
  return !NO_KEYS.includes(text) && text.length <= 3 && isNear(text, 'OP') ? 'perhaps' : undefined
}

function nameIn(words: readonly HeardWord[]): Fact | undefined {
  const mentions: Mention[] = []
  words.forEach(({ text }, k) => {
    const key = nameKey(text)
    if (!key) return
    const next = words.slice(k + 1, k + 6)
    // Said twice: whatever stands between the key and it is a filler, well read or badly.
    let at = next.findIndex((word, i) => i < 3 && isName(word.text) && isTwice(word.text, next[i + 1]?.text))
    if (at < 0 && key === 'perhaps') return
    if (at < 0) at = next.findIndex((word) => !isFiller(word.text))
    if (at < 0 || at > 3) return
    for (let i = at; i < Math.min(next.length, at + MOST_REPEATED); i++) {
      const word = next[i]!
      if (i > at && !isAlike(word.text, next[at]!.text) && !isAlike(word.text, next[i - 1]!.text)) break
      if (isName(word.text)) mentions.push(clearly(word))
    }
  })
  const told = mentions.length > 0 ? mentions : saidTwice(words)
  return agreed(told, { supporters: besides(words, told), isWhole: isName, likely: likelyName })
}

/** What people say twice in a row, beside calls and numbers, is their name or their place. */
const saidTwice = (words: readonly HeardWord[]): Mention[] =>
  words.flatMap((word, k) => {
    const before = words.slice(Math.max(0, k - 3), k)
    const isPlace = before.some(({ text }) => isNear(text, 'QTH') || isNear(text, 'NEAR') || text === 'IN')
    const other = [words[k - 1], words[k + 1]].find((beside) => beside && isTwice(word.text, beside.text))
    return !isPlace && other && isName(word.text) ? [byItself(word, 0.85)] : []
  })

const isTwice = (text: string, next: string | undefined) => next !== undefined && text.length > 2 && isAlike(text, next)

// Locators

const LOCATOR_KEYS = ['LOC', 'LOCATOR', 'GRID', 'SQUARE', 'QRA', 'QTH']

function locatorIn(words: readonly HeardWord[]): Fact | undefined {
  const mentions = words.flatMap((word, k) => {
    if (!isLocatorWord(word.text)) return []
    const before = words.slice(Math.max(0, k - 3), k).map((one) => one.text)
    return before.some((one) => isAny(one, LOCATOR_KEYS, 3) || isLocatorWord(one))
      ? [clearly(word)]
      : [byItself(word, word.text.length > 4 ? 0.95 : 0.8)]
  })
  return agreed(mentions, { supporters: besides(words, mentions), isWhole: isLocatorWord })
}

// Reports

/** Readability, strength and tone, with N for nines; or readability in per cent, strength and quality. */
const REPORT = /^(?:[1-5][1-9][1-9N]|[1-5]NN|[1-9]\d?\d[1-9][1-9])$/
const REPORT_KEYS = ['RST', 'RSQ', 'RPT', 'RPRT', 'REPORT', 'YOUR', 'SIGNAL', 'SIGS', 'SIG', 'UR']
/** What follows a number that is no report. */
const UNITS = ['W', 'WATT', 'WATTS', 'M', 'FT', 'KM', 'MHZ', 'KHZ', 'C', 'F', 'YEARS', 'ASL', 'METERS', 'METRES', 'PAGES', 'NR']
const ROUND = /^[1-5][1-9]9$/

function reportIn(words: readonly HeardWord[]): Fact | undefined {
  const mentions = words.flatMap((word, k) => {
    if (!REPORT.test(word.text)) return []
    const before = words.slice(Math.max(0, k - 4), k).map((one) => one.text)
    const after = words[k + 1]?.text
    const nines = { ...word, text: word.text.replaceAll('N', '9') }
    if (after !== undefined && UNITS.includes(after)) return []
    if (
      before.some((one) => isAny(one, REPORT_KEYS, 3) || REPORT.test(one)) ||
      (after !== undefined && REPORT.test(after) && isNear(after, word.text))
    )
      return [clearly(nines)]
    return ROUND.test(nines.text) ? [byItself(nines, 0.8)] : []
  })
  return agreed(mentions, { supporters: besidesReports(words), isWhole: (value) => REPORT.test(value) })
}

/** Beside a report only what has two digits of three is the same, badly read. */
const besidesReports = (words: readonly HeardWord[]) =>
  words.filter(
    ({ text }, k) =>
      !REPORT.test(text) && /\d.*\d/.test(text) && [words[k - 1], words[k + 1]].some((other) => other && REPORT.test(other.text)),
  )

// Places

const PLACE =
  /\bQTH\b(?:\s+(?:IS|HR|NR|NEAR))*[\s:=]+([A-Z][A-Z' -]{1,40}?)(?=\s*(?:[=.,;:\n]|\b(?:LOC|LOCATOR|GRID|SQUARE|QRA|NAME|OP|QTH|RST|RSQ|BTU|HW|HOW|DE|UR|MY)\b|$))/g

/** The place, which may be several words: what stands between the word for it and the next thing that is told. */
function placeIn({ text, sure }: HeardText): Fact | undefined {
  const upper = text.toUpperCase().replace(/\t/g, ' ')
  const words = [...upper.matchAll(PLACE)].map((match): HeardWord => {
    const told = onceOf(match[1]!.trim())
    const from = match.index + match[0].indexOf(match[1]!)
    return { text: told, sure: [...told].map((_, k) => sure?.[from + k] ?? USUAL_SURE), from, to: from + match[1]!.trim().length }
  })
  return agreed(words.map(clearly), { isWhole: (value) => value.length > 1, likely: likelyName })
}

/** What is said twice in a row, once. */
function onceOf(told: string): string {
  const words = told.split(/\s+/)
  const half = words.length / 2
  const twice = Number.isInteger(half) && isNear(words.slice(0, half).join(' '), words.slice(half).join(' '))
  return words.slice(0, twice ? half : words.length).join(' ')
}

/**
 * What a station told of itself and gave us, out of all that it sent. What was sent several times is put together from all of them;
 * no call and no number is completed by what would be likely, and of a name that only decides between two readings.
 * @param ownCall our call, which is nobody else's
 */
export function contactFacts(heard: HeardText, ownCall?: string): ContactFacts {
  const words = heardWords(heard)
  const facts = {
    call: callIn(words, ownCall),
    name: nameIn(words),
    place: placeIn(heard),
    locator: locatorIn(words),
    report: reportIn(words),
  }
  return Object.fromEntries(Object.entries(facts).filter(([, fact]) => fact !== undefined))
}
