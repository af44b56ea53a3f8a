import { transfer, wrap } from 'comlink'
import type { Psk31Heard, Psk31ModemApi } from './psk31Modem.api'

/** The reader of all conversations, in a worker of its own. */
export interface Psk31Modem {
  restart(): Promise<void>
  push(samples: Float32Array): Promise<Psk31Heard>
  close(): void
}

export function createPsk31Modem(): Psk31Modem {
  const worker = new Worker(new URL('./psk31Modem.worker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<Psk31ModemApi>(worker)
  return {
    restart: () => remote.restart(),
    push: (samples) => remote.push(transfer(samples, [samples.buffer])),
    close: () => worker.terminate(),
  }
}
