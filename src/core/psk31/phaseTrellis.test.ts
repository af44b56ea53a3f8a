import { createGaussian, createRandom } from '../dsp'
import { knownSignal, KNOWN_NOISE as NOISE } from './knownSignal'
import type { ReceivedSymbol } from './phaseTrellis'
import { SoftReader, type DecidedBit } from './softReader'

const TEXT = 'CQ CQ de Q5RVR Q5RVR pse k name is rowan ames, rst 579 579 how copy?'

/** As they come, five at a time. */
function readAll(symbols: readonly ReceivedSymbol[]): DecidedBit[] {
  const reader = new SoftReader(NOISE)
  const out: DecidedBit[] = []
  symbols.forEach((symbol, k) => {
    reader.push({ ...symbol, atS: k, symbol: k })
    if (k % 5 === 4) out.push(...reader.decide().bits)
  })
  return [...out, ...reader.flush().bits]
}
const errorsIn = (decided: readonly DecidedBit[], bits: readonly number[]) => bits.filter((bit, k) => decided[k + 1]!.bit !== bit).length

describe('bits read with the phase over all that is known', () => {
  it('are right without much noise, each once and in their order', () => {
    const { symbols, bits } = knownSignal({ text: TEXT, frequencyHz: 1000.3, snrDb: 0, seed: 1 })
    const decided = readAll(symbols)
    expect(decided.map(({ symbol }) => symbol)).toEqual(symbols.map((_, k) => k))
    expect(errorsIn(decided, bits)).toBe(0)
    expect(decided.slice(20).every(({ llr }) => Math.abs(llr) > 2)).toBe(true)
  })

  it('are wrong half as often as from one symbol to the next, near the limit', () => {
    let errors = 0
    let plain = 0
    let count = 0
    for (let seed = 1; seed <= 4; seed++) {
      const { symbols, bits } = knownSignal({ text: TEXT, frequencyHz: 900 + 31.7 * seed, snrDb: -13, seed })
      errors += errorsIn(readAll(symbols), bits)
      plain += bits.filter((bit, k) => symbols[k]!.re * symbols[k + 1]!.re + symbols[k]!.im * symbols[k + 1]!.im > 0 !== (bit === 1)).length
      count += bits.length
    }
    expect(count).toBeGreaterThan(2000)
    expect(plain).toBeGreaterThan(0.012 * count)
    expect(errors).toBeLessThan(0.5 * plain)
  })

  it('survive a phase that turns slowly, and a change of strength by 20 dB', () => {
    const { symbols, bits } = knownSignal({ text: TEXT, frequencyHz: 1500, snrDb: -3, seed: 5 })
    const turned = symbols.map(({ re, im }, k) => {
      const gain = k < symbols.length / 2 ? 1 : 10
      const [cos, sin] = [gain * Math.cos(0.05 * k), gain * Math.sin(0.05 * k)]
      return { re: re * cos - im * sin, im: re * sin + im * cos }
    })
    // Where it changes, a stretch holds both.
    const wrong = readAll(turned).flatMap(({ bit }, k) => (k > 0 && bit !== bits[k - 1] ? [k] : []))
    for (const k of wrong) expect(Math.abs(k - symbols.length / 2)).toBeLessThan(13)
    expect(wrong.length).toBeLessThan(6)
  })

  it('of noise alone come with evidence against a signal, of a signal at -14 dB for it', () => {
    const random = createRandom(9)
    const gauss = createGaussian(random)
    const size = Math.sqrt(NOISE / 2)
    const noise = Array.from({ length: 1500 }, () => ({ re: size * gauss(), im: size * gauss() }))
    const sums = (decided: readonly DecidedBit[]) =>
      Array.from({ length: Math.floor(decided.length / 41) }, (_, i) =>
        decided.slice(41 * i, 41 * (i + 1)).reduce((sum, { evidence }) => sum + evidence, 0),
      )
    expect(Math.max(...sums(readAll(noise)))).toBeLessThan(10)
    const { symbols } = knownSignal({ text: TEXT, frequencyHz: 1200, snrDb: -14, seed: 3 })
    const heard = sums(readAll(symbols).slice(40))
    expect(heard.filter((sum) => sum > 10).length).toBeGreaterThan(0.9 * heard.length)
  })

  it('stay numbers when a strong signal without noise ends at once, leaves a trace, and comes back', () => {
    const strong = Array.from({ length: 80 }, (_, k) => ({ re: k % 2 === 0 ? 0.3 : -0.3, im: 0 }))
    const random = createRandom(3)
    const trace = Array.from({ length: 80 }, () => ({ re: 1e-3 * (random() - 0.5), im: 1e-3 * (random() - 0.5) }))
    const reader = new SoftReader(0)
    const decided: DecidedBit[] = []
    ;[...strong, ...trace, ...strong].forEach((symbol, k) => {
      reader.push({ ...symbol, atS: k, symbol: k })
      if (k % 5 === 4) decided.push(...reader.decide().bits)
    })
    expect(decided.every(({ llr, evidence }) => Number.isFinite(llr) && Number.isFinite(evidence))).toBe(true)
    expect(decided.slice(190).every(({ bit, evidence }) => bit === 0 && evidence > 0)).toBe(true)
  })

  it('of nothing are none, and no number comes of silence', () => {
    expect(new SoftReader(NOISE).flush()).toEqual({ bits: [], ahead: [] })
    const silent = readAll(Array.from({ length: 60 }, () => ({ re: 0, im: 0 })))
    expect(silent).toHaveLength(60)
    expect(silent.every(({ bit, llr, evidence }) => (bit === 0 || bit === 1) && Number.isFinite(llr) && Number.isFinite(evidence))).toBe(
      true,
    )
  })
})
