/**
 * The ADI form of ADIF (Amateur Data Interchange Format, version 3.1.6), its syntax alone: fields and records.
 * Text beyond ASCII is written as UTF-8 with lengths in bytes. It is read as UTF-8, or as Windows-1252 where it is none;
 * lengths that count characters instead are understood where the text shows it.
 */
import { decodeWindows1252 } from '../text/windows1252'

export interface AdiField {
  name: string
  value: string
  /** Data type indicator, when the file gave one. */
  type?: string
}

export interface AdiRecord {
  fields: AdiField[]
  /** Line of the record's first field, counted from 1. */
  line: number
}

export interface AdiProblem {
  line: number
  /** Name of the field at fault, when it is known. */
  field?: string
  what: string
}

export interface AdiFile {
  header: AdiField[]
  records: AdiRecord[]
  problems: AdiProblem[]
}

/** Longer names and lengths no field has. */
const LONGEST_TAG = 200
/** A longer value is left out, in bytes: no contact holds it. */
const LONGEST_VALUE = 100_000
/** What a record has beyond this many fields is left out. */
const MOST_FIELDS = 500
/** More problems than this help nobody. */
const MOST_PROBLEMS = 2000
/** How far a reader goes without a word, in bytes. */
const WORD_EVERY = 1_000_000

/** Largest file that is read at once. */
export const ADI_LIMIT_BYTES = 100_000_000

/** What was found next in a file: a record, a problem, a field of its head, or only how far it was read. */
export interface AdiPiece {
  /** Bytes read so far. */
  at: number
  record?: AdiRecord
  problem?: AdiProblem
  header?: AdiField
}

/** Reads an ADI file. It never throws: what cannot be read is listed with its line, and the rest is still returned. */
export function parseAdi(bytes: Uint8Array): AdiFile {
  const file: AdiFile = { header: [], records: [], problems: [] }
  for (const { record, problem, header } of readAdi(bytes)) {
    if (record) file.records.push(record)
    if (problem) file.problems.push(problem)
    if (header) file.header.push(header)
  }
  return file
}

/** Reads an ADI file piece by piece, so that only what its reader keeps is in memory. It never throws. */
export function* readAdi(bytes: Uint8Array): Generator<AdiPiece, void, undefined> {
  if (bytes.length > ADI_LIMIT_BYTES) {
    yield { at: 0, problem: { line: 1, what: `the file has ${bytes.length} bytes; at most ${ADI_LIMIT_BYTES} are read` } }
    return
  }
  const decode = createDecode()
  const LESS = 60
  const GREATER = 62
  let line = 1
  let at = 0
  let told = 0
  let records = 0
  let problems = 0
  const found = (what: AdiProblem): AdiPiece => {
    problems++
    if (problems <= MOST_PROBLEMS) return { at, problem: what }
    return {
      at,
      ...(problems === MOST_PROBLEMS + 1 && { problem: { line, what: 'from here on there are more problems than are listed' } }),
    }
  }
  const advance = (to: number) => {
    for (; at < to; at++) if (bytes[at] === 10) line++
  }
  // Only a file whose first character is not '<' has a header; one whose header never ends is taken as having none.
  let inHeader = bytes.length > 0 && bytes[0] !== LESS && hasEndOfHeader(bytes)
  let record: AdiRecord | undefined
  /** It was said that the record has too many fields. */
  let tooMany = false
  while (at < bytes.length) {
    if (at - told >= WORD_EVERY) yield { at: (told = at) }
    const open = bytes.indexOf(LESS, at)
    if (open < 0) break
    advance(open)
    // Looked for no further than a tag can be long: a file of nothing but "<" would be searched to its end for each of them.
    const within = bytes.subarray(open, open + LONGEST_TAG).indexOf(GREATER)
    const close = open + within
    if (within < 0) {
      if (problems <= MOST_PROBLEMS) yield found({ line, what: 'a field begins with "<" and does not end with ">"' })
      advance(open + 1)
      continue
    }
    // A stray "<" must not swallow the field that follows it.
    const inner = bytes.lastIndexOf(LESS, close)
    if (inner > open) {
      if (!inHeader) yield found({ line, what: 'a field begins with "<" and does not end with ">"' })
      advance(inner)
      continue
    }
    const tag = decode(bytes.subarray(open + 1, close))
    const marker = tag.trim().toUpperCase()
    if (marker === 'EOH') {
      inHeader = false
      for (const header of record?.fields ?? []) yield { at, header }
      record = undefined
      advance(close + 1)
      continue
    }
    if (marker === 'EOR') {
      advance(close + 1)
      if (record) {
        records++
        yield { at: (told = at), record }
      }
      record = undefined
      continue
    }
    const parts = /^([^:<>]+):(\d{1,9})(?::([^:<>]*))?$/.exec(tag)
    if (!parts) {
      // A stray "<" in the free text of a header is not a fault.
      if (!inHeader)
        yield found({
          line,
          field: tag.split(':')[0]!.slice(0, 80),
          what: `"<${tag.slice(0, 80)}>" is no field: <NAME:LENGTH> is expected`,
        })
      advance(close + 1)
      continue
    }
    const name = parts[1]!.trim().toUpperCase()
    const length = Number(parts[2])
    const from = close + 1
    const to = endOfValue(bytes, from, length)
    if (to > bytes.length) {
      problems++
      yield { at, problem: { line, field: name, what: `${length} characters are announced, the file ends after ${bytes.length - from}` } }
      advance(bytes.length)
      break
    }
    if (!record) {
      record = { fields: [], line }
      tooMany = false
    }
    if (to - from > LONGEST_VALUE)
      yield found({ line, field: name, what: `its ${to - from} bytes are left out: at most ${LONGEST_VALUE} are read` })
    else if (record.fields.length < MOST_FIELDS)
      record.fields.push({ name, value: decode(bytes.subarray(from, to)), ...(parts[3] ? { type: parts[3] } : {}) })
    else if (!tooMany) {
      tooMany = true
      yield found({ line, field: name, what: `this and what follows in its record are left out: at most ${MOST_FIELDS} fields are read` })
    }
    advance(to)
  }
  if (inHeader) for (const header of record?.fields ?? []) yield { at, header }
  else if (record) {
    problems++
    yield { at, problem: { line: record.line, what: 'the last record does not end with <EOR>' } }
  }
  if (records === 0 && problems === 0) yield { at, problem: { line: 1, what: 'no records were found: is this an ADI file?' } }
}

function createDecode(): (bytes: Uint8Array) => string {
  const utf8 = new TextDecoder('utf-8', { fatal: true })
  return (bytes) => {
    try {
      return utf8.decode(bytes)
    } catch {
      return decodeWindows1252(bytes)
    }
  }
}

/** Whether a value may end here: at the end of the file, or before white space or the next field. */
const endsAt = (bytes: Uint8Array, at: number) => at >= bytes.length || bytes[at]! <= 32 || bytes[at] === 60

/** Where a value ends: after so many bytes, or after so many characters when only that ends where a value can. */
function endOfValue(bytes: Uint8Array, from: number, length: number): number {
  const byBytes = from + length
  if (length === 0 || endsAt(bytes, byBytes)) return byBytes
  let byCharacters = from
  for (let n = 0; n < length && byCharacters < bytes.length; n++) {
    byCharacters++
    // What follows the first byte of a character in UTF-8.
    while ((bytes[byCharacters]! & 0xc0) === 0x80) byCharacters++
  }
  return endsAt(bytes, byCharacters) ? byCharacters : byBytes
}

function hasEndOfHeader(bytes: Uint8Array): boolean {
  for (let at = bytes.indexOf(60); at >= 0; at = bytes.indexOf(60, at + 1)) {
    if (bytes[at + 4] === 62 && String.fromCharCode(...bytes.subarray(at + 1, at + 4)).toUpperCase() === 'EOH') return true
  }
  return false
}

/** Writes one field; empty values are left out. */
export function formatField(name: string, value: string): string {
  return value === '' ? '' : `<${name}:${new TextEncoder().encode(value).length}>${value}`
}
