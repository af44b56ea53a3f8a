import { SAMPLE_RATE_HZ, SLOT_S } from './signal'

/** A slot's audio with what surrounds it, ready for `decodeSlot`. */
export interface SlotPiece {
  /** Counted from 0 at the first slot. */
  slot: number
  samples: Float32Array
  /** Where the slot starts in `samples`. */
  slotStartS: number
}

/** Audio before and after a slot that belongs to transmissions 2.5 s early or late. */
const BEFORE_S = 2.1
const AFTER_S = 0.75
/** A last slot shorter than this cannot hold a message. */
const SHORTEST_S = 5

/**
 * Cuts a stream of 12 kHz audio into slots.
 * @param firstStartS where the first slot begins in the stream; slots that end before the stream begins are left out of the count's start
 */
export function createSlotCutter(firstStartS: number): { push(block: Float32Array): SlotPiece[]; flush(): SlotPiece[] } {
  let buffer = new Float32Array(0)
  let bufferStart = 0
  let slot = Math.max(0, Math.ceil(-(firstStartS + SLOT_S) / SLOT_S + 1e-9))
  const slotStart = () => Math.round((firstStartS + slot * SLOT_S) * SAMPLE_RATE_HZ)
  const before = Math.round(BEFORE_S * SAMPLE_RATE_HZ)
  const after = Math.round((SLOT_S + AFTER_S) * SAMPLE_RATE_HZ)

  const cut = (end: number): SlotPiece => {
    const start = slotStart()
    const from = Math.max(bufferStart, start - before)
    const samples = buffer.slice(from - bufferStart, Math.min(end, start + after) - bufferStart)
    const piece = { slot, samples, slotStartS: (start - from) / SAMPLE_RATE_HZ }
    slot++
    const keepFrom = Math.min(bufferStart + buffer.length, Math.max(bufferStart, slotStart() - before))
    buffer = buffer.slice(keepFrom - bufferStart)
    bufferStart = keepFrom
    return piece
  }

  return {
    push(block) {
      const joined = new Float32Array(buffer.length + block.length)
      joined.set(buffer)
      joined.set(block, buffer.length)
      buffer = joined
      const pieces: SlotPiece[] = []
      while (bufferStart + buffer.length >= slotStart() + after) pieces.push(cut(bufferStart + buffer.length))
      return pieces
    },
    flush() {
      const end = bufferStart + buffer.length
      const pieces: SlotPiece[] = []
      while (end - Math.max(slotStart(), 0) >= SHORTEST_S * SAMPLE_RATE_HZ) pieces.push(cut(end))
      return pieces
    },
  }
}
