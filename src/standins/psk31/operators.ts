import type { Random } from '@/core/dsp'
import { madeUpCall } from '@/core/ft8'
import { drawPlace } from '../drawPlace'

/** One invented operator who talks by PSK31. */
export interface Psk31Operator {
  readonly call: string
  readonly name: string
  readonly place: string
  readonly locator: string
  /** How it arrives at the operator's place. */
  readonly snrDb: number
  /** How the operator arrives there. */
  readonly hearsDb: number
  /** How fast it comes and goes, and how deep, in dB. */
  readonly fading: { periodS: number; depthDb: number; phase: number }
  /** How its frequency moves while it sends. */
  readonly driftHzS: number
  /** Third-order products of its transmitter against the tones, and hum in it, as a share of its amplitude; none where it is clean. */
  readonly productsDb?: number
  readonly humShare?: number
  /** Characters a second of who types; others send what they have ready. */
  readonly typesPerS?: number
  /** How often it asks before it gives up. */
  readonly patience: number
}

/** What makes some of them worth practising with. Every fourth calls anybody, so each kind is among those. */
const KINDS: readonly Partial<Psk31Operator>[] = [
  {},
  { typesPerS: 4 },
  { snrDb: -11, hearsDb: -12.8, patience: 4 },
  { driftHzS: 0.15 },
  { snrDb: 6, hearsDb: 6, fading: { periodS: 20, depthDb: 14, phase: 0 } },
  { productsDb: -13 },
]
/** And others that talk to each other. */
const HUMS = { every: 7, share: 0.25 }

const NAMES =
  'Ansel Bryn Corin Dara Elke Finn Greta Hollis Ines Jory Kaya Lior Mika Nadia Orla Piet Runa Sanna Tove Ulla Vesna Wim Yara Zeno'.split(
    ' ',
  )
const FIRST = 'Salt Low Green Stone Mill Birch Fox Long White Amber'.split(' ')
const SECOND = 'Ferry Quay Field Bridge Hollow Ridge Harbour Meadow Ford Cross'.split(' ')

/** The path is the same both ways; their antennas are a little better. */
const HEARS_BETTER_DB = 2

const pick = <T>(list: readonly T[], random: Random): T => list[Math.floor(random() * list.length)]!

/** Draws operators with calls of their own. */
export function drawOperators(count: number, random: Random): Psk31Operator[] {
  const calls = new Set<string>()
  while (calls.size < count) calls.add(madeUpCall(random))
  return [...calls].map((call, i) => {
    const snrDb = i % 6 === 5 ? -9 + 3 * random() : -4 + 14 * random()
    return {
      ...{ call, name: pick(NAMES, random), place: `${pick(FIRST, random)} ${pick(SECOND, random)}`, locator: drawPlace(random) },
      ...{ snrDb, hearsDb: snrDb + HEARS_BETTER_DB, driftHzS: 0, patience: 3 },
      fading: { periodS: 6 + 20 * random(), depthDb: i % 4 === 3 ? 5 : 2, phase: 2 * Math.PI * random() },
      ...(i % HUMS.every === HUMS.every - 1 && { humShare: HUMS.share }),
      ...(i % 4 === 0 && KINDS[(i / 4) % KINDS.length]),
    }
  })
}
