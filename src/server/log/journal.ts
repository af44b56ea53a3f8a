import { createReadStream, existsSync } from 'node:fs'
import { open, type FileHandle } from 'node:fs/promises'
import { dirname } from 'node:path'
import { contactSchema, type Contact } from '@/core/log'

/** One line of the journal: a contact as it stood after a change. */
export interface JournalEntry {
  /** Counted from 1 without gaps. */
  sequence: number
  contact: Contact
}

/**
 * The append-only journal of contacts. A contact is acknowledged only after its line stands on the disk:
 * the embedded database never asks the system to write through, so after a power cut it may be older than it said,
 * and the journal brings it up to date.
 */
export interface Journal {
  /**
   * Appends contacts and waits for the disk, while the process goes on. One append follows another: the caller sees to it.
   * @returns the last sequence number @throws what the file system says
   */
  append(contacts: readonly Contact[]): Promise<number>
  close(): Promise<void>
}

/** Longest line that is read back, in bytes; a contact is far smaller. */
const LONGEST_LINE = 1_000_000

export interface Replay {
  /** Lines that cannot be read, by number; they stay in the file. A torn last line was never acknowledged and is dropped. */
  damagedLines: number[]
  /** Sequence numbers of entries that the database will not have; they stay in the file. */
  refused: number[]
  applied: number
  /** The newest revision of each contact that the journal holds. */
  held: Map<string, number>
  /** Contacts that the database had lost, and those that only the database had. */
  restored: number
  rewritten: number
}

/**
 * Opens a journal, hands every entry beyond `after` to `apply` in batches, and returns it ready for appending.
 * @param apply gives the sequence numbers of those that could not be applied
 */
export async function openJournal(
  path: string,
  after: number,
  apply: (entries: JournalEntry[]) => Promise<readonly number[]>,
): Promise<{ journal: Journal; replay: Replay }> {
  const replay: Replay = { damagedLines: [], refused: [], applied: 0, held: new Map(), restored: 0, rewritten: 0 }
  const hand = async (entries: JournalEntry[]) => {
    const refused = await apply(entries)
    replay.refused.push(...refused)
    replay.applied += entries.length - refused.length
  }
  let sequence = 0
  /** What stands after the last end of a line, and whether it is an entry all the same. */
  let rest = { bytes: 0, whole: true }
  const isNew = !existsSync(path)
  if (!isNew) {
    let batch: JournalEntry[] = []
    let number = 0
    for await (const { text, bytes, ended } of readLines(path)) {
      number++
      const entry = text === undefined ? undefined : readLine(text)
      if (!ended) rest = { bytes, whole: entry !== undefined }
      if (!entry) {
        if (ended && text?.trim() !== '') {
          replay.damagedLines.push(number)
          // Its number is not used again: whoever can read the line some day must not find two of it.
          sequence++
        }
        continue
      }
      sequence = Math.max(sequence, entry.sequence)
      const { id, revision } = entry.contact
      if (revision > (replay.held.get(id) ?? 0)) replay.held.set(id, revision)
      if (entry.sequence <= after) continue
      batch.push(entry)
      if (batch.length >= 500) {
        await hand(batch)
        batch = []
      }
    }
    if (batch.length > 0) await hand(batch)
  }
  const file = await open(path, 'a')
  // A last line without its end was being written when the power went: the next one must start on a line of its own.
  if (rest.bytes > 0) {
    if (rest.whole) await writeAll(file, Buffer.from('\n'))
    else await file.truncate((await file.stat()).size - rest.bytes)
    await file.sync()
  }
  if (isNew) await syncFolder(dirname(path))
  // The database may have applied more than the journal holds only if somebody replaced the journal; never reuse numbers.
  sequence = Math.max(sequence, after)

  const journal: Journal = {
    async append(contacts) {
      const before = (await file.stat()).size
      let next = sequence
      const text = contacts.map((contact) => JSON.stringify({ sequence: ++next, contact }) + '\n').join('')
      try {
        await writeAll(file, Buffer.from(text, 'utf8'))
        await file.sync()
      } catch (error) {
        // Half a line must not stand before the next one (a full disk).
        await file.truncate(before)
        throw error
      }
      sequence = next
      return sequence
    },
    close: () => file.close(),
  }
  return { journal, replay }
}

/** The newest entry of each of some contacts, in the order of the journal. */
export async function newestEntries(path: string, ids: ReadonlySet<string>): Promise<JournalEntry[]> {
  const newest = new Map<string, JournalEntry>()
  for await (const { text } of readLines(path)) {
    const entry = text === undefined ? undefined : readLine(text)
    if (!entry || !ids.has(entry.contact.id)) continue
    const known = newest.get(entry.contact.id)
    if (!known || known.contact.revision <= entry.contact.revision) newest.set(entry.contact.id, entry)
  }
  return [...newest.values()].sort((a, b) => a.sequence - b.sequence)
}

async function writeAll(file: FileHandle, bytes: Uint8Array): Promise<void> {
  for (let at = 0; at < bytes.length;) at += (await file.write(bytes, at)).bytesWritten
}

async function syncFolder(folder: string): Promise<void> {
  // Windows cannot sync a folder and does not need it.
  if (process.platform === 'win32') return
  const handle = await open(folder, 'r')
  await handle.sync()
  await handle.close()
}

/**
 * The lines of a file, by line feeds alone: a comment may hold signs at which other readers of lines would cut.
 * `text` is absent when a line is too long to be one of ours; `ended` is false for what follows the last line feed.
 */
async function* readLines(path: string): AsyncGenerator<{ text: string | undefined; bytes: number; ended: boolean }> {
  let pieces: Buffer[] = []
  let bytes = 0
  const keep = (piece: Buffer) => {
    bytes += piece.length
    if (bytes <= LONGEST_LINE) pieces.push(piece)
    else pieces = []
  }
  const take = (ended: boolean) => {
    const line = { text: bytes <= LONGEST_LINE ? Buffer.concat(pieces).toString('utf8') : undefined, bytes, ended }
    pieces = []
    bytes = 0
    return line
  }
  for await (const chunk of createReadStream(path) as AsyncIterable<Buffer>) {
    let at = 0
    for (let end = chunk.indexOf(10); end >= 0; end = chunk.indexOf(10, at)) {
      keep(chunk.subarray(at, end))
      yield take(true)
      at = end + 1
    }
    keep(chunk.subarray(at))
  }
  if (bytes > 0) yield take(false)
}

function readLine(line: string): JournalEntry | undefined {
  try {
    const raw = JSON.parse(line) as { sequence?: unknown; contact?: unknown }
    const contact = contactSchema.safeParse(raw.contact)
    if (!Number.isInteger(raw.sequence) || !contact.success) return undefined
    return { sequence: raw.sequence as number, contact: contact.data }
  } catch {
    return undefined
  }
}
