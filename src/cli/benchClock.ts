import { createGaussian, createRandom, type Random } from '@/core/dsp'
import { addSignal, findSlotPhase, madeUpCall, SAMPLE_RATE_HZ, simulateSlot, SLOT_S } from '@/core/ft8'
import { GpsReceiver } from '@/core/nmea'
import { locatorToPosition } from '@/core/place'
import {
  createClockState,
  estimateFromBand,
  reduceClock,
  uncertaintyAt,
  utcAt,
  type ClockReading,
  type ClockState,
  type OffsetReading,
} from '@/core/time'
import { createGpsStandin, type GpsFault } from '@/standins'
import { claimOfBand, claimOfMix, claimOfReceiver, claimOfServers, claimOfTaps, countClaims, type Claim } from './clockClaims'

const NOON = Date.UTC(2026, 5, 1, 12)

export interface ClockBenchOptions {
  seed: number
  /** Runs of the cheap simulations; the blind search makes a quarter of it. */
  trials: number
}

const quantile = (values: readonly number[], share: number) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))]!
const percent = (count: number, of: number) => `${((100 * count) / of).toFixed(1)} %`

/** `zeptik bench clock`: what each source of time reaches in seeded simulations. */
export function benchClock({ seed, trials }: ClockBenchOptions): void {
  console.log(`seed ${seed}, ${trials} trials\n`)
  benchClaims(seed, 10 * trials)
  benchGps(seed, trials)
  benchBand(seed, trials)
  benchBlind(seed, Math.max(20, Math.round(trials / 4)))
  benchHoldover(seed, trials)
}

/** Whether the truth lies where the clock says that it does, with receivers, servers, watches and bands that are odd or lie. */
function benchClaims(seed: number, runs: number): void {
  console.log(`What is stated without a doubt, held against the truth in ${runs} seeded runs each`)
  const kinds: [name: string, run: (seed: number) => Claim][] = [
    ['receivers on a line', claimOfReceiver],
    ['time servers, some lying', claimOfServers],
    ['taps on a watch', claimOfTaps],
    ['the band, three in ten lying', claimOfBand],
    ['mixes, a minority lying', claimOfMix],
  ]
  for (const [name, run] of kinds) {
    const c = countClaims(Array.from({ length: runs }, (_, i) => run(seed * 100_003 + i)))
    console.log(
      `  ${name.padEnd(29)} ${percent(c.said, c.runs)} of runs said something; inside ${(100 * c.insideShare).toFixed(1)} % (always in ${(100 * c.alwaysShare).toFixed(1)} % of runs); beyond three times what was stated: ${c.far} runs; stated ±${c.medianStatedMs.toFixed(0)} ms in the middle`,
    )
  }
  console.log(
    '  not among them, for nobody could notice: one server alone that always says the same wrong time, less than 15 minutes off\n',
  )
}

/** A receiver at 9600 baud with up to 60 ms of jitter, heard by a computer whose clock is off and drifts: the whole chain. */
export function simulateGps(seed: number, atS: readonly number[], faults: ReadonlySet<GpsFault> = new Set(['jitter'])): number[] {
  const random = createRandom(seed)
  const driftPpm = 30 * (2 * random() - 1)
  const standin = createGpsStandin({ seed, position: locatorToPosition('JN97LK'), serialBaud: 9600 })
  const receiver = new GpsReceiver({ source: 'gps:serial', label: 'Receiver', serialBaud: 9600, receiverDelayMs: 0 })
  const startUtcMs = NOON + Math.floor(86_400 * random()) * 1000
  /** The monotonic clock of the device at a true time. */
  const monotonic = (utcMs: number) => (utcMs - startUtcMs) * (1 - driftPpm * 1e-6) + 5000
  let state = createClockState(startUtcMs + 1400, monotonic(startUtcMs), 15_000)
  const errors: number[] = []
  const last = Math.max(...atS)
  for (let s = 0; s <= last; s++) {
    for (const { atMs, bytes } of standin.burst(startUtcMs + 1000 * s, faults)) {
      for (const reading of receiver.push(bytes, monotonic(startUtcMs + 1000 * s + atMs), state.drift.ppm))
        state = reduceClock(state, { type: 'reading', reading })[0]
    }
    const nowMs = startUtcMs + 1000 * s + 990
    const monotonicMs = monotonic(nowMs)
    state = reduceClock(state, { type: 'tick', monotonicMs, wallUtcMs: monotonicMs + startUtcMs, occupancy: 'free' })[0]
    if (atS.includes(s)) errors.push(Math.abs(utcAt(state.timebase, monotonicMs) - nowMs))
  }
  return errors
}

function benchGps(seed: number, trials: number): void {
  const minute: number[] = []
  const five: number[] = []
  for (let trial = 0; trial < trials; trial++) {
    const [a, b] = simulateGps(seed * 7919 + trial, [60, 300])
    minute.push(a!)
    five.push(b!)
  }
  console.log('GPS at 9600 baud, up to 60 ms of jitter, receiver without a delay of its own, computer drifting by up to 30 ppm')
  for (const [name, errors, limit] of [
    ['after 1 min', minute, 20],
    ['after 5 min', five, 10],
  ] as const)
    console.log(
      `  ${name}  error median ${quantile(errors, 0.5).toFixed(1)} ms, 95 % ${quantile(errors, 0.95).toFixed(1)} ms, worst ${Math.max(...errors).toFixed(1)} ms; under ${limit} ms in ${percent(errors.filter((e) => e < limit).length, trials)}`,
    )
}

/** Stations of one slot: own clocks scattered, two of them far off. */
export function drawCrowd(random: Random, count: number, clockErrorS: number): OffsetReading[] {
  const gaussian = createGaussian(random)
  return Array.from({ length: count }, (_, i) => ({
    call: madeUpCall(random),
    timeOffsetS: clockErrorS + (i < 2 ? (random() < 0.5 ? -1 : 1) * (1 + random()) : 0.25 * gaussian()) + 0.01 * gaussian(),
    snrDb: -20 + 25 * random(),
  }))
}

function benchBand(seed: number, trials: number): void {
  const random = createRandom(seed ^ 0xba2d)
  const one: number[] = []
  const four: number[] = []
  let covered = 0
  for (let trial = 0; trial < trials; trial++) {
    const clockErrorS = 1.5 * (2 * random() - 1)
    // Four slots hold two parities and a few newcomers: each slot has stations of its own.
    const slots = Array.from({ length: 4 }, () => drawCrowd(random, 8 + Math.floor(13 * random()), clockErrorS))
    const error = (readings: OffsetReading[]) => {
      const estimate = estimateFromBand(readings)!
      return { size: Math.abs(estimate.offsetMs - 1000 * clockErrorS), within: estimate.uncertaintyMs }
    }
    one.push(error(slots[0]!).size)
    const all = error(slots.flat())
    four.push(all.size)
    if (all.size <= all.within) covered++
  }
  console.log('\nThe band: 8 to 20 stations in a slot, clocks scattered by 0.25 s, two of them 1 to 2 s off')
  for (const [name, errors, limit] of [
    ['one slot  ', one, 100],
    ['four slots', four, 50],
  ] as const)
    console.log(
      `  ${name}  error median ${quantile(errors, 0.5).toFixed(0)} ms, root mean square ${Math.sqrt(errors.reduce((s, e) => s + e * e, 0) / errors.length).toFixed(0)} ms, 95 % ${quantile(errors, 0.95).toFixed(0)} ms; under ${limit} ms in ${percent(errors.filter((e) => e < limit).length, trials)}`,
    )
  console.log(`  the stated uncertainty of four slots holds the error in ${percent(covered, trials)}`)
}

/** A recording of a band with its slots at an unknown phase. */
export function drawRecording(
  seed: number,
  { seconds = 45, stations = 6, weakestDb = -15, clockSd = 0.1 } = {},
): { samples: Float32Array; slotPhaseS: number } {
  const random = createRandom(seed)
  const gaussian = createGaussian(random)
  const slotPhaseS = SLOT_S * random()
  const samples = simulateSlot([], seed, { durationS: seconds })
  for (let i = 0; i < stations; i++) {
    const call = madeUpCall(random)
    const audioOffsetHz = 300 + (2300 * (i + 0.8 * random())) / stations
    const timeOffsetS = clockSd * gaussian()
    const snrDb = weakestDb + 18 * random()
    // Each keeps to one parity, as stations do.
    const first = random() < 0.5 ? -1 : 0
    for (let k = first; slotPhaseS + k * SLOT_S < seconds; k += 2)
      addSignal(
        samples,
        Math.round((slotPhaseS + k * SLOT_S) * SAMPLE_RATE_HZ),
        { text: `CQ ${call} JN97`, snrDb, audioOffsetHz, timeOffsetS },
        random,
      )
  }
  return { samples, slotPhaseS }
}

export function circularErrorS(a: number, b: number): number {
  const d = Math.abs(a - b) % SLOT_S
  return Math.min(d, SLOT_S - d)
}

function benchBlind(seed: number, trials: number): void {
  console.log('\nBlind: 45 s of a band with its slots at any phase, 6 to 12 stations at -15 dB and up, each in one parity')
  for (const clockSd of [0.1, 0.25]) {
    const errors: number[] = []
    let covered = 0
    for (let trial = 0; trial < trials; trial++) {
      const { samples, slotPhaseS } = drawRecording(seed * 104_729 + trial, { stations: 6 + (trial % 7), clockSd })
      const phase = findSlotPhase(samples)
      if (!phase.found) continue
      const error = circularErrorS(phase.slotPhaseS, slotPhaseS)
      errors.push(error)
      if (error <= phase.uncertaintyS) covered++
    }
    console.log(
      `  clocks scattered by ${clockSd} s: found in ${percent(errors.length, trials)}, within 0.1 s in ${percent(errors.filter((e) => e < 0.1).length, trials)}, worst ${Math.max(...errors).toFixed(3)} s; stated uncertainty holds in ${percent(covered, trials)}`,
    )
  }
  let guesses = 0
  const noises = Math.max(10, Math.round(trials / 2))
  for (let trial = 0; trial < noises; trial++) if (findSlotPhase(simulateSlot([], seed * 31 + trial, { durationS: 45 })).found) guesses++
  console.log(`  noise alone: ${guesses} of ${noises} recordings gave an answer`)
}

/** A device's clock: a drift of its own that wanders, and a step with temperature. True time against the monotonic clock. */
function drawOscillator(random: Random): (monotonicS: number) => number {
  const gaussian = createGaussian(random)
  const base = 12 * gaussian()
  const stepAtS = 14_400 * random()
  const stepPpm = random() < 0.5 ? 0 : 3 * (2 * random() - 1)
  const steps: number[] = [0]
  let ppm = base
  for (let minute = 1; minute <= 420; minute++) {
    ppm += 0.03 * gaussian()
    const temperature = minute * 60 >= stepAtS ? stepPpm * (1 - Math.exp(-(minute * 60 - stepAtS) / 600)) : 0
    steps.push(steps[minute - 1]! + 60 * (ppm + temperature) * 1e-3)
  }
  return (s) => {
    const minute = Math.min(419, Math.floor(s / 60))
    return steps[minute]! + (steps[minute + 1]! - steps[minute]!) * (s / 60 - minute)
  }
}

export interface HoldoverCase {
  name: string
  /** Length and spacing of the readings before they stop. */
  readingsS: number
  everyS: number
  randomMs: number
  biasMs: number
}

export const HOLDOVER_CASES: readonly HoldoverCase[] = [
  { name: 'one network sync, drift never measured', readingsS: 0, everyS: 1, randomMs: 10, biasMs: 20 },
  { name: '20 min of GPS', readingsS: 1200, everyS: 10, randomMs: 4, biasMs: 30 },
  { name: '2 h of GPS', readingsS: 7200, everyS: 10, randomMs: 4, biasMs: 30 },
  { name: '1 h of the band', readingsS: 3600, everyS: 120, randomMs: 80, biasMs: 50 },
]

/** How often the stated uncertainty held the true error some hours after the last reading, and how large it was. */
export function holdoverCoverage(seed: number, trials: number, kase: HoldoverCase): { hours: number; covered: number; statedMs: number }[] {
  const runs = Array.from({ length: trials }, (_, trial) => prepareHoldover(seed * 613 + trial, kase))
  return [0.5, 1, 2, 4].map((hours) => {
    const ends = runs.map(({ state, errorAt, endS }) => errorAt(state, endS + 3600 * hours))
    return {
      hours,
      covered: ends.filter(({ error, within }) => error <= within).length,
      statedMs: quantile(
        ends.map((e) => e.within),
        0.5,
      ),
    }
  })
}

function benchHoldover(seed: number, trials: number): void {
  console.log('\nHoldover: crystals with 12 ppm of spread that wander, half of them with a step of up to 3 ppm by temperature')
  let held = 0
  let all = 0
  for (const kase of HOLDOVER_CASES) {
    const results = holdoverCoverage(seed, trials, kase)
    for (const { covered } of results) {
      held += covered
      all += trials
    }
    console.log(
      `  ${kase.name}: ${results.map((r) => `${r.hours} h ${percent(r.covered, trials)} (±${r.statedMs.toFixed(0)} ms)`).join(', ')}`,
    )
  }
  console.log(`  stated uncertainty holds the true error in ${percent(held, all)} of all`)
}

function prepareHoldover(seed: number, { readingsS, everyS, randomMs, biasMs }: HoldoverCase) {
  const random = createRandom(seed)
  const gaussian = createGaussian(random)
  const oscillator = drawOscillator(random)
  const bias = (biasMs / 2) * gaussian()
  const trueAt = (monotonicS: number) => NOON + monotonicS * 1000 + oscillator(monotonicS)
  let state: ClockState = createClockState(NOON + 700, 0, 15_000)
  for (let s = 0; s <= readingsS; s += everyS) {
    const reading: ClockReading = {
      source: 'gps:serial',
      kind: 'gps',
      label: 'Receiver',
      monotonicMs: s * 1000,
      utcMs: trueAt(s) + bias + (randomMs / 2) * gaussian(),
      randomMs,
      biasMs,
      windowMs: 0,
    }
    state = reduceClock(state, { type: 'reading', reading })[0]
    state = reduceClock(state, { type: 'tick', monotonicMs: s * 1000, wallUtcMs: NOON + s * 1000, occupancy: 'free' })[0]
  }
  const errorAt = (from: ClockState, atS: number) => {
    const utcMs = utcAt(from.timebase, atS * 1000)
    return { error: Math.abs(utcMs - trueAt(atS)), within: uncertaintyAt(from.timebase, utcMs)! }
  }
  return { state, errorAt, endS: Math.max(0, Math.floor(readingsS / everyS) * everyS) }
}
