import { z } from 'zod'

export const CHEMISTRIES = ['lifepo4', 'liIon', 'lead'] as const
export type Chemistry = (typeof CHEMISTRIES)[number]

const number = (what: string, from: number, to: number, unit: string) =>
  z.number(`${what} is a number`).min(from, `${what} is at least ${from} ${unit}`).max(to, `${what} is at most ${to} ${unit}`)

/** What the battery holds and what draws on it. */
export const powerSetupSchema = z.object({
  capacityAh: number('The capacity', 0.1, 1000, 'Ah'),
  voltageV: number('The voltage', 1, 60, 'V'),
  chemistry: z.enum(CHEMISTRIES),
  /** How much of the capacity may be used before the radio gives up, 0 to 1. */
  usableShare: number('The usable share', 0.1, 1, ''),
  temperatureC: number('The temperature', -40, 60, '°C').nullable(),
  receiveA: number('The draw while receiving', 0, 50, 'A'),
  transmitA: number('The draw while transmitting', 0, 100, 'A'),
  /** Tablet, field computer, TNC on the same battery. */
  otherW: number('Other draw', 0, 500, 'W'),
  /** When the battery was put on, full; null when it is not in use. */
  connectedUtcMs: z.number().finite().nullable(),
})
export type PowerSetup = z.infer<typeof powerSetupSchema>

export const defaultPower: PowerSetup = {
  capacityAh: 6,
  voltageV: 12.8,
  chemistry: 'lifepo4',
  usableShare: 0.9,
  temperatureC: null,
  receiveA: 0.4,
  transmitA: 2,
  otherW: 0,
  connectedUtcMs: null,
}

/**
 * Share of the capacity left at a temperature, by chemistry: rough figures of makers' discharge curves at moderate
 * load. An estimate, and stated as one wherever it is shown.
 */
const DERATING: Record<Chemistry, readonly (readonly [celsius: number, share: number])[]> = {
  lifepo4: [
    [-20, 0.5],
    [-10, 0.7],
    [0, 0.85],
    [10, 0.95],
    [20, 1],
    [60, 1],
  ],
  liIon: [
    [-20, 0.55],
    [-10, 0.7],
    [0, 0.85],
    [10, 0.95],
    [20, 1],
    [60, 1],
  ],
  lead: [
    [-20, 0.5],
    [-10, 0.65],
    [0, 0.8],
    [10, 0.9],
    [20, 0.97],
    [25, 1],
    [60, 1],
  ],
}

/** Share of the capacity that is left at a temperature; 1 when that is not known. */
export function deratingAt(chemistry: Chemistry, temperatureC: number | null): number {
  if (temperatureC === null) return 1
  const curve = DERATING[chemistry]
  const above = curve.findIndex(([celsius]) => celsius >= temperatureC)
  if (above <= 0) return above === 0 ? curve[0]![1] : curve[curve.length - 1]![1]
  const [c0, s0] = curve[above - 1]!
  const [c1, s1] = curve[above]!
  return s0 + ((temperatureC - c0) / (c1 - c0)) * (s1 - s0)
}

export interface PowerBudget {
  /** What can be used, after usable share and cold. */
  usableAh: number
  usedAh: number
  leftAh: number
  /** Share of the time on the air that is reckoned with from now on, 0 to 1. */
  duty: number
  meanA: number
  minutesLeft: number
  emptyUtcMs: number
  derating: number
}

/** Before this long a measured duty says little. */
const LEAST_MEASURED_MS = 10 * 60_000

/**
 * Reckons how long the battery lasts.
 * @param keyedMs for how long the station was on the air since the battery was put on
 * @param expectedDuty share of the time on the air that is reckoned with before enough was measured
 */
export function reckonPower(setup: PowerSetup, keyedMs: number, nowUtcMs: number, expectedDuty: number): PowerBudget {
  const elapsedMs = setup.connectedUtcMs === null ? 0 : Math.max(0, nowUtcMs - setup.connectedUtcMs)
  const keyed = Math.min(keyedMs, elapsedMs)
  const otherA = setup.otherW / setup.voltageV
  const derating = deratingAt(setup.chemistry, setup.temperatureC)
  const usableAh = setup.capacityAh * setup.usableShare * derating
  const hours = (ms: number) => ms / 3_600_000
  const usedAh = hours(keyed) * setup.transmitA + hours(elapsedMs - keyed) * setup.receiveA + hours(elapsedMs) * otherA
  const duty = elapsedMs >= LEAST_MEASURED_MS ? keyed / elapsedMs : expectedDuty
  const meanA = duty * setup.transmitA + (1 - duty) * setup.receiveA + otherA
  const leftAh = Math.max(0, usableAh - usedAh)
  const minutesLeft = meanA > 0 ? (leftAh / meanA) * 60 : Infinity
  return { usableAh, usedAh, leftAh, duty, meanA, minutesLeft, emptyUtcMs: nowUtcMs + minutesLeft * 60_000, derating }
}
