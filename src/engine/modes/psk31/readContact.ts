import { contactFacts, isNear, LEAST_SURE, sureValue, whoSays, type ContactFacts, type Fact } from '@/core/psk31'
import { spansOf } from './spans'
import { emptyDraft, type ContactDraft, type FactField, type FactView, type TranscriptLine } from './state'

/** A line as it is kept: with how sure each character is where it was heard. */
export interface SpokenLine {
  utcMs: number
  mine: boolean
  text: string
  sure?: readonly number[]
  /** It is still being received: its last word may go on. */
  goesOn?: boolean
}

/** A text without the word that has only begun. */
export const withoutBegun = (text: string): string => text.replace(/\S+$/, '')

interface Said {
  line: SpokenLine
  /** Where it stands among all lines. */
  at: number
  from?: string
  to?: string
}

/** Their lines with who says each: one that does not tell goes on with the one before. */
function saidBy(lines: readonly SpokenLine[]): Said[] {
  let speaker: { from?: string; to?: string } = {}
  return lines.flatMap((line, at) => {
    if (line.mine) return []
    const { from, to } = whoSays(line.goesOn ? withoutBegun(line.text) : line.text)
    if (from) speaker = { from, ...(to && { to }) }
    return [{ line, at, ...speaker }]
  })
}

/** Lines as one text, with how sure each character is. */
const joined = (said: readonly Said[]) => ({
  // Of a word that goes on nothing is read, and all places stay as they are.
  text: said.map(({ line }) => (line.goesOn ? withoutBegun(line.text).padEnd(line.text.length) : line.text)).join('\n'),
  sure: said.flatMap(({ line }, k) => [...(k > 0 ? [1] : []), ...(line.sure ?? [...line.text].map(() => 1))]),
})

/** A call without what says where it is used. */
const homeOf = (call: string) => call.split('/').reduce((longest, part) => (part.length > longest.length ? part : longest), '')

/** The same one, perhaps with a character badly read or on the road by now. */
const isSame = (a: string | undefined, b: string) => a !== undefined && isNear(homeOf(a), homeOf(b))

export interface ReadContact {
  draft: ContactDraft
  /** What was read, also what is not sure enough to be filled in. */
  facts: Partial<Record<FactField, FactView>>
  /** Where it stands: by line, from and to. */
  told: ReadonlyMap<number, TranscriptLine['told']>
}

const FIELDS = { call: 'call', name: 'name', place: 'place', locator: 'locator', report: 'reportReceived' } as const

/** What a conversation tells for the log, where the operator has not said otherwise. Only what the other one said of itself counts. */
export function readContact(
  draft: ContactDraft,
  byHand: readonly (keyof ContactDraft)[],
  lines: readonly SpokenLine[],
  ownCall: string,
): ReadContact {
  const said = saidBy(lines)
  const last = said.flatMap((one) => (one.from && !isSame(ownCall || undefined, one.from) ? one.from : [])).at(-1)
  const speaker = byHand.includes('call') ? draft.call : (last ?? draft.call)
  // In a conversation of two others, what the one says is not the other's.
  const own = said.filter((one) => isSame(one.from, speaker))
  const read = contactFacts(joined(own), ownCall || undefined)
  const toUs = own.filter((one) => isSame(one.to, ownCall))
  const report = ownCall === '' ? undefined : contactFacts(joined(toUs), ownCall).report
  const { report: _, ...rest } = read
  const facts: ContactFacts = { ...rest, ...(report && { report }) }
  const told = new Map<number, { what: FactField; from: number; to: number }[]>()
  const views: Partial<Record<FactField, FactView>> = {}
  for (const [key, fact] of Object.entries(facts) as [keyof ContactFacts, Fact][]) {
    const { value, times, of, sure } = fact
    views[FIELDS[key]] = { value: written(key, value), times, of, sure }
    for (const place of placesOf(fact, key === 'report' ? toUs : own))
      told.set(place.line, [...(told.get(place.line) ?? []), { what: FIELDS[key], from: place.from, to: place.to }])
  }
  const sure = (field: FactField) => sureValue(views[field])
  const call = byHand.includes('call') || !last ? draft.call : isSame(sure('call'), last) ? sure('call')! : last
  const found: Partial<ContactDraft> = { call }
  for (const field of ['name', 'place', 'locator', 'reportReceived'] as const) {
    const value = sure(field)
    if (value !== undefined) found[field] = value
  }
  // What was read of the one before belongs to him.
  const before = isSame(call, draft.call) || draft.call === '' ? draft : { ...emptyDraft, reportSent: draft.reportSent }
  const typed = Object.fromEntries(byHand.map((field) => [field, draft[field]]))
  return { draft: { ...before, ...found, ...typed }, facts: views, told }
}

/** What a speaker has told of itself, for the running line. */
export function readTold(lines: readonly SpokenLine[], call: string, ownCall: string): { name?: string; place?: string; locator?: string } {
  const { draft } = readContact({ ...emptyDraft, call }, ['call'], lines, ownCall)
  return {
    ...(draft.name && { name: draft.name }),
    ...(draft.place && { place: draft.place }),
    ...(draft.locator && { locator: draft.locator }),
  }
}

/** Where a fact stands, by line. */
function placesOf(fact: Fact, said: readonly Said[]): { line: number; from: number; to: number }[] {
  return fact.places.flatMap(([from, to]) => {
    let start = 0
    for (const { line, at } of said) {
      const end = start + line.text.length
      if (from >= start && to <= end) return [{ line: at, from: from - start, to: to - start }]
      start = end + 1
    }
    return []
  })
}

/** As it is written in a log. */
const written = (key: keyof ContactFacts, value: string): string =>
  key === 'name' ? value[0]! + value.slice(1).toLowerCase() : key === 'place' ? titled(value) : value

const titled = (words: string) =>
  words.toLowerCase().replace(/(^|[\s'-])([a-z])/g, (_, before: string, letter: string) => before + letter.toUpperCase())

/** Lines as they are shown, with what is faint in them and what was told. */
export function shownLines(lines: readonly SpokenLine[], told: ReadContact['told']): TranscriptLine[] {
  return lines.map(({ utcMs, mine, text, sure }, k) => {
    const faint = spansOf((sure ?? []).map((one) => one < LEAST_SURE))
    const here = told.get(k)
    return { utcMs, mine, text, ...(faint.length > 0 && { faint }), ...(here && { told: here }) }
  })
}
