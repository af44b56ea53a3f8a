import type { AudioReport } from '../audio/audioExaminer'
import { decibels } from '../audio/decibelWords'
import { dbToPower, powerToDb, quantile } from '../audio/quantile'

/** The noise of one situation: antenna off, antenna on, or the radio off. */
export interface NoiseSample {
  floorDb: ArrayLike<number>
  binHz: number
  passbandHz: [number, number] | null
  noise2500Dbfs: number
}

export const noiseOf = (r: AudioReport): NoiseSample => ({
  floorDb: r.floorDb,
  binHz: r.binHz,
  passbandHz: r.passbandHz,
  noise2500Dbfs: r.noise2500Dbfs,
})

/** What comparing two noises says. */
export interface NoiseRise {
  /** By how much the second is over the first, median over the passband. */
  riseDb: number
  /** What the first costs in signal-to-noise ratio, because it adds to what comes after it. */
  costDb: number
}

/** Compares noise with something connected to noise without it, over the passband of the former. */
export function compareNoise(without: NoiseSample, withIt: NoiseSample): NoiseRise {
  const [low, high] = withIt.passbandHz ?? [300, 2700]
  const rises: number[] = []
  for (let bin = Math.ceil(low / withIt.binHz) + 4; bin < Math.floor(high / withIt.binHz) - 4; bin++)
    rises.push(withIt.floorDb[bin]! - without.floorDb[bin]!)
  const riseDb = rises.length > 0 ? quantile(rises, 0.5) : 0
  const ratio = dbToPower(riseDb)
  // The wanted noise alone is what is there with it less what is there without.
  const costDb = ratio > 1.01 ? powerToDb(ratio / (ratio - 1)) : 20
  return { riseDb, costDb: Math.min(20, costDb) }
}

export interface AntennaVerdict extends NoiseRise {
  state: 'good' | 'fair' | 'poor'
  /** What sets the floor with the antenna off. */
  limit: 'radio' | 'converter' | 'unknown'
  sentence: string
  advice: string
}

const db = (value: number) => decibels(value, 1)

/**
 * Says what the antenna brings over the system's own noise, and what limits the system.
 * @param radioOff the converter's own noise, when it was measured as well
 */
export function judgeAntenna(off: NoiseSample, on: NoiseSample, radioOff?: NoiseSample): AntennaVerdict {
  const rise = compareNoise(off, on)
  const overConverter = radioOff ? compareNoise(radioOff, { ...off, passbandHz: on.passbandHz }).riseDb : undefined
  const limit = overConverter === undefined ? 'unknown' : overConverter < 6 ? 'converter' : 'radio'
  const state = rise.riseDb >= 10 ? 'good' : rise.riseDb >= 4 ? 'fair' : 'poor'
  const cost = rise.riseDb < 0.5 ? 'nothing more is heard with it' : `the system’s own noise costs ${db(rise.costDb)}`
  const sentence = `The band rises ${db(Math.max(0, rise.riseDb))} over the system’s own noise: ${state === 'good' ? 'good, ' : ''}${cost}`
  return { ...rise, state, limit, sentence, advice: advise(state, limit, overConverter) }
}

function advise(state: AntennaVerdict['state'], limit: AntennaVerdict['limit'], overConverter = 0): string {
  if (state === 'good') return 'Nothing to gain by turning anything up: the band’s own noise decides what can be heard.'
  if (limit === 'converter')
    return `The converter limits: with the antenna off, the radio’s noise is only ${db(Math.max(0, overConverter))} over it. Turn the radio’s output or the input level up, then measure again.`
  const first = limit === 'radio' ? 'The radio limits, not the converter: turning the level up gains nothing. ' : ''
  return state === 'fair'
    ? `${first}Switch the attenuator off and RF gain up, or the preamplifier on for a quiet band.`
    : `${first}Check that the antenna is for this band, its plug and feed line are whole, the attenuator is off and RF gain is up. Measure the converter as well, with the radio off, to tell which of them limits.`
}

export interface RoomVerdict extends NoiseRise {
  state: 'good' | 'fair' | 'poor'
  sentence: string
  advice: string
}

/** Says what the room's noise costs when a microphone listens to a loudspeaker. @param quiet the room with the loudspeaker silent */
export function judgeRoom(quiet: NoiseSample, playing: NoiseSample): RoomVerdict {
  const rise = compareNoise(quiet, playing)
  const state = rise.riseDb >= 10 ? 'good' : rise.riseDb >= 4 ? 'fair' : 'poor'
  return {
    ...rise,
    state,
    sentence:
      rise.riseDb < 0.5
        ? 'The microphone hears the room and hardly anything of the radio'
        : `The radio’s noise stands ${db(rise.riseDb)} over the room: the room costs ${db(rise.costDb)}`,
    advice:
      state === 'good'
        ? 'Leave the microphone where it is, and keep the room as quiet as now during the slots.'
        : 'Put the microphone within a hand of the loudspeaker, on something soft, out of the wind and away from fans. Turn the radio up rather than the microphone. A cable would cost nothing.',
  }
}
