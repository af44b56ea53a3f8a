import type { Depth, EncodeResult, Ft8Decode, Knowledge, ModulateOptions, SlotPhase } from '@/core/ft8'

export interface DecodeRequest {
  samples: Float32Array
  slotStartS: number
  /** Calls to remember before decoding, such as the own call. */
  calls: string[]
  /** What is expected to be heard. */
  knowledge?: Knowledge
  depth?: Depth
  /** After this long what was found so far is all. */
  budgetMs?: number
}

export type ModemResult<T> = { ok: true; value: T } | { ok: false; error: string }

/** What the modem worker does. All values are plain data. */
export interface ModemApi {
  decode(request: DecodeRequest): ModemResult<{ decodes: Ft8Decode[]; decodeMs: number; cutShort: boolean }>
  encode(text: string, options: ModulateOptions): EncodeResult
  /** Finds slots in audio of unknown phase. */
  findSlots(samples: Float32Array, onProgress: (share: number) => void): ModemResult<SlotPhase>
}
