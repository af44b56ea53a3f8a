import { closeSync, createReadStream, existsSync, fsyncSync, ftruncateSync, openSync, writeSync, fstatSync } from 'node:fs'
import { dirname } from 'node:path'
import { createInterface } from 'node:readline'
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
  /** Appends contacts and waits for the disk. @returns the last sequence number @throws what the file system says */
  append(contacts: readonly Contact[]): number
  readonly lastSequence: number
  close(): void
}

/** Longest line that is read back; a contact is far smaller. */
const LONGEST_LINE = 1_000_000

export interface Replay {
  /** Lines that were damaged in the middle of the file, by number; a torn last line was never acknowledged and is dropped. */
  damagedLines: number[]
  applied: number
}

/**
 * Opens a journal, hands every entry beyond `after` to `apply` in batches, and returns it ready for appending.
 */
export async function openJournal(
  path: string,
  after: number,
  apply: (entries: JournalEntry[]) => Promise<void>,
): Promise<{ journal: Journal; replay: Replay }> {
  const replay: Replay = { damagedLines: [], applied: 0 }
  let sequence = 0
  let bytes = 0
  let tornBytes = 0
  const isNew = !existsSync(path)
  if (!isNew) {
    let batch: JournalEntry[] = []
    let number = 0
    const lines = createInterface({ input: createReadStream(path, { encoding: 'utf8' }), crlfDelay: Infinity })
    for await (const line of lines) {
      number++
      const size = Buffer.byteLength(line) + 1
      const entry = readLine(line)
      if (!entry) {
        if (tornBytes > 0) replay.damagedLines.push(number - 1)
        bytes += tornBytes
        tornBytes = size
        continue
      }
      if (tornBytes > 0) replay.damagedLines.push(number - 1)
      bytes += tornBytes + size
      tornBytes = 0
      sequence = Math.max(sequence, entry.sequence)
      if (entry.sequence <= after) continue
      batch.push(entry)
      replay.applied++
      if (batch.length >= 500) {
        await apply(batch)
        batch = []
      }
    }
    if (batch.length > 0) await apply(batch)
  }
  const file = openSync(path, 'a')
  // A last line without its end was being written when the power went: cut it off so that the next one starts clean.
  if (!isNew && fstatSync(file).size !== bytes) ftruncateSync(file, Math.min(bytes, fstatSync(file).size))
  if (isNew) syncFolder(dirname(path))
  // The database may have applied more than the journal holds only if somebody replaced the journal; never reuse numbers.
  sequence = Math.max(sequence, after)

  const journal: Journal = {
    get lastSequence() {
      return sequence
    },
    append(contacts) {
      const before = fstatSync(file).size
      let next = sequence
      const text = contacts.map((contact) => JSON.stringify({ sequence: ++next, contact }) + '\n').join('')
      try {
        writeAll(file, Buffer.from(text, 'utf8'))
        fsyncSync(file)
      } catch (error) {
        // Half a line must not stand before the next one (a full disk).
        ftruncateSync(file, before)
        throw error
      }
      sequence = next
      return sequence
    },
    close: () => closeSync(file),
  }
  return { journal, replay }
}

function writeAll(file: number, bytes: Uint8Array): void {
  for (let at = 0; at < bytes.length;) at += writeSync(file, bytes, at)
}

function syncFolder(folder: string): void {
  // Windows cannot sync a folder and does not need it.
  if (process.platform === 'win32') return
  const handle = openSync(folder, 'r')
  fsyncSync(handle)
  closeSync(handle)
}

function readLine(line: string): JournalEntry | undefined {
  if (line === '' || line.length > LONGEST_LINE) return undefined
  try {
    const raw = JSON.parse(line) as { sequence?: unknown; contact?: unknown }
    const contact = contactSchema.safeParse(raw.contact)
    if (!Number.isInteger(raw.sequence) || !contact.success) return undefined
    return { sequence: raw.sequence as number, contact: contact.data }
  } catch {
    return undefined
  }
}
