import { joinSamples, SAMPLE_RATE_HZ } from '@/core/dsp'
import { SLOT_MS } from '@/core/ft8'
import type { OperatorAudio, PracticeWorld } from '../practiceWorld'
import { createPracticeBand } from './practiceBand'

/** A transmission up to this early belongs to the slot that is about to begin. */
const EARLIEST_MS = 2500
const PER_MS = SAMPLE_RATE_HZ / 1000

/** The FT8 band as a world in time: it is still made slot by slot, each when it is first asked for. */
export function createFt8World({ seed, stations }: { seed: number; stations: number }): PracticeWorld {
  const band = createPracticeBand({ seed, stations })
  let slot: { index: number; samples: Float32Array } | undefined
  let pieces: OperatorAudio[] = []
  const slotOf = (index: number) => {
    if (slot?.index !== index) slot = { index, samples: band.renderSlot(index) }
    return slot.samples
  }
  return {
    label: `Practice band, ${stations} stations`,
    stepMs: SLOT_MS,
    render(fromUtcMs, count) {
      const out = new Float32Array(count)
      for (let done = 0; done < count;) {
        const atMs = fromUtcMs + done / PER_MS
        const index = Math.floor(atMs / SLOT_MS)
        const into = Math.round((atMs - index * SLOT_MS) * PER_MS)
        const part = slotOf(index).subarray(into, into + count - done)
        out.set(part, done)
        done += Math.max(1, part.length)
      }
      return out
    },
    hear(audio) {
      pieces.push(audio)
      if (!audio.last) return undefined
      const { startUtcMs, sampleRateHz } = pieces[0]!
      const samples = joinSamples(pieces.map((piece) => piece.samples))
      pieces = []
      if (samples.length === 0) return undefined
      const slotIndex = Math.floor((startUtcMs + EARLIEST_MS) / SLOT_MS)
      return band.operatorSent(slotIndex, { samples, sampleRateHz, startS: (startUtcMs - slotIndex * SLOT_MS) / 1000 }) ?? null
    },
  }
}
