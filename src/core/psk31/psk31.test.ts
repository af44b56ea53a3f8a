import { createRandom } from '../dsp'
import { Psk31Band, type Psk31Text } from './band'
import { encodePsk31, Psk31Modulator } from './modulate'
import { BAUD, SAMPLE_RATE_HZ, SYMBOL_S } from './signal'
import { amplitudeForSnr, simulateBand, type SimulatedConversation } from './simulate'
import { readStretches, StretchKeeper, withRead } from './stretches'
import { encodeVaricode, isSendable, secondsOfText, UNKNOWN_CHARACTER, VaricodeReader } from './varicode'

const read = (bits: Iterable<number>) => {
  const reader = new VaricodeReader()
  return [...bits].map((bit) => reader.push(bit)?.character ?? '').join('')
}

describe('varicode', () => {
  it('has the published words', () => {
    expect(encodeVaricode(' ').join('')).toBe('100')
    expect(encodeVaricode('e').join('')).toBe('1100')
    expect(encodeVaricode('E').join('')).toBe('111011100')
    expect(encodeVaricode('\0').join('')).toBe('101010101100')
  })

  it('has 256 words, all different, which begin and end with 1 and hold no gap', () => {
    const all = Array.from({ length: 128 }, (_, code) => String.fromCharCode(code)).join('') + 'Zoë schöne Grüße €'
    expect(read(encodeVaricode(all))).toBe(all)
    const words = new Set(Array.from({ length: 128 }, (_, code) => encodeVaricode(String.fromCharCode(code)).join('')))
    expect(words.size).toBe(128)
    for (const word of words) expect(word).toMatch(/^1(0?1)*00$/)
  })

  it('reads over idling, carriers and words that are none, and sends only what it has', () => {
    const zeros = Array<number>(40).fill(0)
    expect(read([...zeros, ...encodeVaricode('ab'), ...zeros, ...encodeVaricode('c'), ...zeros])).toBe('abc')
    // A steady carrier is one long word that is none.
    expect(read([...Array<number>(60).fill(1), 0, 0, ...encodeVaricode('k')])).toBe('k')
    expect(read([1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 0, 0])).toBe(UNKNOWN_CHARACTER)
    expect(isSendable('plain')).toBe(true)
    expect(isSendable('漢')).toBe(false)
    expect(encodeVaricode('漢')).toEqual([])
    expect(secondsOfText('e', SYMBOL_S)).toBeCloseTo(4 / BAUD)
  })

  it('comes back whatever is written', () => {
    const random = createRandom(1)
    for (let trial = 0; trial < 200; trial++) {
      const text = Array.from({ length: 20 }, () => String.fromCharCode(Math.floor(128 * random()))).join('')
      expect(read(encodeVaricode(text))).toBe(text)
    }
  })
})

describe('the modulator', () => {
  const options = { sampleRateHz: 8000, frequencyHz: 1000, amplitude: 0.5 }
  const symbol = options.sampleRateHz / BAUD

  it('begins with reversals, ends with a carrier, and never steps', () => {
    const samples = encodePsk31('e', options)
    // The rise, 32 reversals, the bits, 32 steady symbols, the fall.
    expect(samples.length).toBe((1 + 32 + 4 + 32 + 1) * symbol)
    const peak = (from: number, to: number) => samples.slice(from * symbol, to * symbol).reduce((most, s) => Math.max(most, Math.abs(s)), 0)
    // In the middle of a reversal there is nothing.
    expect(peak(5.45, 5.55)).toBeLessThan(0.1)
    expect(peak(50, 60)).toBeCloseTo(0.5, 1)
    let step = 0
    for (let i = 1; i < samples.length; i++) step = Math.max(step, Math.abs(samples[i]! - samples[i - 1]!))
    expect(step).toBeLessThan(1.02 * 0.5 * 2 * Math.PI * (1000 / 8000))
    expect(Math.abs(samples[0]!) + Math.abs(samples.at(-1)!)).toBeLessThan(0.01)
  })

  it('gives the same in pieces of any size, and with symbols that are no whole samples', () => {
    const odd = { ...options, sampleRateHz: 11_025 }
    const whole = encodePsk31('hello', odd)
    const modulator = new Psk31Modulator(odd)
    modulator.type('hello')
    modulator.end()
    const random = createRandom(2)
    const pieces: number[] = []
    for (;;) {
      const piece = new Float32Array(1 + Math.floor(700 * random()))
      const count = modulator.next(piece)
      pieces.push(...piece.subarray(0, count))
      if (count < piece.length) break
    }
    expect(pieces.length).toBe(whole.length)
    expect(pieces.every((sample, i) => sample === whole[i])).toBe(true)
    expect(modulator.charactersSent).toBe(5)
  })

  it('idles while nothing is typed, goes on when something is, and takes back what has not begun', () => {
    const modulator = new Psk31Modulator(options)
    const out = new Float32Array(40 * symbol)
    expect(modulator.next(out)).toBe(out.length)
    expect(modulator.charactersSent).toBe(0)
    modulator.type('abcdef')
    modulator.next(new Float32Array(10 * symbol))
    const sent = modulator.charactersSent
    const taken = modulator.takeBack()
    expect(taken).toBeGreaterThan(0)
    expect(sent + taken).toBeLessThan(6)
    modulator.end()
    modulator.next(new Float32Array(200 * symbol))
    expect(modulator.charactersSent).toBe(6 - taken)
    expect(modulator.takeBack()).toBe(0)
  })
})

/** Reads a band in blocks as a microphone gives them. */
function hear(samples: Float32Array): Psk31Text[] {
  const band = new Psk31Band()
  const out: Psk31Text[] = []
  for (let at = 0; at < samples.length; at += 1024) out.push(...band.push(samples.subarray(at, at + 1024)))
  return [...out, ...band.flush()]
}
const textsOf = (heard: Psk31Text[]) => {
  const texts = new Map<number, string>()
  for (const one of heard) texts.set(one.channel, withRead(texts.get(one.channel) ?? '', one))
  return [...texts.values()]
}

describe('a band of conversations', () => {
  const text = 'CQ CQ de Q5RVR Q5RVR pse k'

  it('is read all at once, each conversation whole and by itself', () => {
    const conversations: SimulatedConversation[] = Array.from({ length: 12 }, (_, i) => ({
      text: `${text} ${i}`,
      ...{ frequencyHz: 301.7 + 213.3 * i, snrDb: i % 2 === 0 ? -7 : 12, startS: 0.5 + 0.3 * i },
    }))
    const heard = hear(simulateBand(conversations, 22, 3))
    expect(textsOf(heard).sort()).toEqual(conversations.map((c) => c.text).sort())
    for (const conversation of conversations) {
      const mine = heard.filter((h) => Math.abs(h.frequencyHz - conversation.frequencyHz) < 3)
      const snr = mine.reduce((sum, h) => sum + h.snrDb, 0) / mine.length
      expect(Math.abs(snr - conversation.snrDb)).toBeLessThan(1.5)
    }
  })

  it('is read thirty at a time, weak ones beside strong ones, each as if it were alone', () => {
    const conversations: SimulatedConversation[] = Array.from({ length: 30 }, (_, i) => ({
      ...{ text, frequencyHz: 350 + 80 * i, snrDb: -((i * 7) % 11), startS: 0.5 + ((i * 5) % 40) / 10 },
    }))
    const got = textsOf(hear(simulateBand(conversations, 20, 1)))
    expect(got).toHaveLength(30)
    expect(got.filter((one) => one === text).length).toBeGreaterThanOrEqual(28)
  })

  it('is followed while it drifts by half a hertz a second, and while it fades', () => {
    const long = 'CQ CQ de Q5RVR Q5RVR the quick brown fox jumps over the lazy dog pse k'
    const hard: Partial<SimulatedConversation>[] = [
      { driftHzS: 0.5 },
      { driftHzS: -0.5 },
      { spreadHz: 0.1 },
      { spreadHz: 0.5 },
      { spreadHz: 1 },
    ]
    const conversations = hard.map((path, i) => ({
      text: long,
      frequencyHz: 500 + 400 * i,
      snrDb: path.spreadHz ? 6 : -6,
      startS: 0.5,
      ...path,
    }))
    const got = hear(simulateBand(conversations, 26, 3))
    const errors = conversations.map(({ frequencyHz, driftHzS = 0 }) => {
      const mine = got.filter((one) => Math.abs(one.frequencyHz - frequencyHz - driftHzS * one.atS) < 8)
      return longestCommon(long, textsOf(mine).join(''))
    })
    for (const [i, least] of [0.95, 0.95, 0.9, 0.7, 0.5].entries()) expect(errors[i]! / long.length).toBeGreaterThan(least)
  })

  it('does not take the edges of a strong one for another, nor lose one of 20 dB less beside it', () => {
    const beside: SimulatedConversation[] = [
      { text: 'CQ CQ CQ de Q2LMN Q2LMN Q2LMN CQ CQ de Q2LMN pse k', frequencyHz: 1000, snrDb: 20, startS: 0.5 },
      { text, frequencyHz: 1070, snrDb: 0, startS: 3 },
    ]
    expect(textsOf(hear(simulateBand(beside, 24, 9)))).toEqual(beside.map((one) => one.text))
  })

  it('two turns on one frequency are one channel with two stretches, at their times', () => {
    const over = (words: string, startS: number): SimulatedConversation => ({ text: words, frequencyHz: 1000, snrDb: 5, startS })
    const heard = hear(simulateBand([over('Q2LMN de Q5RVR k', 1), over('Q5RVR de Q2LMN k', 14)], 28, 4))
    const stretches = readStretches(heard)
    expect(stretches.map((s) => [s.channel, s.text])).toEqual([
      [1, 'Q2LMN de Q5RVR k'],
      [1, 'Q5RVR de Q2LMN k'],
    ])
    expect(stretches.every(({ faint }) => faint.length === 0)).toBe(true)
    // The first character is out a second after the beginning.
    expect(stretches[0]!.startS).toBeGreaterThan(2)
    expect(stretches[0]!.startS).toBeLessThan(2.8)
    expect(stretches[1]!.startS - stretches[0]!.startS).toBeCloseTo(13, 0)
    expect(stretches[0]!.endS - stretches[0]!.startS).toBeCloseTo(secondsOfText('Q2LMN de Q5RVR k', SYMBOL_S), 0)
  })

  it('is read 200 parts in a million off its rate, while it drifts', () => {
    // Stretched: everything is a little later and lower, and lower still as time goes by.
    const straight = simulateBand([{ text, frequencyHz: 1500, snrDb: 0, startS: 1 }], 18, 5)
    const bent = new Float32Array(straight.length)
    for (let i = 0; i < bent.length; i++) {
      const at = i * 0.9998 - (0.5 * 0.1 * (i / SAMPLE_RATE_HZ) ** 2 * SAMPLE_RATE_HZ) / 1500
      const k = Math.floor(at)
      if (k >= 0 && k + 1 < straight.length) bent[i] = straight[k]! + (at - k) * (straight[k + 1]! - straight[k]!)
    }
    expect(textsOf(hear(bent)).join()).toContain(text)
  })

  it('of noise, carriers and keyed carriers alone gives no text', () => {
    const samples = simulateBand([], 90, 6)
    for (let i = 0; i < samples.length; i++) {
      const t = i / SAMPLE_RATE_HZ
      samples[i]! += 0.05 * Math.sin(2 * Math.PI * 700 * t)
      // Dots of 60 ms.
      if (t % 0.12 < 0.06) samples[i]! += 0.05 * Math.sin(2 * Math.PI * 1800 * t)
    }
    expect(textsOf(hear(samples))).toEqual([])
  })

  it('reads who is hidden 50 Hz beside a neighbour 30 dB stronger, in what is left without that', () => {
    const strong = 'Q7XYZ de Q2LMN = ga es tnx fer call = ur rst 599 = name Isa Isa = hw? btu Q7XYZ de Q2LMN kn'
    for (const [k, frequencyHz] of [1000, 1513.7].entries()) {
      const samples = simulateBand(
        [
          { text: strong, frequencyHz, snrDb: 27, startS: 1 },
          { text: `${text} ${text}`, frequencyHz: frequencyHz + (k === 0 ? 50 : -50), snrDb: -3, startS: 2.6 },
        ],
        26,
        40 + k,
      )
      expect(textsOf(hear(samples)).sort()).toEqual([`${text} ${text}`, strong].sort())
    }
  })

  it('reads two who are alike on both sides of a strong one, and one as far from a strong one as hum would be', () => {
    const strong = 'Q7XYZ de Q2LMN = good morning to you, this side runs ten watts into a wire and all is fine'
    const [left, right] = ['CQ CQ CQ de Q5RVR Q5RVR Q5RVR pse k', 'Q7TUV de Q3XYZ fine business, all copied']
    for (const [apartHz, weakDb] of [
      [50, -3],
      [80, -8],
      [100, 2],
    ] as const) {
      const samples = simulateBand(
        [
          { text: strong, frequencyHz: 1200, snrDb: 20, startS: 1 },
          { text: left, frequencyHz: 1200 - apartHz, snrDb: weakDb, startS: 1.7 },
          { text: right, frequencyHz: 1200 + apartHz, snrDb: weakDb, startS: 2.4 },
        ],
        26,
        9,
      )
      expect(textsOf(hear(samples)).sort()).toEqual([left, right, strong].sort())
    }
  })

  it('bears silence, overload and what is no number', () => {
    const samples = simulateBand([{ text, frequencyHz: 1200, snrDb: 30, startS: 1 }], 16, 7)
    expect(textsOf(hear(samples.map((s) => Math.max(-0.05, Math.min(0.05, s)))))).toEqual([text])
    expect(hear(new Float32Array(60_000))).toEqual([])
    // A burst of what is no number, while a conversation is read: it goes on after it, and its channel ends in its time.
    const two = simulateBand([{ text: 'CQ CQ CQ de Q5RVR Q5RVR pse k', frequencyHz: 1200, snrDb: 15, startS: 1 }], 24, 8)
    two.fill(NaN, 70_000, 73_000)
    const band = new Psk31Band()
    const heard = band.push(two)
    expect(heard.map(({ character }) => character).join('')).toMatch(/^CQ C.*Q5RVR pse k$/)
    expect(heard.every(({ snrDb, frequencyHz }) => Number.isFinite(snrDb) && Number.isFinite(frequencyHz))).toBe(true)
    expect(band.channels).toEqual([])
    expect(new Psk31Band().push(new Float32Array(20_000).fill(NaN))).toEqual([])
    expect(amplitudeForSnr(6) / amplitudeForSnr(0)).toBeCloseTo(1.995, 2)
  })
})

/** Characters that two texts have in common, in their order. */
function longestCommon(a: string, b: string): number {
  let row = new Array<number>(b.length + 1).fill(0)
  for (const one of a) {
    const next = [0]
    for (let k = 0; k < b.length; k++) next.push(b[k] === one ? row[k]! + 1 : Math.max(row[k + 1]!, next[k]!))
    row = next
  }
  return row[b.length]!
}

describe('stretches', () => {
  const said = (channel: number, character: string, atS: number): Psk31Text => ({
    channel,
    character,
    atS,
    sure: 1,
    back: 0,
    frequencyHz: 1000,
    snrDb: 3,
  })
  it('end after a pause, each channel for itself', () => {
    const keeper = new StretchKeeper()
    expect(keeper.push([said(1, 'a', 1), said(2, 'x', 1.5), said(1, 'b', 2)])).toEqual([])
    expect(keeper.ended(4.2).map((s) => s.text)).toEqual(['x'])
    expect(keeper.push([said(1, 'c', 9)]).map((s) => [s.text, s.startS, s.endS])).toEqual([['ab', 1, 2]])
    // What is taken back is gone, with what was faint of it; what stays keeps its places.
    keeper.push([
      { ...said(1, 'd', 9.2), sure: 0.4 },
      { ...said(1, 'e', 9.4), sure: 0.4 },
      { ...said(1, 'x', 9.6), back: 1 },
    ])
    expect(keeper.ended(Infinity).map((s) => [s.text, s.faint])).toEqual([['cdx', [1]]])
    expect(keeper.ended(Infinity)).toEqual([])
  })
})
