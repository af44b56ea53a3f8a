import { randomUUID } from 'node:crypto'
import { createWriteStream, mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { once } from 'node:events'
import { ADI_LIMIT_BYTES, type AdifImport, type AdifImportOrder } from '@/core/log'
import type { AdifReader } from './adifReader'
import type { Logbook, LogProblem } from './logbook'

export interface AdifImportsOptions {
  /** A folder of their own, for the files while they are needed; emptied at the start. */
  folder: string
  logbook: Logbook
  read(path: string): AdifReader
}

type Outcome = { ok: true } | { ok: false; status: 404 | 409 | 413 | 507; error: string }

/** Most problems that are told with an import. */
const TOLD = 200
/** A file of which nobody wants to know any more is thrown away after so long. */
const KEPT_MS = 30 * 60_000

interface Running {
  state: AdifImport
  path: string
  reader?: AdifReader
}

/** Imports of ADIF files, one at a time: taken in, read to say what they would add, and stored when that is wanted. */
export class AdifImports {
  private current: Running | undefined
  private receiving = false
  private working: Promise<void> = Promise.resolve()
  private forget: ReturnType<typeof setTimeout> | undefined

  constructor(private readonly options: AdifImportsOptions) {
    rmSync(options.folder, { recursive: true, force: true })
  }

  /** The import under way, or the last one. */
  get state(): AdifImport | null {
    return this.current?.state ?? null
  }

  /** Takes a file in and begins to read it. */
  async receive(file: ReadableStream<Uint8Array> | null, name: string): Promise<Outcome> {
    const stage = this.current?.state.stage
    if (this.receiving || stage === 'reading' || stage === 'storing')
      return { ok: false, status: 409, error: 'Another file is being imported. Wait for its end, or stop it.' }
    this.receiving = true
    try {
      this.throwAway()
      mkdirSync(this.options.folder, { recursive: true })
      const id = randomUUID()
      const path = join(this.options.folder, `${id}.adi`)
      const written = await writeFile(path, file)
      if (!written.ok) {
        rmSync(path, { force: true })
        return written
      }
      const counts = { recordsRead: 0, ready: 0, alreadyThere: 0, stored: 0, problems: [], problemCount: 0, error: null }
      const state: AdifImport = { id, name, stage: 'reading', doneBytes: 0, totalBytes: written.bytes, ...counts }
      this.current = { state, path }
      this.working = this.read(this.current, false)
      return { ok: true }
    } finally {
      this.receiving = false
    }
  }

  /** Stores what was read, or stops. */
  async order({ id, action }: AdifImportOrder): Promise<Outcome> {
    const running = this.current
    if (running?.state.id !== id) return { ok: false, status: 404, error: 'This import has ended. Choose the file again.' }
    const { state } = running
    if (action === 'stop') {
      if (state.stage === 'reading' || state.stage === 'preview' || state.stage === 'storing') await this.stop(running)
      return { ok: true }
    }
    // A second press of the same button, or one whose answer was lost.
    if (state.stage === 'storing' || state.stage === 'done') return { ok: true }
    if (state.stage !== 'preview') return { ok: false, status: 409, error: 'The file has not been read yet.' }
    Object.assign(state, { stage: 'storing', doneBytes: 0 })
    this.working = this.read(running, true)
    return { ok: true }
  }

  async close(): Promise<void> {
    if (this.current) await this.stop(this.current)
    this.throwAway()
  }

  private async stop(running: Running): Promise<void> {
    running.state.stage = 'stopped'
    await running.reader?.stop()
    // What is being stored at this moment is stored.
    await this.working
    rmSync(running.path, { force: true })
  }

  private throwAway(): void {
    clearTimeout(this.forget)
    if (this.current) rmSync(this.current.path, { force: true })
    this.current = undefined
  }

  private async read(running: Running, store: boolean): Promise<void> {
    const { state, path } = running
    const wanted = state.stage
    const reader = this.options.read(path)
    running.reader = reader
    try {
      while (state.stage === wanted) {
        const batch = await reader.next()
        if (state.stage !== wanted) return
        if (!batch) {
          this.ended(running, store ? 'done' : 'preview')
          return
        }
        const { contacts, repeated, problems, records, at } = batch
        const taken = await this.options.logbook.take(
          contacts.map(({ contact }) => contact),
          store,
        )
        if (!taken.ok) return this.failed(running, taken)
        const { fresh, refused } = taken.value
        state.doneBytes = at
        if (store) state.stored += fresh - refused.length
        else {
          state.recordsRead += records
          state.ready += fresh
          state.alreadyThere += contacts.length - fresh + repeated
        }
        const lines = new Map(contacts.map(({ line, contact }) => [contact, line]))
        const found = [
          ...(store ? [] : problems),
          ...refused.map((contact) => ({
            line: lines.get(contact) ?? 0,
            what: `the database does not take the contact with ${contact.call}; it stands in the journal of the log`,
          })),
        ]
        state.problemCount += found.length
        state.problems.push(...found.slice(0, Math.max(0, TOLD - state.problems.length)))
      }
    } catch (error) {
      if (state.stage === wanted)
        this.failed(running, {
          error: `The import broke off: ${(error as Error).message}. What it had stored stays; the same file adds only the rest.`,
        })
    } finally {
      await reader.stop()
    }
  }

  private failed(running: Running, { error }: Pick<LogProblem, 'error'>): void {
    running.state.error = error
    this.ended(running, 'failed')
  }

  private ended(running: Running, stage: AdifImport['stage']): void {
    running.state.stage = stage
    if (stage !== 'preview') rmSync(running.path, { force: true })
    clearTimeout(this.forget)
    this.forget = setTimeout(() => {
      if (this.current === running && running.state.stage !== 'storing') this.throwAway()
    }, KEPT_MS)
    this.forget.unref()
  }
}

/** Writes what comes into a file, up to the limit. */
async function writeFile(
  path: string,
  file: ReadableStream<Uint8Array> | null,
): Promise<{ ok: true; bytes: number } | (Outcome & { ok: false })> {
  const out = createWriteStream(path, { mode: 0o600 })
  const broken = once(out, 'error').then(([error]: unknown[]) => Promise.reject(error as Error))
  // Awaited below, wherever a write is.
  broken.catch(() => undefined)
  let bytes = 0
  const reader = file?.getReader()
  try {
    for (;;) {
      const piece = await reader?.read()
      if (!piece || piece.done) break
      bytes += piece.value.length
      if (bytes > ADI_LIMIT_BYTES) {
        await reader!.cancel()
        return { ok: false, status: 413, error: `At most ${ADI_LIMIT_BYTES / 1e6} MB are accepted. Divide the file.` }
      }
      if (!out.write(piece.value)) await Promise.race([once(out, 'drain'), broken])
    }
    await Promise.race([new Promise<void>((done) => out.end(done)), broken])
    return { ok: true, bytes }
  } catch (error) {
    await reader?.cancel().catch(() => undefined)
    const full = (error as NodeJS.ErrnoException).code === 'ENOSPC'
    const why = full ? 'the disk of the server is full' : (error as Error).message
    return { ok: false, status: 507, error: `The file could not be taken in: ${why}.` }
  } finally {
    out.destroy()
  }
}
