import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { freePort } from '../src/server/testing'

/** A Zeptik server of a test's own, with a data folder of its own. */
export interface TestServer {
  readonly url: string
  readonly port: number
  readonly dataFolder: string
  /** Ends it as a power cut would. */
  kill(): Promise<void>
  /** Starts it again on the same data. */
  restart(): Promise<void>
  /** Ends it as Ctrl-C does. @returns its exit code */
  interrupt(): Promise<number | null>
  /** Ends it and removes its data. */
  dispose(): Promise<void>
}

/** Runs a start script until it says that it is open, or ends. */
export function launch(environment: Record<string, string>, script = 'scripts/start.mjs') {
  const child = spawn(process.execPath, [script], { env: { ...process.env, ...environment }, stdio: ['ignore', 'pipe', 'pipe'] })
  let output = ''
  const ended = new Promise<number | null>((done) => child.once('exit', (code) => done(code)))
  const opened = new Promise<boolean>((done) => {
    const read = (data: Buffer) => {
      output += data.toString()
      if (output.includes('open http://')) done(true)
    }
    child.stdout.on('data', read)
    child.stderr.on('data', read)
    void ended.then(() => done(false))
  })
  return { child, opened, ended, output: () => output }
}

export async function startServer({ demo = false } = {}): Promise<TestServer> {
  const port = await freePort()
  const dataFolder = mkdtempSync(join(tmpdir(), 'zeptik-e2e-'))
  let child: ChildProcess | undefined
  let ended: Promise<number | null> = Promise.resolve(0)
  const start = async () => {
    const started = launch({ PORT: String(port), ZEPTIK_DATA: dataFolder, ZEPTIK_DEMO: demo ? '1' : '0' })
    child = started.child
    ended = started.ended
    if (!(await started.opened)) throw new Error(`the server did not start:\n${started.output()}`)
  }
  const end = async (signal: NodeJS.Signals) => {
    child?.kill(signal)
    return ended
  }
  await start()
  return {
    url: `http://127.0.0.1:${port}`,
    port,
    dataFolder,
    kill: async () => void (await end('SIGKILL')),
    restart: start,
    interrupt: () => end('SIGINT'),
    dispose: async () => {
      await end('SIGKILL')
      rmSync(dataFolder, { recursive: true, force: true })
    },
  }
}
