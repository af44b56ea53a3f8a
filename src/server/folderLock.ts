import { createHash } from 'node:crypto'
import { closeSync, openSync, rmSync, statSync } from 'node:fs'
import { connect, createServer, type Server } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/**
 * Holds a data folder for one process. The embedded database has no lock of its own, and two processes on one
 * folder destroy it silently. There are two locks, each let go by the system when the process dies, however it dies: a
 * socket named after the folder itself (its device and inode, so that a bind mount is no other folder), and one that
 * lies in the folder, which also holds where names of sockets do not reach: in another container.
 */
export type FolderLock = { ok: true; release(): Promise<void> } | { ok: false; error: string }

function socketName(folder: string): { path: string; leavesFile: boolean } {
  const key = lockKey(folder)
  if (process.platform === 'linux') return { path: `\0zeptik-${key}`, leavesFile: false }
  if (process.platform === 'win32') return { path: `\\\\.\\pipe\\zeptik-${key}`, leavesFile: false }
  return { path: join(tmpdir(), `zeptik-${key}.sock`), leavesFile: true }
}

/** A short name for the folder itself, by whatever path it was reached. */
export function lockKey(folder: string): string {
  const { dev, ino } = statSync(folder, { bigint: true })
  return createHash('sha256').update(`${dev}:${ino}`).digest('hex').slice(0, 32)
}

const LOCK_FILE = 'lock.sock'

/** Takes the lock, or says who has it. */
export async function lockFolder(folder: string): Promise<FolderLock> {
  const { path, leavesFile } = socketName(folder)
  const named = await take(path, leavesFile)
  if (!named) return held(folder)
  const inside = await lockInside(folder)
  if (inside === 'held') {
    await shut(named)
    return held(folder)
  }
  return {
    ok: true,
    release: async () => {
      await inside?.()
      await shut(named)
    },
  }
}

const held = (folder: string): FolderLock => ({
  ok: false,
  error: `another Zeptik is already running on the data folder ${folder}. Use that one, stop it first, or start this one with another folder in ZEPTIK_DATA.`,
})

const shut = (server: Server) => new Promise<void>((done) => server.close(() => done()))

/** Listens on a socket that nobody else listens on. @param leavesFile whether one without an owner may be left behind */
async function take(path: string, leavesFile: boolean): Promise<Server | undefined> {
  for (let attempt = 0; attempt < 2; attempt++) {
    const server = await listen(path)
    if (server) return server.unref()
    if (!leavesFile || (await answers(path))) return undefined
    rmSync(path, { force: true })
  }
  return undefined
}

/** The lock within the folder; undefined where the file system has no sockets. @returns what lets it go */
async function lockInside(folder: string): Promise<(() => Promise<void>) | 'held' | undefined> {
  if (process.platform === 'win32') return undefined
  // Names of sockets are short, and folders may not be: on Linux the folder is named by an open file, which stays open
  // for as long as the socket, since the system removes the socket by that name.
  const file = process.platform === 'linux' ? openSync(folder, 'r') : undefined
  const end = async (server?: Server) => {
    if (server) await shut(server)
    if (file !== undefined) closeSync(file)
  }
  const path = file === undefined ? join(folder, LOCK_FILE) : `/proc/self/fd/${file}/${LOCK_FILE}`
  let server: Server | undefined
  try {
    server = await take(path, true)
    if (server) {
      // Somebody who took it for left behind may have removed it in the same moment.
      const own = statSync(join(folder, LOCK_FILE)).ino
      await new Promise((done) => setTimeout(done, 50))
      if (statSync(join(folder, LOCK_FILE)).ino === own) return () => end(server)
    }
    await end(server)
    return 'held'
  } catch (error) {
    await end(server)
    return (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'held' : undefined
  }
}

function listen(path: string): Promise<Server | undefined> {
  return new Promise((done, fail) => {
    const server = createServer((socket) => socket.destroy())
    server.once('error', (error: NodeJS.ErrnoException) => (error.code === 'EADDRINUSE' ? done(undefined) : fail(error)))
    server.listen(path, () => done(server))
  })
}

function answers(path: string): Promise<boolean> {
  return new Promise((done) => {
    const socket = connect(path)
    socket.once('connect', () => {
      socket.destroy()
      done(true)
    })
    socket.once('error', () => done(false))
  })
}
