import { z } from 'zod'

const number = (what: string, from: number, to: number, unit: string) =>
  z.number(`${what} is a number`).min(from, `${what} is at least ${from} ${unit}`).max(to, `${what} is at most ${to} ${unit}`)

/** What an estimate of exposure needs to know of the antenna. */
export const antennaSetupSchema = z.object({
  /** Over an isotropic radiator. A dipole has 2.15 dBi, a short whip less. */
  gainDbi: number('The gain', -30, 30, 'dBi'),
  feedLossDb: number('The loss of the feed line', 0, 30, 'dB'),
  /** From the nearest part of the antenna to where people are. */
  distanceM: number('The distance', 0.05, 1000, 'm'),
  /** Held in the hand or worn on the body. */
  bodyWorn: z.boolean(),
})
export type AntennaSetup = z.infer<typeof antennaSetupSchema>

export const defaultAntenna: AntennaSetup = { gainDbi: 2.15, feedLossDb: 0.5, distanceM: 5, bodyWorn: false }

export type LimitId = 'icnirpPublic' | 'icnirpOccupational' | 'fccPublic' | 'fccControlled'

export interface Limit {
  id: LimitId
  name: string
  /** Over which time the mean counts. */
  averagingMin: number
  /** Electric field strength that the mean must not exceed, in V/m; undefined outside the table. */
  fieldVPerM: (mhz: number) => number | undefined
}

const from = (low: number, high: number, mhz: number) => mhz >= low && mhz <= high
/** Plane wave: power density in W/m² to field strength, over 377 ohms. */
const field = (wPerM2: number) => Math.sqrt(377 * wPerM2)

/**
 * Whole-body limits as two tables have them. ICNIRP, "Guidelines for limiting exposure to electromagnetic fields (100 kHz to
 * 300 GHz)", 2020, table 5, averaged over 30 min. United States, 47 CFR 1.1310, table 1, averaged over 30 min for the
 * general public and 6 min for controlled places.
 */
export const EXPOSURE_LIMITS: readonly Limit[] = [
  {
    id: 'icnirpPublic',
    name: 'ICNIRP 2020, general public',
    averagingMin: 30,
    fieldVPerM: (f) =>
      from(0.1, 30, f)
        ? 300 / f ** 0.7
        : from(30, 400, f)
          ? 27.7
          : from(400, 2000, f)
            ? 1.375 * Math.sqrt(f)
            : f > 2000
              ? field(10)
              : undefined,
  },
  {
    id: 'icnirpOccupational',
    name: 'ICNIRP 2020, occupational',
    averagingMin: 30,
    fieldVPerM: (f) =>
      from(0.1, 30, f) ? 660 / f ** 0.7 : from(30, 400, f) ? 61 : from(400, 2000, f) ? 3 * Math.sqrt(f) : f > 2000 ? field(50) : undefined,
  },
  {
    id: 'fccPublic',
    name: '47 CFR 1.1310, general public',
    averagingMin: 30,
    fieldVPerM: (f) =>
      from(0.3, 1.34, f)
        ? 614
        : from(1.34, 30, f)
          ? 824 / f
          : from(30, 300, f)
            ? 27.5
            : from(300, 1500, f)
              ? field(f / 150)
              : f > 1500
                ? field(10)
                : undefined,
  },
  {
    id: 'fccControlled',
    name: '47 CFR 1.1310, controlled',
    averagingMin: 6,
    fieldVPerM: (f) =>
      from(0.3, 3, f)
        ? 614
        : from(3, 30, f)
          ? 1842 / f
          : from(30, 300, f)
            ? 61.4
            : from(300, 1500, f)
              ? field(f / 30)
              : f > 1500
                ? field(50)
                : undefined,
  },
]

export interface ExposureInput {
  powerW: number
  /** Share of the averaging time on the air, 0 to 1. */
  duty: number
  frequencyHz: number
  antenna: AntennaSetup
}

export interface ExposureEstimate {
  /** Mean power sent out times the gain, as if from an isotropic radiator. */
  eirpW: number
  /** Field strength at the distance given, V/m. */
  fieldVPerM: number
  limits: { limit: Limit; limitVPerM: number; safeDistanceM: number; within: boolean }[]
  /** Nearer than this the formula does not hold. */
  nearFieldM: number
  inNearField: boolean
}

/** Ground reflects: fields add up to 1.6 times that of free space, as OET Bulletin 65 reckons for amateur antennas. */
const GROUND_FACTOR = 1.6

/**
 * Estimates the field in the main beam by the far-field formula E = 1.6 · sqrt(30 · P · G) / r, with P the mean power.
 * An estimate: it does not hold near the antenna, and says nothing about touching it.
 */
export function estimateExposure({ powerW, duty, frequencyHz, antenna }: ExposureInput): ExposureEstimate {
  const eirpW = powerW * duty * 10 ** ((antenna.gainDbi - antenna.feedLossDb) / 10)
  const atOneMetre = GROUND_FACTOR * Math.sqrt(30 * eirpW)
  const mhz = frequencyHz / 1e6
  const nearFieldM = 299.792458 / mhz / (2 * Math.PI)
  const fieldVPerM = atOneMetre / antenna.distanceM
  return {
    eirpW,
    fieldVPerM,
    limits: EXPOSURE_LIMITS.flatMap((limit) => {
      const limitVPerM = limit.fieldVPerM(mhz)
      if (limitVPerM === undefined) return []
      return [{ limit, limitVPerM, safeDistanceM: atOneMetre / limitVPerM, within: fieldVPerM <= limitVPerM }]
    }),
    nearFieldM,
    inNearField: antenna.distanceM < nearFieldM,
  }
}
