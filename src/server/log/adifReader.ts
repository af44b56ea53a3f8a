import { readFileSync } from 'node:fs'
import { adifBatches, type AdifBatch } from '@/core/log'
import { startThread } from '../threads/thread'
import type { AdifThread } from './adifThread'

/** Reads an ADIF file in parts. */
export interface AdifReader {
  /** @returns the next part; nothing at the end @throws when the file cannot be read */
  next(): Promise<AdifBatch | undefined>
  /** Ends it, at once. */
  stop(): Promise<void>
}

/** What the values of a file may take at once while it is read, in MB; the file itself is not part of it. */
const MOST_MB = 300

/** Reads a file in a thread of its own. @param program the file of `adifThread` */
export function readAdifInThread(path: string, program: string): AdifReader {
  const thread = startThread<AdifThread>(program, { data: path, mostMb: MOST_MB })
  return { next: () => thread.calls.call('next'), stop: () => thread.stop() }
}

/** Reads a file in this thread. */
export function readAdifHere(path: string, newId: () => string): AdifReader {
  let batches: Generator<AdifBatch, void, undefined> | undefined
  return {
    next: async () => {
      batches ??= adifBatches(readFileSync(path), newId)
      return batches.next().value ?? undefined
    },
    stop: async () => void batches?.return(),
  }
}
