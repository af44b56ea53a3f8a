import { NOMINAL_START_S, SLOT_MS, TRANSMISSION_S, type EncodeResult, type ModulateOptions } from '@/core/ft8'
import { streamOf } from '../../station/audioOutput'
import type { OpenedStream, Transmission } from '../../station/air'

export interface SlotTransmission {
  slotIndex: number
  text: string
  audioOffsetHz: number
  amplitude: number
  voxLeadInMs: number
}

/** After this much of a transmission has been missed it is not worth starting: too few symbols would be left to copy. */
const LATEST_START_MS = 4000

/** A message in its slot, as the air takes it: made when it is due, by a worker. */
export function transmissionOf(
  request: SlotTransmission,
  encode: (text: string, options: ModulateOptions) => Promise<EncodeResult>,
): Transmission {
  const leadS = request.voxLeadInMs / 1000
  const startUtcMs = request.slotIndex * SLOT_MS + (NOMINAL_START_S - leadS) * 1000
  return {
    mode: 'ft8',
    what: request.text,
    start: { utcMs: startUtcMs, latestMs: startUtcMs + LATEST_START_MS },
    length: { ms: (TRANSMISSION_S + leadS) * 1000 },
    async open(sampleRateHz): Promise<OpenedStream> {
      const { text, audioOffsetHz, amplitude } = request
      const encoded = await encode(text, { sampleRateHz, audioOffsetHz, amplitude, leadS })
      if (!encoded.ok) return encoded
      if (leadS > 0) addLeadInTone(encoded.samples, sampleRateHz, leadS, request)
      return { ok: true, stream: streamOf(encoded.samples) }
    },
  }
}

/** A VOX trips on sound, not on silence: the lead-in carries the lowest tone, rising softly. */
function addLeadInTone(samples: Float32Array, sampleRateHz: number, leadS: number, { audioOffsetHz, amplitude }: SlotTransmission): void {
  const count = Math.min(samples.length, Math.round(leadS * sampleRateHz))
  const rise = Math.max(1, Math.round(0.02 * sampleRateHz))
  for (let i = 0; i < count; i++) {
    const edge = Math.min(i, count - 1 - i)
    const shape = edge >= rise ? 1 : 0.5 * (1 - Math.cos((Math.PI * edge) / rise))
    samples[i] = amplitude * shape * Math.sin((2 * Math.PI * audioOffsetHz * i) / sampleRateHz)
  }
}
