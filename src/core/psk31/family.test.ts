import { createBandFilter, createRandom } from '../dsp'
import { Psk31Band } from './band'
import { encodePsk31 } from './modulate'
import { SAMPLE_RATE_HZ } from './signal'
import { amplitudeForSnr, NOISE_RMS, simulateBand } from './simulate'

const TEXT = 'cq cq cq de Q2LMN Q2LMN Q2LMN pse k and a few more words for it 73'

function hear(samples: Float32Array) {
  const band = new Psk31Band()
  const heard = new Map<number, { text: string; baud: number; frequencyHz: number }>()
  for (let at = 0; at < samples.length; at += 2048) {
    const texts = band.push(samples.subarray(at, at + 2048))
    const speeds = new Map(band.channels.map(({ channel, baud }) => [channel, baud]))
    for (const { channel, character, frequencyHz } of texts) {
      const one = heard.get(channel) ?? { text: '', baud: speeds.get(channel)!, frequencyHz }
      heard.set(channel, { ...one, text: one.text + character })
    }
  }
  return { band, conversations: [...heard.values()].filter(({ text }) => text.trim() !== '').sort((a, b) => a.frequencyHz - b.frequencyHz) }
}

describe('the faster members of the family', () => {
  it('are recognised and read beside each other and the usual one', () => {
    const samples = simulateBand(
      ([31.25, 62.5, 125, 62.5] as const).map((baud, k) => ({
        ...{ text: TEXT, frequencyHz: 603 + 550 * k, snrDb: -3 + 6 * (k % 2), startS: 0.7 + 0.8 * k, baud },
      })),
      22,
      5,
    )
    const { conversations } = hear(samples)
    expect(
      conversations.map(({ baud, text, frequencyHz }) => [baud, text.trim(), Math.abs(Math.round((frequencyHz - 603) / 550))]),
    ).toEqual([
      [31.25, TEXT, 0],
      [62.5, TEXT, 1],
      [125, TEXT, 2],
      [62.5, TEXT, 3],
    ])
  })

  it('are not made of two of the usual speed side by side', () => {
    for (const apartHz of [50, 62.5, 75]) {
      const beside = [0, apartHz].map((off) => ({ text: TEXT, frequencyHz: 1000 + off, snrDb: 6, startS: 0.7 }))
      const { conversations } = hear(simulateBand(beside, 22, 6))
      expect(conversations.map(({ baud }) => baud)).toEqual([31.25, 31.25])
    }
  })
})

describe('what is heard and not read', () => {
  const over = (signal: (i: number) => number) => simulateBand([], 10, 8).map((value, i) => value + signal(i))

  it('is named: a steady tone, and a signal of another kind', () => {
    const random = createRandom(3)
    const gain = amplitudeForSnr(5)
    // Two tones, one at a time, changing 45 times a second.
    let [shifted, phase] = [false, 0]
    const samples = over((i) => {
      if (i % 267 === 0) shifted = random() < 0.5
      phase += (2 * Math.PI * (shifted ? 2170 : 2000)) / SAMPLE_RATE_HZ
      return gain * Math.cos((2 * Math.PI * 1200 * i) / SAMPLE_RATE_HZ) + 2 * gain * Math.cos(phase)
    })
    const { band, conversations } = hear(samples)
    expect(conversations).toEqual([])
    expect(band.unread).toContainEqual({ frequencyHz: expect.closeTo(1200, -1), widthHz: expect.any(Number), kind: 'carrier' })
    const other = band.unread.filter(({ kind, frequencyHz }) => kind === 'other' && frequencyHz > 1900 && frequencyHz < 2270)
    expect(other.length).toBeGreaterThan(0)
  })

  it('is not the noise beside the edge of a receiver’s passband, which is no fuller there either', () => {
    const filter = createBandFilter(SAMPLE_RATE_HZ, 300, 2550)
    const { band } = hear(filter(over(() => 0)))
    expect(band.unread).toEqual([])
    // From the low edge of the passband to the high one, in steps of 20 Hz from 200 Hz on.
    expect(Math.max(...band.occupancy.slice(8, 115))).toBeLessThan(4.5)
  })

  it('is nothing in noise, nor a conversation and what it spills over', () => {
    expect(hear(over(() => 0)).band.unread).toEqual([])
    const strong = encodePsk31(TEXT, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz: 1500, amplitude: 20 * NOISE_RMS })
    expect(hear(over((i) => strong[i + SAMPLE_RATE_HZ] ?? 0)).band.unread).toEqual([])
  })
})
