import { createRandom } from '@/core/dsp'
import { Psk31Band, simulateBand, type Psk31Text } from '@/core/psk31'
import { distance } from './distance'
import { measureReferenceMs } from './reference'

const TEXT = 'CQ CQ CQ de Q5RVR Q5RVR Q5RVR pse k\nthe quick brown fox jumps over the lazy dog 0123456789 QTH Zeptik field 73'
const CONVERSATIONS = 12
const LENGTH_S = 45
const BLOCK = 4800

/** `zeptik bench psk31`: characters in error by signal-to-noise ratio, what noise makes of text, and what it costs. */
export function benchPsk31({
  seed,
  trials,
  snrs,
  noiseMinutes,
}: {
  seed: number
  trials: number
  snrs: number[]
  noiseMinutes: number
}): void {
  console.log(`reference: 1000 real transforms of 3840 points take ${measureReferenceMs().toFixed(0)} ms`)
  console.log(`snr dB  conversations  found  characters in error  others  measured snr dB  of one core`)
  for (const snrDb of snrs) {
    const random = createRandom(seed)
    const sum = { found: 0, errors: 0, characters: 0, others: 0, snr: 0, heard: 0, ms: 0 }
    for (let trial = 0; trial < trials; trial++) {
      const conversations = Array.from({ length: CONVERSATIONS }, (_, i) => ({
        ...{ text: TEXT, frequencyHz: 300 + 220 * i + 20 * random(), snrDb, startS: 0.5 + 4 * random() },
      }))
      const samples = simulateBand(conversations, LENGTH_S, seed * 1000 + trial)
      const start = performance.now()
      const texts = byChannel(hear(samples))
      sum.ms += performance.now() - start
      for (const conversation of conversations) {
        const mine = texts.find(({ frequencyHz }) => Math.abs(frequencyHz - conversation.frequencyHz) < 6)
        if (mine) texts.splice(texts.indexOf(mine), 1)
        sum.characters += TEXT.length
        sum.errors += mine ? distance(TEXT, mine.text) : TEXT.length
        if (!mine) continue
        sum.found++
        sum.snr += mine.snrDb
        sum.heard++
      }
      sum.others += texts.length
    }
    console.log(
      [
        snrDb.toFixed(1).padStart(6),
        String(CONVERSATIONS * trials).padStart(13),
        String(sum.found).padStart(5),
        `${((100 * sum.errors) / sum.characters).toFixed(2)} %`.padStart(19),
        String(sum.others).padStart(6),
        (sum.snr / Math.max(1, sum.heard)).toFixed(1).padStart(15),
        `${((100 * sum.ms) / (1000 * LENGTH_S * trials)).toFixed(1)} %`.padStart(11),
      ].join('  '),
    )
  }
  let characters = 0
  for (let minute = 0; minute < noiseMinutes; minute++) characters += hear(simulateBand([], 60, seed * 7919 + minute)).length
  console.log(`characters in ${noiseMinutes} min of noise: ${characters}`)
}

function hear(samples: Float32Array): Psk31Text[] {
  const band = new Psk31Band()
  const heard: Psk31Text[] = []
  for (let at = 0; at < samples.length; at += BLOCK) heard.push(...band.push(samples.subarray(at, at + BLOCK)))
  return [...heard, ...band.flush()]
}

function byChannel(heard: readonly Psk31Text[]): { frequencyHz: number; text: string; snrDb: number }[] {
  const channels = new Map<number, Psk31Text[]>()
  for (const character of heard) channels.set(character.channel, [...(channels.get(character.channel) ?? []), character])
  return [...channels.values()].map((all) => ({
    frequencyHz: all.at(-1)!.frequencyHz,
    text: all.map(({ character }) => character).join(''),
    snrDb: all.reduce((sum, { snrDb }) => sum + snrDb, 0) / all.length,
  }))
}
