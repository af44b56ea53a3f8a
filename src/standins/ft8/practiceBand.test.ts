import { createCallMemory, decodeSlot, encodeFt8, nextTransmission, reduceExchange, type ExchangeState } from '@/core/ft8'
import { parityOf } from '@/core/time'
import { createPracticeBand } from './practiceBand'

const manner = { ownCall: 'Q5RVR', ownLocator: 'JN97LK', finish: 'RR73' as const, maxTries: 6, maxCqTries: 6 }

const audioOf = (text: string) => {
  const encoded = encodeFt8(text, { sampleRateHz: 24_000, audioOffsetHz: 2700, amplitude: 0.5 })
  if (!encoded.ok) throw new Error(encoded.error)
  return { samples: encoded.samples, sampleRateHz: 24_000, startS: 0.5 }
}

describe('the practice band', () => {
  it('is the same for the same seed, and its stations have made-up calls', () => {
    const bands = [createPracticeBand({ seed: 3 }), createPracticeBand({ seed: 3 })]
    expect(bands[0]!.stations.length).toBe(24)
    bands[0]!.stations.forEach((s) => expect(s.call).toMatch(/^Q\d[A-Z]{2,3}$/))
    for (let slot = 100; slot < 103; slot++) {
      const [a, b] = bands.map((band) => band.renderSlot(slot))
      expect(a!.length).toBe(180_000)
      expect(Buffer.from(a!.buffer).equals(Buffer.from(b!.buffer))).toBe(true)
    }
  })

  it('works the operator through a whole exchange, by audio alone', () => {
    const band = createPracticeBand({ seed: 7, vanishing: 0 })
    const memory = createCallMemory(100, ['Q5RVR'])
    let exchange: ExchangeState = { phase: 'idle' }
    let made = 0
    for (let slot = 1000; slot < 1030 && made === 0; slot++) {
      const heard = decodeSlot(band.renderSlot(slot), { callMemory: memory })
      const next = nextTransmission(exchange)
      if (next && next.parity === parityOf(slot)) {
        expect(band.operatorSent(slot, audioOf(next.text))).toBe(next.text)
        ;[exchange] = reduceExchange(exchange, { type: 'sent', slotIndex: slot, slotUtcMs: slot * 15_000, text: next.text, complete: true })
        continue
      }
      const cq = heard.filter((d) => d.message.kind === 'standard' && d.message.call === 'CQ').sort((a, b) => b.snrDb - a.snrDb)[0]
      const event =
        exchange.phase === 'underway' || !cq
          ? ({ type: 'heard', slotIndex: slot, slotUtcMs: slot * 15_000, decodes: heard } as const)
          : ({ type: 'answer', manner, decode: cq, slotIndex: slot, slotUtcMs: slot * 15_000, audioOffsetHz: 2700 } as const)
      const [after, effects] = reduceExchange(exchange, event)
      exchange = after
      made += effects.length
    }
    expect(made).toBe(1)
  })

  it('is as crowded as it was asked to be', () => {
    /** Most stations that were in an exchange at once. */
    const most = (stations: number) => {
      const band = createPracticeBand({ seed: 5, stations })
      let busy = 0
      for (let slot = 0; slot < 18; slot++) {
        band.renderSlot(slot)
        busy = Math.max(busy, band.stations.filter((s) => s.exchange.phase === 'underway').length)
      }
      return busy
    }
    const usual = most(24)
    expect(usual).toBeGreaterThan(8)
    // Those who answer at the same moment may be one or two more.
    expect(usual).toBeLessThan(20)
    expect(most(40)).toBeGreaterThan(usual)
  })

  it('copies nothing of a transmission that was silenced early, or of silence', () => {
    const band = createPracticeBand({ seed: 8 })
    band.renderSlot(50)
    const audio = audioOf('CQ Q5RVR JN97')
    expect(band.operatorSent(50, { ...audio, samples: audio.samples.slice(0, 24_000 * 3) })).toBeUndefined()
    expect(band.operatorSent(50, { ...audio, samples: new Float32Array(1000) })).toBeUndefined()
    expect(band.operatorSent(49, audio)).toBeUndefined()
  })
})
