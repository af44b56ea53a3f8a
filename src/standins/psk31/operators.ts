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
  /** How fast it comes and goes, and how deep, in dB. */
  readonly fading: { periodS: number; depthDb: number; phase: number }
}

const NAMES =
  'Ansel Bryn Corin Dara Elke Finn Greta Hollis Ines Jory Kaya Lior Mika Nadia Orla Piet Runa Sanna Tove Ulla Vesna Wim Yara Zeno'.split(
    ' ',
  )
const FIRST = 'Salt Low Green Stone Mill Birch Fox Long White Amber'.split(' ')
const SECOND = 'Ferry Quay Field Bridge Hollow Ridge Harbour Meadow Ford Cross'.split(' ')

const pick = <T>(list: readonly T[], random: Random): T => list[Math.floor(random() * list.length)]!

/** Draws operators with calls of their own. */
export function drawOperators(count: number, random: Random): Psk31Operator[] {
  const calls = new Set<string>()
  while (calls.size < count) calls.add(madeUpCall(random))
  return [...calls].map((call, i) => ({
    call,
    name: pick(NAMES, random),
    place: `${pick(FIRST, random)} ${pick(SECOND, random)}`,
    locator: drawPlace(random),
    snrDb: i % 6 === 5 ? -9 + 3 * random() : -4 + 14 * random(),
    fading: { periodS: 6 + 20 * random(), depthDb: i % 4 === 3 ? 5 : 2, phase: 2 * Math.PI * random() },
  }))
}
