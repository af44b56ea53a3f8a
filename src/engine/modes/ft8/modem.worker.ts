import { expose, transfer } from 'comlink'
import { createCallMemory, decodeSlot, encodeFt8, findSlotPhase } from '@/core/ft8'
import type { ModemApi } from './modem.api'

const callMemory = createCallMemory()

const api: ModemApi = {
  decode({ samples, slotStartS, calls, knowledge, depth = 'usual', budgetMs = Infinity }) {
    try {
      for (const call of calls) callMemory.remember(call)
      const start = performance.now()
      let cutShort = false
      const outOfTime = () => (cutShort ||= performance.now() - start > budgetMs)
      const decodes = decodeSlot(samples, { slotStartS, callMemory, depth, outOfTime, ...(knowledge && { knowledge }) })
      return { ok: true, value: { decodes, decodeMs: performance.now() - start, cutShort } }
    } catch (error) {
      return { ok: false, error: (error as Error).message }
    }
  },
  encode(text, options) {
    try {
      const encoded = encodeFt8(text, options)
      return encoded.ok ? transfer(encoded, [encoded.samples.buffer]) : encoded
    } catch (error) {
      return { ok: false, error: (error as Error).message }
    }
  },
  findSlots(samples, onProgress) {
    try {
      return { ok: true, value: findSlotPhase(samples, onProgress) }
    } catch (error) {
      return { ok: false, error: (error as Error).message }
    }
  },
}

expose(api)
