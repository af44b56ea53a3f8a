import { MODES } from '../modes'
import { dutyWarning } from './dutyWarning'
import { defaultAntenna, estimateExposure, EXPOSURE_LIMITS } from './exposure'
import { defaultPower, deratingAt, powerSetupSchema, reckonPower } from './powerBudget'

const FT8_DUTY = MODES.ft8.duty.keyedShare

const noon = Date.UTC(2026, 5, 6, 12)
const HOUR = 3_600_000

describe('reckonPower', () => {
  const setup = { ...defaultPower, capacityAh: 10, usableShare: 0.8, receiveA: 0.5, transmitA: 2.5, otherW: 6.4 }

  it('starts from the duty of the mode, before anything was measured', () => {
    const budget = reckonPower(setup, 0, noon, FT8_DUTY)
    expect(budget).toMatchObject({ usableAh: 8, usedAh: 0, leftAh: 8, derating: 1 })
    expect(budget.duty).toBeCloseTo(FT8_DUTY, 6)
    expect(budget.meanA).toBeCloseTo(0.5 + 2 * FT8_DUTY + 0.5, 6)
    expect(budget.minutesLeft).toBeCloseTo((8 / budget.meanA) * 60, 6)
  })

  it('goes by what was measured: an hour with a quarter of it on the air', () => {
    const budget = reckonPower({ ...setup, connectedUtcMs: noon - HOUR }, HOUR / 4, noon, FT8_DUTY)
    expect(budget.duty).toBe(0.25)
    expect(budget.usedAh).toBeCloseTo(0.25 * 2.5 + 0.75 * 0.5 + 0.5, 6)
    expect(budget.emptyUtcMs).toBeCloseTo(noon + budget.minutesLeft * 60_000, 0)
  })

  it('takes the cold into account, and is never below empty', () => {
    expect(reckonPower({ ...setup, temperatureC: -10 }, 0, noon, FT8_DUTY).usableAh).toBeCloseTo(5.6, 6)
    expect(reckonPower({ ...setup, connectedUtcMs: noon - 100 * HOUR }, 0, noon, FT8_DUTY)).toMatchObject({ leftAh: 0, minutesLeft: 0 })
  })

  it.each([
    ['lifepo4', null, 1],
    ['lifepo4', 25, 1],
    ['lifepo4', -5, 0.775],
    ['lead', -40, 0.5],
    ['liIon', 60, 1],
    ['liIon', 80, 1],
  ] as const)('%s at %s degrees holds %s', (chemistry, celsius, share) => expect(deratingAt(chemistry, celsius)).toBeCloseTo(share, 6))

  it('refuses figures that no battery has', () => {
    expect(powerSetupSchema.safeParse({ ...setup, capacityAh: 0 }).error!.issues[0]!.message).toBe('The capacity is at least 0.1 Ah')
    expect(powerSetupSchema.safeParse({ ...setup, usableShare: 1.2 }).success).toBe(false)
  })
})

describe('exposure', () => {
  const limitAt = (id: string, mhz: number) => EXPOSURE_LIMITS.find((l) => l.id === id)!.fieldVPerM(mhz)
  // Figures of the published tables.
  it.each([
    ['icnirpPublic', 1, 300],
    ['icnirpPublic', 145, 27.7],
    ['icnirpPublic', 900, 41.25],
    ['icnirpOccupational', 10, 131.69],
    ['icnirpOccupational', 145, 61],
    ['fccPublic', 1, 614],
    ['fccPublic', 14, 58.86],
    ['fccPublic', 145, 27.5],
    ['fccControlled', 14, 131.57],
    ['fccControlled', 145, 61.4],
  ])('%s at %s MHz is %s V/m', (id, mhz, volts) => expect(limitAt(id, mhz)).toBeCloseTo(volts, 1))

  it('has no gap from 1.8 to 1300 MHz, and about equal values where rows meet', () => {
    for (const limit of EXPOSURE_LIMITS) {
      let before: number | undefined
      for (let mhz = 1.8; mhz <= 1300; mhz *= 1.01) {
        const now = limit.fieldVPerM(mhz)!
        expect(now).toBeGreaterThan(20)
        if (before !== undefined) expect(Math.abs(now / before - 1)).toBeLessThan(0.06)
        before = now
      }
    }
  })

  it('reckons field and distance for 100 W into a dipole at 14 MHz, keyed all the time', () => {
    const estimate = estimateExposure({
      powerW: 100,
      duty: 1,
      frequencyHz: 14_000_000,
      antenna: { ...defaultAntenna, feedLossDb: 0, distanceM: 5 },
    })
    expect(estimate.eirpW).toBeCloseTo(164.06, 1)
    // 1.6 · sqrt(30 · 164) / 5
    expect(estimate.fieldVPerM).toBeCloseTo(22.45, 1)
    expect(estimate.nearFieldM).toBeCloseTo(3.41, 1)
    expect(estimate.inNearField).toBe(false)
    expect(estimate.limits.find((l) => l.limit.id === 'fccPublic')).toMatchObject({ within: true })
    for (const { limitVPerM, safeDistanceM } of estimate.limits)
      expect(
        estimateExposure({
          powerW: 100,
          duty: 1,
          frequencyHz: 14_000_000,
          antenna: { ...defaultAntenna, feedLossDb: 0, distanceM: safeDistanceM },
        }).fieldVPerM,
      ).toBeCloseTo(limitVPerM, 6)
  })

  it('falls by the duty and by the distance', () => {
    const at = (duty: number, distanceM: number) =>
      estimateExposure({ powerW: 50, duty, frequencyHz: 50_000_000, antenna: { ...defaultAntenna, distanceM } }).fieldVPerM
    expect(at(0.25, 10)).toBeCloseTo(at(1, 10) / 2, 6)
    expect(at(1, 20)).toBeCloseTo(at(1, 10) / 2, 6)
    expect(
      estimateExposure({ powerW: 5, duty: 0.42, frequencyHz: 7_000_000, antenna: { ...defaultAntenna, distanceM: 2 } }).inNearField,
    ).toBe(true)
  })
})

describe('dutyWarning', () => {
  it.each([
    [5, 0.42, undefined, /small radio or handheld/],
    [60, 0.42, 100, /more than half/],
    [40, 0.42, 100, undefined],
    [5, 0.1, undefined, undefined],
    [0, 0.5, undefined, undefined],
  ])('%s W at %s', (powerW, duty, ratedW, words) => {
    const said = dutyWarning({ powerW, duty, ratedW })
    if (words) expect(said).toMatch(words)
    else expect(said).toBeUndefined()
  })
})
