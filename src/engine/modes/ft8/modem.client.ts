import { proxy, transfer, wrap, type Remote } from 'comlink'
import type { EncodeResult, ModulateOptions, SlotPhase } from '@/core/ft8'
import type { DecodeRequest, ModemApi, ModemResult } from './modem.api'

/** A modem in a worker of its own, so that neither decoding nor modulation ever holds up the screen. */
export interface ModemClient {
  decode(request: DecodeRequest): ReturnType<Remote<ModemApi>['decode']>
  encode(text: string, options: ModulateOptions): Promise<EncodeResult>
  findSlots(samples: Float32Array, onProgress: (share: number) => void): Promise<ModemResult<SlotPhase>>
  close(): void
}

export function createModemClient(): ModemClient {
  const worker = new Worker(new URL('./modem.worker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<ModemApi>(worker)
  return {
    decode: (request) => remote.decode(transfer(request, [request.samples.buffer])),
    encode: (text, options) => remote.encode(text, options),
    findSlots: (samples, onProgress) => remote.findSlots(transfer(samples, [samples.buffer]), proxy(onProgress)),
    close: () => worker.terminate(),
  }
}
