import { encodeFt8 } from '@/core/ft8'
import { createFt8World } from './ft8World'
import { createPracticeBand } from './practiceBand'

const start = Date.UTC(2026, 5, 1, 12)
const slot = start / 15_000

const encoded = encodeFt8('CQ Q5RVR JN97', { sampleRateHz: 24_000, audioOffsetHz: 2700, amplitude: 0.5 })
if (!encoded.ok) throw new Error(encoded.error)

describe('the FT8 band as a world in time', () => {
  it('gives the same audio in whatever steps it is asked for, and the same as slot by slot', () => {
    const band = createPracticeBand({ seed: 5, stations: 8 })
    const slots = [band.renderSlot(slot), band.renderSlot(slot + 1)]
    const world = createFt8World({ seed: 5, stations: 8 })
    const pieces: Float32Array[] = []
    // Odd lengths, so that one lies over the end of a slot.
    for (let at = 0; at < 360_000; at += 7001) pieces.push(world.render(start + at / 12, Math.min(7001, 360_000 - at)))
    const whole = Float32Array.from(pieces.flatMap((piece) => [...piece]))
    expect(Buffer.from(whole.buffer).equals(Buffer.from(Float32Array.from(slots.flatMap((samples) => [...samples])).buffer))).toBe(true)
  })

  it.each([24_000 * 13, 24_000, 5000])('copies the same of what is sent in pieces of %i samples', (length) => {
    const world = createFt8World({ seed: 5, stations: 2 })
    world.render(start, 180_000)
    let copied: string | null | undefined
    for (let at = 0; at < encoded.samples.length; at += length) {
      const samples = encoded.samples.slice(at, at + length)
      const last = at + length >= encoded.samples.length
      expect(copied).toBeUndefined()
      copied = world.hear({ samples, sampleRateHz: 24_000, startUtcMs: start + 500 + (at / 24_000) * 1000, last })
    }
    expect(copied).toBe('CQ Q5RVR JN97')
  })

  it('copies nothing of what was cut off before it began, or too early', () => {
    const world = createFt8World({ seed: 5, stations: 2 })
    world.render(start, 180_000)
    expect(world.hear({ samples: new Float32Array(0), sampleRateHz: 24_000, startUtcMs: start, last: true })).toBeUndefined()
    const half = { samples: encoded.samples.slice(0, 24_000), sampleRateHz: 24_000, startUtcMs: start + 500, last: true }
    expect(world.hear(half)).toBeNull()
  }, 30_000)
})
