import { distance } from './distance'
import { knownSignal, KNOWN_NOISE as NOISE, SoftReader, VaricodeReader } from '@/core/psk31'

const TEXT =
  'CQ CQ CQ de Q5RVR Q5RVR Q5RVR pse k\nthe quick brown fox jumps over the lazy dog 0123456789 QTH Zeptik field 73 name is rowan ames, rst 579 579 how copy? btu'
/** Symbols that come at a time, as a spectrum of the band brings them. */
const AT_A_TIME = 5

/** `zeptik bench psk31-bits`: bits and characters in error when frequency and timing are known, from one symbol to the next and over all of them. */
export function benchPsk31Bits({ seed, trials, snrs }: { seed: number; trials: number; snrs: number[] }): void {
  console.log('snr dB   bits  wrong: one to the next  over all  characters wrong: one to the next  over all  us a symbol')
  for (const snrDb of snrs) {
    const sum = { bits: 0, plain: 0, soft: 0, characters: 0, plainText: 0, softText: 0, ms: 0 }
    for (let trial = 0; trial < trials; trial++) {
      const { symbols, bits } = knownSignal({ text: TEXT, frequencyHz: 1000.3 + 7.37 * trial, snrDb, seed: 1000 * seed + trial })
      const plain = symbols.slice(1).map(({ re, im }, k) => (re * symbols[k]!.re + im * symbols[k]!.im > 0 ? 1 : 0))
      const start = performance.now()
      const reader = new SoftReader(NOISE)
      const decided = symbols.flatMap((symbol, k) => {
        reader.push({ ...symbol, atS: k, symbol: k })
        return k % AT_A_TIME === AT_A_TIME - 1 ? reader.decide().bits : []
      })
      const soft = [...decided, ...reader.flush().bits].slice(1).map(({ bit }) => bit)
      sum.ms += performance.now() - start
      sum.bits += bits.length
      sum.plain += wrong(plain, bits)
      sum.soft += wrong(soft, bits)
      sum.characters += TEXT.length
      sum.plainText += distance(TEXT, textOf(plain))
      sum.softText += distance(TEXT, textOf(soft))
    }
    const percent = (part: number, of: number) => `${((100 * part) / of).toFixed(2)} %`
    console.log(
      [
        snrDb.toFixed(1).padStart(6),
        String(sum.bits).padStart(6),
        percent(sum.plain, sum.bits).padStart(21),
        percent(sum.soft, sum.bits).padStart(8),
        percent(sum.plainText, sum.characters).padStart(32),
        percent(sum.softText, sum.characters).padStart(8),
        ((1000 * sum.ms) / sum.bits).toFixed(0).padStart(11),
      ].join('  '),
    )
  }
}

const wrong = (read: readonly number[], bits: readonly number[]) => bits.filter((bit, k) => read[k] !== bit).length

function textOf(bits: readonly number[]): string {
  const reader = new VaricodeReader()
  return bits.flatMap((bit) => reader.push(bit)?.character ?? []).join('')
}
