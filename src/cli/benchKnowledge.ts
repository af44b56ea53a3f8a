import { createRandom } from '@/core/dsp'
import { decodeSlot, expectedMessages, simulatedCrowd, simulateSlot } from '@/core/ft8'

export interface KnowledgeBenchOptions {
  seed: number
  /** Slots at each ratio. */
  trials: number
  /** Slots without the expected message. */
  slots: number
}

const KNOWN = { ownCall: 'Q5RVR', otherCall: 'Q2LMN', otherLocator: 'JO31' }

/** `zeptik bench knowledge`: how weak an expected message may be, and how often one is found that is not there. */
export function benchKnowledge({ seed, trials, slots }: KnowledgeBenchOptions): void {
  const random = createRandom(seed)
  const newSeed = () => Math.floor(random() * 2 ** 31)
  const messages = expectedMessages(KNOWN)
  console.log(`own and other call known: ${messages.length} messages are expected; ${trials} slots at each ratio`)
  console.log('snr dB  without  place unknown  place known  wrong')
  for (const snrDb of [-22, -23, -24, -25, -26]) {
    const count = { without: 0, anywhere: 0, near: 0, wrong: 0 }
    for (let trial = 0; trial < trials; trial++) {
      const { text } = messages[Math.floor(random() * messages.length)]!
      const audioOffsetHz = 300 + 2400 * random()
      const samples = simulateSlot([{ text, snrDb, audioOffsetHz, timeOffsetS: 2 * random() - 1 }], newSeed())
      const nearHz = audioOffsetHz + 6 * (random() - 0.5)
      const found = [
        decodeSlot(samples),
        decodeSlot(samples, { knowledge: KNOWN }),
        decodeSlot(samples, { knowledge: { ...KNOWN, nearHz } }),
      ]
      const has = found.map((decodes) => decodes.some((d) => d.text === text))
      if (has[0]) count.without++
      if (has[1]) count.anywhere++
      if (has[2]) count.near++
      count.wrong += found.flat().filter((d) => d.text !== text).length
    }
    const cell = (n: number, width: number) => String(n).padStart(width)
    console.log(
      `${snrDb.toFixed(1).padStart(6)}  ${cell(count.without, 7)}  ${cell(count.anywhere, 13)}  ${cell(count.near, 11)}  ${cell(count.wrong, 5)}`,
    )
  }
  let noise = 0
  let crowd = 0
  for (let slot = 0; slot < slots; slot++) {
    noise += helped(simulateSlot([], newSeed()))
    // Others talk, and the other station talks to someone else.
    const signals = [
      ...simulatedCrowd(14, random),
      { text: 'Q7HAY Q2LMN R-12', snrDb: -22 + 20 * random(), audioOffsetHz: 400 + 2000 * random(), timeOffsetS: random() - 0.5 },
    ]
    crowd += helped(simulateSlot(signals, newSeed()))
  }
  console.log(`expected messages found that were not there: ${noise} in ${slots} slots of noise, ${crowd} in ${slots} usual slots`)
}

function helped(samples: Float32Array): number {
  return decodeSlot(samples, { knowledge: KNOWN }).filter((d) => d.how === 'expected').length
}
