/**
 * The ADI form of ADIF (Amateur Data Interchange Format, version 3.1.6), its syntax alone: fields and records.
 * Text beyond ASCII is written as UTF-8 with lengths in bytes. It is read as UTF-8, or as Windows-1252 where it is none;
 * lengths that count characters instead are understood where the text shows it.
 */
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
/** More problems than this help nobody. */
const MOST_PROBLEMS = 2000

/** Largest file that is read at once. */
export const ADI_LIMIT_BYTES = 100_000_000

/** Reads an ADI file. It never throws: what cannot be read is listed with its line, and the rest is still returned. */
export function parseAdi(bytes: Uint8Array): AdiFile {
  const file: AdiFile = { header: [], records: [], problems: [] }
  if (bytes.length > ADI_LIMIT_BYTES) {
    file.problems.push({ line: 1, what: `the file has ${bytes.length} bytes; at most ${ADI_LIMIT_BYTES} are read` })
    return file
  }
  const decode = createDecode()
  const problem = (found: AdiProblem) => {
    if (file.problems.length < MOST_PROBLEMS) file.problems.push(found)
    else if (file.problems.length === MOST_PROBLEMS)
      file.problems.push({ line: found.line, what: 'from here on there are more problems than are listed' })
  }
  const LESS = 60
  const GREATER = 62
  let line = 1
  let at = 0
  const advance = (to: number) => {
    for (; at < to; at++) if (bytes[at] === 10) line++
  }
  // Only a file whose first character is not '<' has a header; one whose header never ends is taken as having none.
  let inHeader = bytes.length > 0 && bytes[0] !== LESS && hasEndOfHeader(bytes)
  let record: AdiRecord | undefined
  while (at < bytes.length) {
    const open = bytes.indexOf(LESS, at)
    if (open < 0) break
    advance(open)
    // Looked for no further than a tag can be long: a file of nothing but "<" would be searched to its end for each of them.
    const within = bytes.subarray(open, open + LONGEST_TAG).indexOf(GREATER)
    const close = open + within
    if (within < 0) {
      problem({ line, what: 'a field begins with "<" and does not end with ">"' })
      advance(open + 1)
      continue
    }
    // A stray "<" must not swallow the field that follows it.
    const inner = bytes.lastIndexOf(LESS, close)
    if (inner > open) {
      if (!inHeader) problem({ line, what: 'a field begins with "<" and does not end with ">"' })
      advance(inner)
      continue
    }
    const tag = decode(bytes.subarray(open + 1, close))
    const marker = tag.trim().toUpperCase()
    if (marker === 'EOH') {
      inHeader = false
      file.header.push(...(record?.fields ?? []))
      record = undefined
      advance(close + 1)
      continue
    }
    if (marker === 'EOR') {
      if (record) file.records.push(record)
      record = undefined
      advance(close + 1)
      continue
    }
    const parts = /^([^:<>]+):(\d{1,9})(?::([^:<>]*))?$/.exec(tag)
    if (!parts) {
      // A stray "<" in the free text of a header is not a fault.
      if (!inHeader)
        problem({
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
      file.problems.push({ line, field: name, what: `${length} characters are announced, the file ends after ${bytes.length - close - 1}` })
      advance(bytes.length)
      break
    }
    const value = decode(bytes.subarray(from, to))
    record ??= { fields: [], line }
    record.fields.push({ name, value, ...(parts[3] ? { type: parts[3] } : {}) })
    advance(to)
  }
  if (inHeader) file.header.push(...(record?.fields ?? []))
  else if (record) file.problems.push({ line: record.line, what: 'the last record does not end with <EOR>' })
  if (file.records.length === 0 && file.problems.length === 0)
    file.problems.push({ line: 1, what: 'no records were found: is this an ADI file?' })
  return file
}

function createDecode(): (bytes: Uint8Array) => string {
  const utf8 = new TextDecoder('utf-8', { fatal: true })
  const western = new TextDecoder('windows-1252')
  return (bytes) => {
    try {
      return utf8.decode(bytes)
    } catch {
      return western.decode(bytes)
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
