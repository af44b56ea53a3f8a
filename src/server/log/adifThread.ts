// A file from elsewhere is read in a thread of its own, with an end to the memory that it may take.
import { randomUUID } from 'node:crypto'
import { withinThread } from '../threads/thread'
import { readAdifHere } from './adifReader'

const own = { next: () => reader.next() }
export type AdifThread = typeof own

const { data } = withinThread(own)
const reader = readAdifHere(data as string, randomUUID)
