import { createHash } from 'node:crypto'
import { realpathSync, rmSync } from 'node:fs'
import { connect, createServer, type Server } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/**
 * Holds a data folder for one process. The embedded database has no lock of its own, and two processes on one
 * folder destroy it silently. The lock is a socket named after the folder: the system lets go of it
 * when the process dies, however it dies, so nothing stale is left to clean up.
 */
export type FolderLock = { ok: true; release(): Promise<void> } | { ok: false; error: string }

function socketName(folder: string): { path: string; leavesFile: boolean } {
  const key = createHash('sha256').update(realpathSync(folder)).digest('hex').slice(0, 32)
  if (process.platform === 'linux') return { path: `\0zeptik-${key}`, leavesFile: false }
  if (process.platform === 'win32') return { path: `\\\\.\\pipe\\zeptik-${key}`, leavesFile: false }
  return { path: join(tmpdir(), `zeptik-${key}.sock`), leavesFile: true }
}

/** Takes the lock, or says who has it. */
export async function lockFolder(folder: string): Promise<FolderLock> {
  const { path, leavesFile } = socketName(folder)
  for (let attempt = 0; attempt < 2; attempt++) {
    const server = await listen(path)
    if (server) {
      server.unref()
      return { ok: true, release: () => new Promise((done) => server.close(() => done())) }
    }
    // Where sockets are files, one without an owner is left behind by a killed process.
    if (!leavesFile || (await answers(path))) break
    rmSync(path, { force: true })
  }
  return {
    ok: false,
    error: `another Zeptik is already running on the data folder ${folder}. Use that one, stop it first, or start this one with another folder in ZEPTIK_DATA.`,
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
