// What is a signal of its own, and what is only what another one puts there.
import { BIN_HZ, type BandSpectrum } from './bandSpectra'
import { basebandHz, basebandOf, startOf } from './baseband'
import type { Psk31Receiver } from './receiver'
import { linePower, powerAcross } from './search'
import { BAUD } from './signal'

/** Two that are no further apart may be in each other's way, and how much weaker one of them may be. */
export const CLOSE_HZ = 110
const RANGE_CLOSE_DB = 40
/** How many symbols are compared at least. */
const LEAST_COMPARED = 3
/** So much one-sided is what seems to idle when it is one steady tone, half a symbol rate beside. */
const TONE_RATIO = 20
const NEARLY_ALL = 0.9
/** Of one that idles, its two tones hold so much of what is about it. */
const PLAIN_SHARE = 0.6

/** Power at a frequency while another one keeps its phase, as a share of what it is while that reverses; undefined if it never kept it. */
export function whileSteady(spectra: readonly BandSpectrum[], frequencyHz: number, other: Psk31Receiver): number | undefined {
  const sum = { steady: 0, reversed: 0 }
  const count = { steady: 0, reversed: 0 }
  const rate = basebandHz(BAUD)
  const steps = other.lateSteps
  for (const spectrum of spectra) {
    const startS = startOf(spectrum)
    const { re, im } = basebandOf(spectrum, frequencyHz, BAUD)
    for (let k = 1; k + 1 < steps.length; k++) {
      // Between two symbols, both of whose neighbours did the same: the filter mixes them.
      const [before, { bit, atS }, after] = [steps[k - 1]!, steps[k]!, steps[k + 1]!]
      const i = Math.round((atS - 0.5 / other.baud - startS) * rate)
      if (i < 0 || i >= re.length || before.bit !== bit || after.bit !== bit) continue
      const what = bit === 1 ? 'steady' : 'reversed'
      sum[what] += re[i]! ** 2 + im[i]! ** 2
      count[what]++
    }
  }
  if (count.steady < LEAST_COMPARED || count.reversed < LEAST_COMPARED) return undefined
  return sum.steady / count.steady / Math.max(sum.reversed / count.reversed, 1e-30)
}

/** Whether so much stronger a signal is beside it that it can be no more than its skirt. */
export function isFarBelow(power: Float64Array, frequencyHz: number): boolean {
  const at = (hz: number) => power[Math.round(hz / BIN_HZ)] ?? 0
  let most = 0
  for (let hz = -CLOSE_HZ; hz <= CLOSE_HZ; hz += BIN_HZ) most = Math.max(most, at(frequencyHz + hz))
  let own = 0
  for (let hz = -BAUD / 2; hz <= BAUD / 2; hz += BIN_HZ) own = Math.max(own, at(frequencyHz + hz))
  return own < most * 10 ** (-RANGE_CLOSE_DB / 10)
}

/** Whether what looks like reversals is a steady tone beside: reversals have one on either side. */
export const isTone = (power: Float64Array, receiver: Psk31Receiver): boolean =>
  receiver.reversals >= NEARLY_ALL && isOneSided(power, receiver)

/** Whether all of it is on one side of its middle. */
export function isOneSided(power: Float64Array, { frequencyHz, baud }: Psk31Receiver): boolean {
  const [low, high] = [linePower(power, frequencyHz - baud / 2), linePower(power, frequencyHz + baud / 2)]
  return Math.max(low, high) > TONE_RATIO * Math.min(low, high)
}

/** Whether one that seems to idle is nothing but two tones: the products of another one are many. */
export function isPlain(power: Float64Array, { frequencyHz, reversals, baud }: Psk31Receiver): boolean {
  if (reversals < NEARLY_ALL) return true
  const [from, to] = [Math.round((frequencyHz - baud) / BIN_HZ), Math.round((frequencyHz + baud) / BIN_HZ)]
  let [tones, all] = [0, 0]
  for (let k = from; k <= to; k++) {
    all += power[k] ?? 0
    if (Math.abs(Math.abs(k * BIN_HZ - frequencyHz) - baud / 2) <= 2 * BIN_HZ) tones += power[k] ?? 0
  }
  return tones > PLAIN_SHARE * all
}

/** How far hum puts copies of a signal from it, how exactly, and how much weaker they are at least. */
const HUM_HZ = [50, 60, 100, 120, 150, 180] as const
const HUM_WITHIN_HZ = 2
const HUM_BELOW_DB = 8
/** Of the bits of a copy so many are those of the signal, of so many at least. */
const COPIED_SHARE = 0.8
const LEAST_COPIED = 24
const MOST_COPIED = 48

/** Whether it is what hum makes of a stronger one beside: the same bits at the same time, at the distance of the mains' frequency. */
export function isHumCopy(receiver: Psk31Receiver, other: Psk31Receiver): boolean {
  const apartHz = Math.abs(receiver.frequencyHz - other.frequencyHz)
  if (!HUM_HZ.some((hz) => Math.abs(apartHz - hz) < HUM_WITHIN_HZ)) return false
  if (other.signalEnergy < receiver.bitEnergy * 10 ** (HUM_BELOW_DB / 10)) return false
  return hasBitsOf(receiver, other)
}

/** Whether the last bits of one are those of another one, at the same times. */
export function hasBitsOf(receiver: Psk31Receiver, other: Psk31Receiver): boolean {
  let [same, of] = [0, 0]
  for (const { bit, atS } of receiver.lateSteps.slice(-MOST_COPIED)) {
    const step = other.lateSteps.find((one) => Math.abs(one.atS - atS) < 0.4 / other.baud)
    if (!step) continue
    of++
    if (step.bit === bit) same++
  }
  return of >= LEAST_COPIED && same > COPIED_SHARE * of
}

/** What one makes beside itself stands on both sides alike, within this ratio. */
const ALIKE = 4

/** Where there is nearly as much on the other side of another signal; undefined where there is not. @param noise of a bin */
export function mirroredHz(
  power: Float64Array,
  frequencyHz: number,
  { aboutHz, noise }: { aboutHz: number; noise: number },
): number | undefined {
  if (Math.abs(aboutHz - frequencyHz) > CLOSE_HZ) return undefined
  const mirrorHz = 2 * aboutHz - frequencyHz
  const [here, there] = [frequencyHz, mirrorHz].map((hz) => powerAcross(power, hz, BAUD) - noise) as [number, number]
  return ALIKE * there > here ? mirrorHz : undefined
}

/** Whether a spectrum holds nothing at all. */
export const isMuted = ({ re, im }: BandSpectrum) => re.every((value, k) => value === 0 && im[k] === 0)
