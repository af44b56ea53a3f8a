// The log and the documents as they are opened at the start: what the database has lost is brought back, and one that cannot
// be opened at all is put aside and made anew.
import { existsSync, renameSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import type { Database, OpenDatabase } from './db/database'
import { keepCopies } from './documentCopies'
import { Logbook } from './log/logbook'

export interface OpenedData {
  database: Database
  logbook: Logbook
  /** What was found and mended, in words for the terminal. */
  notes: string[]
  close(): Promise<void>
}

/** Faults of the disk and of rights are no damage: moving the data would not help against them. */
const isSystemFault = (error: unknown) => /^(EACCES|EPERM|ENOSPC|EROFS|EMFILE|ENFILE)$/.test(String((error as NodeJS.ErrnoException).code))

/** Opens the data folder. @throws when the data cannot be opened even anew */
export async function openData(
  folder: string,
  openDatabase: (folder: string) => Promise<OpenDatabase>,
  now: () => number,
): Promise<OpenedData> {
  const databaseFolder = join(folder, 'database')
  const wasThere = existsSync(databaseFolder)
  try {
    return await openOnce(folder, openDatabase, now)
  } catch (error) {
    if (!wasThere || isSystemFault(error)) throw error
    const aside = join(folder, `database-damaged-${new Date(now()).toISOString().slice(0, 19).replace(/[-:]/g, '')}`)
    renameSync(databaseFolder, aside)
    const opened = await openOnce(folder, openDatabase, now).catch((again: unknown) => {
      // It was not the database then: it goes back to where it was.
      rmSync(databaseFolder, { recursive: true, force: true })
      renameSync(aside, databaseFolder)
      throw again
    })
    opened.notes.unshift(
      `the database was damaged (${(error as Error).message}). It was moved to ${aside} and made anew: the log from its journal, station, plan, address book and other settings from their copies. Stations heard and readings of clock and levels of before are not in it.`,
    )
    return opened
  }
}

async function openOnce(folder: string, openDatabase: (folder: string) => Promise<OpenDatabase>, now: () => number): Promise<OpenedData> {
  const { database, close } = await openDatabase(join(folder, 'database'))
  let logbook: Logbook | undefined
  try {
    const restored = await keepCopies(database, join(folder, 'documents'))
    const opened = await Logbook.open(database, join(folder, 'contacts.journal'), now)
    logbook = opened
    const { replay } = opened
    const notes: string[] = []
    if (restored > 0)
      notes.push(`${restored} settings that the database did not have as they were last stored were brought back from their copies`)
    if (replay.restored > 0) notes.push(`${replay.restored} contacts that the database had lost were brought back from the journal`)
    if (replay.rewritten > 0)
      notes.push(
        `${replay.rewritten} contacts of the database were missing in the journal, which was lost or cut: they were written into it again`,
      )
    return {
      ...{ database, logbook: opened, notes },
      close: async () => {
        await opened.close()
        await close()
      },
    }
  } catch (error) {
    await logbook?.close().catch(() => undefined)
    await close().catch(() => undefined)
    throw error
  }
}
