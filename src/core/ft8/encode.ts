import { createCallMemory } from './callHash'
import type { Ft8Message } from './message'
import { modulate, type ModulateOptions } from './modulate'
import { packMessage, unpackMessage } from './payload'
import { payloadToTones } from './symbols'

export type EncodeResult = { ok: true; samples: Float32Array; message: Ft8Message } | { ok: false; error: string }

/**
 * Makes the audio of one message: 12.64 s, beginning with the first symbol.
 * The message comes back as receivers will read it, which for a shortened or hashed one differs from what was asked.
 */
export function encodeFt8(text: string, options: ModulateOptions): EncodeResult {
  const packed = packMessage(text)
  if (!packed.ok) return packed
  // The sender's own words give the calls that a receiver would know by now.
  const memory = createCallMemory(20, text.toUpperCase().replace(/[<>]/g, '').split(/\s+/))
  const message = unpackMessage(packed.payload, memory)
  if (!message) return { ok: false, error: `"${text}" packs into a message that nobody could read` }
  return { ok: true, samples: modulate(payloadToTones(packed.payload), options), message }
}
