import { createRandom } from '@/core/dsp'
import { encodePsk31, Psk31Band, simulateBand, usualLetters, withRead, type Psk31Text } from '@/core/psk31'
import { distance } from './distance'
import { numbersRight, OVERS } from './psk31Texts'
import { measureReferenceMs } from './reference'

const CONVERSATIONS = 12
const LENGTH_S = 72
const BLOCK = 2048
const FULL_BAND = { conversations: 30, apartHz: 80, weakestDb: -12 }
const PATHS = [
  { name: 'drifts by 0.25 Hz/s', snrs: [-6, -11], path: { driftHzS: 0.25 } },
  { name: 'drifts by 0.5 Hz/s', snrs: [-6, -11], path: { driftHzS: 0.5 } },
  { name: 'fades, spread 0.1 Hz', snrs: [6, -6], path: { spreadHz: 0.1 } },
  { name: 'fades, spread 0.5 Hz', snrs: [6, -6], path: { spreadHz: 0.5 } },
  { name: 'fades, spread 1 Hz', snrs: [6, -6], path: { spreadHz: 1 } },
]
const BESIDE = [
  { strongerDb: 20, snrDb: -9 },
  { strongerDb: 30, snrDb: -3 },
  { strongerDb: 30, snrDb: -9 },
]
/** Characters that are read from before a conversation is found, at most. */
const READ_FROM_BEFORE = 40
const MOST = { conversations: 40, apartHz: 65 }

interface BenchOptions {
  seed: number
  trials: number
  snrs: number[]
  noiseMinutes: number
}

/** `zeptik bench psk31`: characters in error by signal-to-noise ratio, as received and with what people write, and what noise makes of text. */
export function benchPsk31({ seed, trials, snrs, noiseMinutes }: BenchOptions): void {
  console.log(`reference: 1000 real transforms of 3840 points take ${measureReferenceMs().toFixed(0)} ms`)
  console.log('contact text in white noise, twelve conversations at once')
  console.log(
    'snr dB  conversations  found  after s, 95 %  wrong: as received  with language  numbers wrong: as received  with language  others  measured snr dB  shown after s, 95 %',
  )
  for (const snrDb of snrs) {
    const random = createRandom(seed)
    const sums = [createSum(), createSum()] as const
    for (let trial = 0; trial < trials; trial++) {
      const conversations = Array.from({ length: CONVERSATIONS }, (_, i) => ({
        ...{ text: OVERS[(i + trial) % OVERS.length]!, frequencyHz: 300 + 220 * i + 20 * random(), snrDb, startS: 0.5 + 4 * random() },
      }))
      const samples = simulateBand(conversations, LENGTH_S, seed * 1000 + trial)
      sums[0].add(conversations, hear(samples, false))
      sums[1].add(conversations, hear(samples, true))
    }
    const [plain, read] = sums
    print([
      [snrDb.toFixed(1), 6],
      [String(plain.of), 13],
      [String(plain.found), 5],
      [plain.foundAfterS(0.95).toFixed(1), 13],
      [percent(plain.errors, plain.characters), 18],
      [percent(read.errors, read.characters), 13],
      [percent(plain.numbers - plain.numbersRight, plain.numbers), 26],
      [percent(read.numbers - read.numbersRight, read.numbers), 13],
      [String(plain.others), 6],
      [(plain.snr / Math.max(1, plain.found)).toFixed(1), 15],
      [read.shownAfterS(0.95).toFixed(2), 19],
    ])
  }
  let characters = 0
  for (let minute = 0; minute < noiseMinutes; minute++) characters += hear(simulateBand([], 60, seed * 7919 + minute), true).length
  console.log(`characters in ${noiseMinutes} min of noise: ${characters}`)
}

/** `zeptik bench psk31-band`: a full band, paths that drift and fade, and what all of it costs. */
export function benchPsk31Band({ seed, trials }: Pick<BenchOptions, 'seed' | 'trials'>): void {
  console.log(`reference: 1000 real transforms of 3840 points take ${measureReferenceMs().toFixed(0)} ms`)
  benchCost(seed)
  benchFullBand(seed, trials)
  console.log('path                     snr dB  conversations  found  wrong: as received  with language')
  for (const { name, snrs, path } of PATHS)
    for (const snrDb of snrs) {
      const [plain, read] = [createSum(), createSum()]
      for (let trial = 0; trial < trials; trial++) {
        const random = createRandom(seed * 17 + trial)
        const conversations = Array.from({ length: 8 }, (_, i) => ({
          ...{ text: OVERS[(i + trial) % OVERS.length]!, frequencyHz: 350 + 300 * i + 20 * random(), snrDb, startS: 0.5 + 2 * random() },
          ...path,
        }))
        const samples = simulateBand(conversations, LENGTH_S, seed * 1000 + trial)
        plain.add(conversations, hear(samples, false))
        read.add(conversations, hear(samples, true))
      }
      print([
        [name.padEnd(23), 23],
        [snrDb.toFixed(0), 7],
        [String(plain.of), 13],
        [String(plain.found), 5],
        [percent(plain.errors, plain.characters), 18],
        [percent(read.errors, read.characters), 13],
      ])
    }
  benchBeside(seed, trials)
}

/** One beside a neighbour that is much stronger. */
function benchBeside(seed: number, trials: number): void {
  console.log('neighbour 50 Hz away     snr dB  conversations  found  wrong: as received  with language  others')
  for (const { strongerDb, snrDb } of BESIDE) {
    const [plain, read] = [createSum(), createSum()]
    for (let trial = 0; trial < 2 * trials; trial++) {
      const random = createRandom(seed * 23 + trial)
      const frequencyHz = 700 + 200 * random()
      const weak = { text: OVERS[trial % OVERS.length]!, frequencyHz: frequencyHz + 50, snrDb, startS: 2 + 2 * random() }
      const strong = { text: OVERS[(trial + 1) % OVERS.length]!, frequencyHz, snrDb: snrDb + strongerDb, startS: 1 }
      const samples = simulateBand([weak, strong], LENGTH_S, seed * 1000 + trial)
      const others = (heard: ReturnType<typeof hear>) => heard.filter((one) => Math.abs(one.frequencyHz - frequencyHz) > 25)
      plain.add([weak], others(hear(samples, false)))
      read.add([weak], others(hear(samples, true)))
    }
    print([
      [`${strongerDb} dB stronger`.padEnd(23), 23],
      [snrDb.toFixed(0), 7],
      [String(plain.of), 13],
      [String(plain.found), 5],
      [percent(plain.errors, plain.characters), 18],
      [percent(read.errors, read.characters), 13],
      [String(plain.others), 6],
    ])
  }
}

/** Thirty at once, from 0 to -12 dB, and each of the weakest with nobody beside it. */
function benchFullBand(seed: number, trials: number): void {
  const together = createSum()
  const alone = createSum()
  const { conversations: count, apartHz, weakestDb } = FULL_BAND
  for (let trial = 0; trial < Math.max(1, Math.round(trials / 2)); trial++) {
    const random = createRandom(seed * 31 + trial)
    const all = Array.from({ length: count }, (_, i) => ({
      text: OVERS[i % OVERS.length]!,
      frequencyHz: 350 + apartHz * i + 10 * random(),
      snrDb: (weakestDb * ((7 * i) % count)) / (count - 1),
      startS: 0.5 + 4 * random(),
    }))
    together.add(all, hear(simulateBand(all, LENGTH_S, seed * 100 + trial), false))
    for (let from = 0; from < 3; from++) {
      const some = all.filter((_, i) => i % 3 === from)
      alone.add(some, hear(simulateBand(some, LENGTH_S, seed * 100 + 10 * trial + from), false))
    }
  }
  console.log(
    `${count} at once, ${apartHz} Hz apart, 0 to ${weakestDb} dB: found ${together.found} of ${together.of}, ${percent(together.errors, together.characters)} wrong; ` +
      `ten at a time: found ${alone.found} of ${alone.of}, ${percent(alone.errors, alone.characters)} wrong`,
  )
}

function benchCost(seed: number): void {
  const { conversations: count, apartHz } = MOST
  const all = Array.from({ length: count }, (_, i) => ({
    ...{ text: OVERS[i % OVERS.length]!, frequencyHz: 300 + apartHz * i, snrDb: -((i * 7) % 13), startS: 0.5 + 0.1 * i },
  }))
  const samples = simulateBand(all, 50, seed)
  // As in the worker that does it: with language first, and by code that has run before.
  const [read, plain] = [true, false].map((byLetters) => {
    hear(samples, byLetters)
    const start = process.cpuUsage()
    hear(samples, byLetters)
    const { user, system } = process.cpuUsage(start)
    return `${((user + system) / 10_000 / 50).toFixed(1)} %`
  })
  console.log(`${count} at once cost ${plain} of one core as received, ${read} with language`)
}

interface Conversation {
  text: string
  frequencyHz: number
  startS: number
  driftHzS?: number
}
interface Heard {
  frequencyHz: number
  text: string
  snrDb: number
  firstS: number
  /** For each character, how long after its last bit it was shown. */
  lateS: number[]
}

function createSum() {
  const after: number[] = []
  const late: number[] = []
  return {
    shownAfterS: (share: number) => [...late].sort((a, b) => a - b)[Math.floor(share * (late.length - 1))] ?? Infinity,
    of: 0,
    found: 0,
    errors: 0,
    characters: 0,
    numbers: 0,
    numbersRight: 0,
    others: 0,
    snr: 0,
    /** Time within which a share of those found had their first character shown, from their beginning. */
    foundAfterS: (share: number) => [...after].sort((a, b) => a - b)[Math.floor(share * (after.length - 1))] ?? Infinity,
    add(conversations: readonly Conversation[], heard: Heard[]) {
      const left = [...heard]
      for (const { text, frequencyHz, startS, driftHzS = 0 } of conversations) {
        // Where it drifts to by its end.
        const endHz = frequencyHz + driftHzS * lengthS(text)
        const mine = left.find((one) => Math.abs(one.frequencyHz - endHz) < 6)
        if (mine) left.splice(left.indexOf(mine), 1)
        const { right, of } = numbersRight(text, mine?.text ?? '')
        this.of++
        this.characters += text.length
        this.errors += mine ? distance(text, mine.text) : text.length
        this.numbers += of
        this.numbersRight += right
        if (!mine) continue
        this.found++
        this.snr += mine.snrDb
        after.push(mine.firstS - startS)
        // The first ones are read from before it was found.
        late.push(...mine.lateS.slice(READ_FROM_BEFORE))
      }
      this.others += left.length
    },
  }
}

/** Seconds until the last character of a transmission. */
const lengthS = (text: string) => encodePsk31(text, { sampleRateHz: 1000, frequencyHz: 100, amplitude: 1 }).length / 1000 - 1

const percent = (part: number, of: number) => `${((100 * part) / Math.max(1, of)).toFixed(2)} %`
const print = (cells: readonly (readonly [string, number])[]) => console.log(cells.map(([text, width]) => text.padStart(width)).join('  '))

function hear(samples: Float32Array, byLetters: boolean): Heard[] {
  const band = new Psk31Band(byLetters ? usualLetters() : undefined)
  const channels = new Map<number, Heard & { count: number; shown: Set<number> }>()
  const take = (heard: readonly Psk31Text[], atS: number) => {
    for (const one of heard) {
      const known = channels.get(one.channel) ?? { frequencyHz: 0, text: '', snrDb: 0, firstS: atS, lateS: [], count: 0, shown: new Set() }
      channels.set(one.channel, known)
      if (one.character !== '' && !known.shown.has(one.atS)) known.lateS.push(atS - one.atS)
      known.shown.add(one.atS)
      known.count++
      known.snrDb += (one.snrDb - known.snrDb) / known.count
      Object.assign(known, { frequencyHz: one.frequencyHz, text: withRead(known.text, one) })
    }
  }
  for (let at = 0; at < samples.length; at += BLOCK) take(band.push(samples.subarray(at, at + BLOCK)), (at + BLOCK) / 12_000)
  take(band.flush(), samples.length / 12_000)
  return [...channels.values()]
}
