import { createGaussian, createRandom } from '../../dsp'
import { encodeVaricode } from '../varicode'
import type { LetterModel } from './letterModel'
import { usualLetters } from './letterModel'
import { TextReader, type SoftBit, type TextCharacter } from './textReader'

/** Bits of a text with a strength, in pieces of five as they come; with noise, as a channel without memory gives them. */
function read(
  text: string,
  { letters, llr = 20, noise = 0, seed = 1 }: { letters?: LetterModel; llr?: number; noise?: number; seed?: number },
) {
  const gauss = createGaussian(createRandom(seed))
  const bits: SoftBit[] = [...encodeVaricode(text), ...Array<number>(24).fill(0)].map((bit, k) => ({
    llr: (bit === 1 ? llr : -llr) + noise * gauss(),
    atS: k,
  }))
  return readBits(bits, letters)
}
function readBits(bits: readonly SoftBit[], letters: LetterModel | undefined) {
  const reader = new TextReader(letters)
  const characters: TextCharacter[] = []
  let revised = 0
  bits.forEach((bit, k) => {
    reader.push(bit)
    if (k % 5 !== 4 && k !== bits.length - 1) return
    const { back, added } = reader.change()
    revised += back
    characters.splice(characters.length - back)
    characters.push(...added)
  })
  return { characters, text: characters.map(({ character }) => character).join(''), revised }
}
const wrong = (text: string, got: string) => {
  const words = got.split(' ')
  return text.split(' ').filter((word) => !words.includes(word)).length
}

const TEXT =
  'Q2LMN de Q5RVR good evening dear friend and many thanks for your call. the antenna is a loop near the house, 579 579 in JN97QK. how copy? k'

describe('text read by what was received and what people write', () => {
  const letters = usualLetters()

  it('is exactly what was sent where it was received well, whatever it is', () => {
    const odd = 'xqzw ÄÖü §% VVV ~ {[]} zzqx 0000 !?\n\tjkjkjkj; QQQQ'
    expect(read(odd, { letters }).text).toBe(odd)
    expect(read(odd, {}).text).toBe(odd)
    expect(read(TEXT.repeat(8), { letters }).text).toBe(TEXT.repeat(8))
  })

  it('is better than bit by bit where bits are doubtful, and calls and numbers are as they were received', () => {
    let plainWrong = 0
    let readWrong = 0
    for (let seed = 1; seed <= 12; seed++) {
      // Some 2 % of the bits are wrong.
      const plain = read(TEXT, { llr: 8, noise: 4, seed })
      const better = read(TEXT, { letters, llr: 8, noise: 4, seed })
      plainWrong += wrong(TEXT, plain.text)
      readWrong += wrong(TEXT, better.text)
      const numbers = (text: string) => text.match(/\S*\d\S*/g) ?? []
      // Each word with a digit stands in what was received alone, or has no digit there: none is made up.
      for (const word of numbers(better.text)) expect(plain.text).toContain(word.replace(/[.,?]$/, ''))
    }
    expect(plainWrong).toBeGreaterThan(30)
    expect(readWrong).toBeLessThan(0.7 * plainWrong)
  })

  it('tells which characters the waveform does not carry', () => {
    const bits = [...encodeVaricode('the antenna is '), ...Array<number>(16).fill(0)].map((bit, k) => ({
      llr: bit === 1 ? 20 : -20,
      atS: k,
    }))
    // Of the second "n" of "antenna" one bit is a little likelier wrong than right.
    const before = encodeVaricode('the anten').length
    bits[before + 1]!.llr *= -0.05
    const { characters, text } = readBits(bits, letters)
    expect(text).toBe('the antenna is ')
    expect(characters.map(({ sure }) => sure < 0.5).indexOf(true)).toBe(9)
    expect(characters.filter(({ sure }) => sure < 0.5)).toHaveLength(1)
    expect(readBits(bits, undefined).text).not.toContain('antenna')
  })

  it('completes no part of a call that is read in two pieces', () => {
    const bits = encodeVaricode('de Q5RVR the antenna ').map((bit, k) => ({ llr: bit === 1 ? 20 : -20, atS: k }))
    // Before the second "R" of the call a space is nearly as likely, and its end is doubtful.
    const tail = encodeVaricode('de Q5R').length
    for (let k = tail; k < tail + 10; k++) bits[k]!.llr *= 0.12
    const plain = readBits(bits, undefined).text
    expect(readBits(bits, letters).text.split(' ')[1]).toBe(plain.split(' ')[1])
  })

  it('settles what it read before a pause ends a stretch of text', () => {
    // A word that nothing ends, then noise: 2.4 s after its last bit, with what receiving takes, nothing of it changes.
    const random = createRandom(11)
    const reader = new TextReader(letters)
    const sent = encodeVaricode('name is rowanames')
    const characters: TextCharacter[] = []
    for (let k = 0; k < sent.length + 400; k++) {
      reader.push({ llr: k < sent.length ? 14 * (2 * sent[k]! - 1) + 8 * (random() - 0.5) : 6 * (random() - 0.5), atS: k })
      if (k % 5 !== 4) continue
      const { back, added } = reader.change()
      const gone = characters.splice(characters.length - back)
      for (const { last } of gone) expect(k - last).toBeLessThan(2.4 * 31.25 - 16)
      characters.push(...added)
    }
    expect(characters.map(({ character }) => character).join('')).toMatch(/^name is rowan/)
  })

  it('goes on after a carrier, a pause and what is no word at all', () => {
    const ones = Array<number>(60).fill(1)
    const bits = [
      ...Array<number>(40).fill(0),
      ...encodeVaricode('one '),
      ...ones,
      0,
      0,
      ...encodeVaricode('more time '),
      ...Array<number>(400).fill(0),
      ...encodeVaricode('ok k '),
      ...Array<number>(16).fill(0),
    ]
    expect(
      readBits(
        bits.map((bit, k) => ({ llr: bit === 1 ? 20 : -20, atS: k })),
        letters,
      ).text,
    ).toBe('one more time ok k ')
  })

  it('revises only the end, and keeps no more than it needs', () => {
    const reader = new TextReader(letters)
    let length = 0
    const random = createRandom(4)
    for (let k = 0; k < 6000; k++) {
      reader.push({ llr: 30 * (random() - 0.5), atS: k })
      if (k % 5 !== 0) continue
      const { back, added } = reader.change()
      expect(back).toBeLessThan(60)
      expect(back).toBeLessThanOrEqual(length)
      length += added.length - back
    }
    expect(length).toBeGreaterThan(100)
  })
})

it('keeps no more of a long pause than it needs', () => {
  const reader = new TextReader(usualLetters())
  const kept = () => (reader as unknown as { bits: unknown[] }).bits.length
  for (const bit of encodeVaricode('thanks for the call')) reader.push({ llr: bit === 1 ? 20 : -20, atS: 0 })
  for (let k = 0; k < 3000; k++) {
    reader.push({ llr: -20, atS: 0 })
    if (k % 5 === 0) reader.change()
  }
  expect(kept()).toBeLessThan(400)
})

describe('the model of letters', () => {
  it('makes what people write likelier than what nobody writes, and no call likelier than another', () => {
    const letters = usualLetters()
    const likely = (text: string) =>
      [...text].reduce((sum, character, k) => sum + letters.after(letters.contextOf(`\n${text.slice(0, k)}`), character), 0) / text.length
    expect(likely('the weather is sunny')).toBeGreaterThan(likely('teh wtaehre si usnny') + 1)
    expect(Math.abs(likely(' de Q5RVR ') - likely(' de Q7TUV '))).toBeLessThan(0.6)
    expect(letters.after(letters.contextOf(''), '€')).toBeLessThan(-10)
  })

  it('is a distribution: what may follow adds up to one', () => {
    const letters = usualLetters()
    for (const context of ['', 'e', 'ant', 'thank', 'zzzzz', '\n']) {
      let sum = 0
      for (let code = 32; code < 127; code++) sum += Math.exp(letters.after(letters.contextOf(context), String.fromCharCode(code)))
      sum += Math.exp(letters.after(letters.contextOf(context), '\n'))
      expect(sum).toBeCloseTo(1, 2)
    }
  })
})
