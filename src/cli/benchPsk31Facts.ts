import { createRandom } from '@/core/dsp'
import { contactFacts, isSure, Psk31Band, simulateBand, usualLetters, type HeardText } from '@/core/psk31'
import { distance } from './distance'
import { makeContact, spoiled, type MadeContact } from './psk31Contacts'

const SPOILED = 0.02
const AT_ONCE = 12
const LENGTH_S = 110
const BLOCK = 2048
const KEYS = ['call', 'name', 'locator', 'report'] as const

/** `zeptik bench psk31-facts`: what is drawn out of made-up contacts for the log, from text spoiled at random and from what was received. */
export function benchPsk31Facts({ seed, trials, snrs }: { seed: number; trials: number; snrs: number[] }): void {
  console.log(
    `${trials} contacts of many habits   wrong characters  right: call    name  locator  report     all  wrong: call    name  locator  report     all`,
  )
  const random = createRandom(seed)
  const contacts = Array.from({ length: trials }, () => makeContact(random))
  const texts = contacts.map(({ text }) => ({ text: spoiled(text, SPOILED, random) }))
  print('spoiled at random', contacts, texts)
  for (const snrDb of snrs)
    print(`received at ${snrDb.toFixed(1)} dB`, contacts, contacts.length > 0 ? receiveAll(contacts, snrDb, seed) : [])
}

function print(what: string, contacts: readonly MadeContact[], heard: readonly HeardText[]): void {
  const right: Record<string, number> = {}
  const wrong: Record<string, number> = {}
  let [errors, characters] = [0, 0]
  contacts.forEach(({ text, ownCall, truth }, k) => {
    errors += distance(text, heard[k]!.text)
    characters += text.length
    const facts = contactFacts(heard[k]!, ownCall)
    for (const key of KEYS) {
      const fact = facts[key]
      if (!fact || !isSure(fact)) continue
      const counts = fact.value === truth[key] ? right : wrong
      counts[key] = (counts[key] ?? 0) + 1
    }
  })
  const percent = (count: number, of: number) => `${((100 * count) / of).toFixed(1)} %`
  const shares = (counts: Record<string, number>) => [
    ...KEYS.map((key) => percent(counts[key] ?? 0, contacts.length)),
    percent(
      KEYS.reduce((sum, key) => sum + (counts[key] ?? 0), 0),
      KEYS.length * contacts.length,
    ),
  ]
  const widths = [12, 8, 9, 8, 8]
  const columns = (counts: Record<string, number>) =>
    shares(counts)
      .map((share, k) => share.padStart(widths[k]!))
      .join('')
  console.log(`${what.padEnd(26)} ${percent(errors, characters).padStart(18)}${columns(right)}${columns(wrong)}`)
}

/** All contacts through the air, a dozen at once. */
function receiveAll(contacts: readonly MadeContact[], snrDb: number, seed: number): HeardText[] {
  const out: HeardText[] = []
  for (let from = 0; from < contacts.length; from += AT_ONCE) {
    const random = createRandom(seed * 1000 + from)
    const some = contacts.slice(from, from + AT_ONCE).map(({ text }, i) => ({
      ...{ text, frequencyHz: 300 + 220 * i + 20 * random(), snrDb, startS: 0.5 + 4 * random() },
    }))
    const heard = new Map<number, { characters: string[]; sure: number[]; frequencyHz: number }>()
    const band = new Psk31Band(usualLetters())
    const samples = simulateBand(some, LENGTH_S, seed * 100 + from)
    for (let at = 0; at < samples.length; at += BLOCK)
      for (const { channel, frequencyHz, character, sure, back } of band.push(samples.subarray(at, at + BLOCK))) {
        const one = heard.get(channel) ?? { characters: [], sure: [], frequencyHz }
        heard.set(channel, one)
        const left = Math.max(0, one.characters.length - back)
        one.characters = [...one.characters.slice(0, left), ...(character === '' ? [] : [character])]
        one.sure = [...one.sure.slice(0, left), ...(character === '' ? [] : [sure])]
        one.frequencyHz = frequencyHz
      }
    for (const { frequencyHz } of some) {
      const near = [...heard.values()].filter((one) => Math.abs(one.frequencyHz - frequencyHz) < 30)
      out.push({
        text: near.map((one) => one.characters.join('')).join('\n'),
        sure: near.flatMap((one, k) => (k === 0 ? one.sure : [1, ...one.sure])),
      })
    }
  }
  return out
}
