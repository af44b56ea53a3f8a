import { fork, type ChildProcess } from 'node:child_process'
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { KeyMark, WayToUnkey } from './keyMark'

/** How soon a watch that ended is started anew, and how rarely at last. */
const FIRST_AGAIN_MS = 1000
const LONGEST_AGAIN_MS = 5 * 60_000

export interface FileKeyMarkOptions {
  /** The data folder. */
  folder: string
  /** The program that unkeys the radio when this process is gone; none in tests of the file alone. */
  watchScript?: string
  onProblem?: (words: string) => void
}

/**
 * Marks in a file that the radio is keyed, and tells a process of its own how to unkey it. The file is not forced to the
 * disk: a killed process does not lose it, and after a power cut the radio is told to stop at the first opening anyway.
 */
export class FileKeyMark implements KeyMark {
  private readonly path: string
  private watch: ChildProcess | undefined
  private closed = false
  private way: WayToUnkey | undefined
  private againMs = FIRST_AGAIN_MS

  constructor(private readonly options: FileKeyMarkOptions) {
    this.path = join(options.folder, 'keyed.json')
    this.startWatch()
  }

  found(): number | undefined {
    let text: string
    try {
      text = readFileSync(this.path, 'utf8')
    } catch {
      return undefined
    }
    // A mark that cannot be read is one all the same.
    try {
      const { utcMs } = JSON.parse(text) as { utcMs?: unknown }
      return typeof utcMs === 'number' && Math.abs(utcMs) < 8e15 ? utcMs : 0
    } catch {
      return 0
    }
  }

  set(utcMs: number, way: WayToUnkey | undefined): void {
    this.tell(way)
    try {
      writeFileSync(this.path, JSON.stringify({ utcMs }), { mode: 0o600 })
    } catch (error) {
      this.options.onProblem?.(`the mark that the radio is keyed could not be written: ${(error as Error).message}`)
    }
  }

  clear(): void {
    this.tell(undefined)
    rmSync(this.path, { force: true })
  }

  /** The server ends in order: the radio was unkeyed before. */
  close(): void {
    this.closed = true
    this.tell(undefined)
    this.watch?.disconnect()
    this.watch = undefined
  }

  private startWatch(): void {
    const { watchScript, onProblem } = this.options
    if (watchScript === undefined) return
    const watch = fork(watchScript, { stdio: 'ignore', detached: true, execArgv: [] })
    this.watch = watch
    watch.unref()
    watch.channel?.unref()
    watch.once('message', () => (this.againMs = FIRST_AGAIN_MS))
    // It may have been started anew while the radio is keyed.
    if (this.way) this.tell(this.way)
    watch.on('error', (error) => onProblem?.(`the process that unkeys the radio after us could not be started: ${error.message}`))
    watch.on('exit', () => {
      if (this.closed || this.watch !== watch) return
      this.watch = undefined
      onProblem?.('the process that unkeys the radio after us has ended; it is started anew')
      setTimeout(() => !this.closed && this.startWatch(), this.againMs).unref()
      this.againMs = Math.min(LONGEST_AGAIN_MS, 2 * this.againMs)
    })
  }

  private tell(way: WayToUnkey | undefined): void {
    this.way = way
    if (!this.watch?.connected) return
    this.watch.send({ way: way && { ...way, bytes: Buffer.from(way.bytes).toString('hex') } }, (error) => {
      if (error && !this.closed) this.options.onProblem?.(`the process that unkeys the radio after us does not listen: ${error.message}`)
    })
  }
}
