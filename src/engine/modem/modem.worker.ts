import { expose, transfer } from 'comlink'
import { createCallMemory, decodeSlot, encodeFt8, findSlotPhase } from '@/core/ft8'
import type { ModemApi } from './modem.api'

const callMemory = createCallMemory()

const api: ModemApi = {
  decode({ samples, slotStartS, calls, knowledge }) {
    try {
      for (const call of calls) callMemory.remember(call)
      const start = performance.now()
      const decodes = decodeSlot(samples, { slotStartS, callMemory, ...(knowledge && { knowledge }) })
      return { ok: true, value: { decodes, decodeMs: performance.now() - start } }
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
