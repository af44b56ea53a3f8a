import { chmodSync, lstatSync, readdirSync } from 'node:fs'
import { join } from 'node:path'

/** Rights of everybody but the owner. */
const OTHERS = 0o077
/** A data folder holds a database of some thousand files. */
const MOST_ENTRIES = 50_000

export interface PrivateFolder {
  /** Entries whose rights were taken from others. */
  mended: number
  /** What others can still read or write, and why; at most a few. */
  open: string[]
}

/**
 * Takes all rights from other users of the machine: the log, the passwords' key and the database are the operator's alone.
 * What is a link is left alone, and so is what it points at.
 */
export function makePrivate(folder: string): PrivateFolder {
  const result: PrivateFolder = { mended: 0, open: [] }
  // Systems without such rights have other means of their own.
  if (process.platform === 'win32') return result
  let seen = 0
  const note = (path: string, error: unknown) => {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT' && result.open.length < 5)
      result.open.push(`${path}: ${(error as Error).message}`)
  }
  const entriesOf = (path: string): string[] => {
    try {
      return readdirSync(path)
    } catch (error) {
      note(path, error)
      return []
    }
  }
  const visit = (path: string): void => {
    if (++seen > MOST_ENTRIES) return
    let stat: ReturnType<typeof lstatSync>
    try {
      stat = lstatSync(path)
      if (!stat.isSymbolicLink() && (stat.mode & OTHERS) !== 0) {
        chmodSync(path, stat.mode & 0o777 & ~OTHERS)
        result.mended++
      }
    } catch (error) {
      note(path, error)
      return
    }
    if (stat.isDirectory()) for (const name of entriesOf(path)) visit(join(path, name))
  }
  visit(folder)
  return result
}
