import { createGaussian, createRandom } from '@/core/dsp'
import { amplitudeForSnr, NOISE_RMS, Psk31Band, withRead, type Psk31Channel } from '@/core/psk31'
import { drawOperators, type Psk31Operator } from './operators'
import { Voice } from './voice'

const TEXT = 'cq cq cq de Q2LMN Q2LMN Q2LMN pse k\n'
const [plain] = drawOperators(1, createRandom(2)) as [Psk31Operator]

/** What our receiver makes of an over of somebody. */
function hear(who: Psk31Operator, snrDb = 15) {
  const voice = new Voice(who, TEXT, 1200)
  const noise = createGaussian(createRandom(4))
  const band = new Psk31Band()
  const gain = amplitudeForSnr(snrDb)
  let [text, lengthS, over] = ['', 0, false]
  let last: Psk31Channel | undefined
  for (let piece = 0; piece < 400 && lengthS < 60; piece++) {
    const samples = new Float32Array(1200)
    const count = over || piece < 10 ? 0 : voice.next(samples)
    if (piece >= 10 && count < samples.length) over = true
    if (!over) lengthS += 0.1
    for (const one of band.push(samples.map((value, i) => (i < count ? gain * value : 0) + NOISE_RMS * noise())))
      if (Math.abs(one.frequencyHz - 1200) < 20) text = withRead(text, one)
    for (const channel of band.channels) if (channel.doing !== 'gone' && Math.abs(channel.frequencyHz - 1200) < 20) last = channel
    if (over && piece > 10 * lengthS + 30) break
  }
  return { text: text.trim(), lengthS: lengthS - 1, last: last! }
}

describe('an over as somebody sends it', () => {
  const usual = hear(plain)

  it('can be read whole, whatever the transmitter adds', () => {
    for (const who of [plain, { ...plain, productsDb: -13 }, { ...plain, humShare: 0.25 }, { ...plain, driftHzS: 0.15 }])
      expect(hear(who).text).toBe(TEXT.trim())
    expect(usual.last.linearity).toMatchObject({ atMost: true })
  })
  it('of an overdriven transmitter has its products, of one with hum its lines', () => {
    expect(hear({ ...plain, productsDb: -13 }).last.linearity!.productsDb).toBeCloseTo(-13, 0)
    expect(hear({ ...plain, humShare: 0.25 }).last.linearity!.hum).toMatchObject({ hz: 100, db: expect.closeTo(20 * Math.log10(0.125), 0) })
  })
  it('moves by what the transmitter drifts', () => {
    const { last } = hear({ ...plain, driftHzS: 0.15 })
    expect(last.frequencyHz - 1200).toBeGreaterThan(0.08 * usual.lengthS)
  })
  it('takes as long as the fingers need', () => {
    const slow = hear({ ...plain, typesPerS: 3 })
    expect(slow.text).toBe(TEXT.trim())
    expect(slow.lengthS).toBeGreaterThan(TEXT.length / 3)
    expect(usual.lengthS).toBeLessThan(TEXT.length / 3)
  })
})

it('people of every kind call anybody on a band', () => {
  const callers = drawOperators(28, createRandom(5)).filter((_, i) => i % 4 === 0)
  expect(callers.some(({ typesPerS }) => typesPerS !== undefined)).toBe(true)
  expect(callers.some(({ driftHzS }) => driftHzS !== 0)).toBe(true)
  expect(callers.some(({ productsDb }) => productsDb !== undefined)).toBe(true)
  expect(callers.some(({ fading }) => fading.depthDb > 10)).toBe(true)
  expect(callers.some(({ hearsDb }) => hearsDb < -12)).toBe(true)
})
