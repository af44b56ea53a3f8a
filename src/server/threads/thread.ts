import { parentPort, Worker, workerData } from 'node:worker_threads'
import { Calls, type Channel } from './calls'

export interface Thread<Theirs extends object> {
  calls: Calls<Theirs>
  /** Ends it at once, whatever it does. */
  stop(): Promise<void>
}

export interface ThreadOptions {
  /** What it gets to start with. */
  data?: unknown
  /** Most memory that its values may take, in MB; beyond it the thread ends and nothing else. */
  mostMb?: number
  /** What it may call here. */
  own?: object
  /** It has ended though nobody stopped it. */
  onEnded?: (why: string) => void
}

/** Starts one of our programs in a thread. Calls fail when it ends. @param program a file */
export function startThread<Theirs extends object>(program: string, { data, mostMb, own, onEnded }: ThreadOptions = {}): Thread<Theirs> {
  const worker = new Worker(program, {
    workerData: data,
    ...(mostMb !== undefined && { resourceLimits: { maxOldGenerationSizeMb: mostMb } }),
  })
  const channel: Channel = {
    send: (message) => worker.postMessage(message),
    onMessage: (listener) => void worker.on('message', listener),
  }
  const calls = new Calls<Theirs>(channel, own)
  let over = false
  const end = (why: Error) => {
    calls.end(why)
    if (!over) onEnded?.(why.message)
    over = true
  }
  worker.on('error', (error: NodeJS.ErrnoException) =>
    end(
      error.code === 'ERR_WORKER_OUT_OF_MEMORY'
        ? Object.assign(new Error('it needs more memory than it may have'), { code: error.code })
        : error,
    ),
  )
  worker.on('exit', () => end(new Error('it has ended')))
  return {
    calls,
    stop: async () => {
      over = true
      calls.end(new Error('it was ended'))
      await worker.terminate()
    },
  }
}

/** Within a thread: what it got to start with, and the way to whoever started it. */
export function withinThread<Theirs extends object>(own: object): { data: unknown; calls: Calls<Theirs> } {
  if (!parentPort) throw new Error('This program runs in a thread of the server.')
  const port = parentPort
  const calls = new Calls<Theirs>(
    { send: (message) => port.postMessage(message), onMessage: (listener) => void port.on('message', listener) },
    own,
  )
  return { data: workerData, calls }
}
