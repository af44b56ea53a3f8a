import { parseArgs } from 'node:util'
import { createRandom } from '@/core/dsp/random'
import { decodeSlot, madeUpCall, SLOT_S, simulatedCrowd, simulateSlot, withClearLane } from '@/core/ft8'
import { benchClock } from './benchClock'
import { benchHardship } from './benchHardship'
import { benchKiss } from './benchKiss'
import { benchKnowledge } from './benchKnowledge'
import { benchLevel } from './benchLevel'
import { benchLevelCost } from './benchLevelCost'
import { benchPacket } from './benchPacket'
import { benchPacketFuzz } from './benchPacketFuzz'
import { benchPsk31, benchPsk31Band } from './benchPsk31'
import { benchPsk31Bits } from './benchPsk31Bits'
import { benchPsk31Facts } from './benchPsk31Facts'
import { numberOption, UsageError } from './errors'
import { halfPoint } from './halfPoint'
import { median, measureReferenceMs } from './reference'

/** `zeptik bench`: what this machine and this decoder reach, on slots made from a seed. */
export function benchCommand(args: string[]): void {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { seed: { type: 'string' }, trials: { type: 'string' }, slots: { type: 'string' }, snr: { type: 'string' } },
  })
  const seed = numberOption('seed', values.seed, 1, { from: 0, to: 2 ** 31 })
  const what = positionals[0] ?? 'slots'
  if (what === 'slots') benchSlots(seed)
  else if (what === 'sensitivity') {
    const trials = numberOption('trials', values.trials, 100, { from: 1, to: 100_000 })
    const snrs = (values.snr ?? '-19,-20,-20.5,-21,-21.5,-22').split(',').map((text) => numberOption('snr', text, 0, { from: -40, to: 40 }))
    benchSensitivity(seed, trials, snrs)
  } else if (what === 'noise') benchNoise(seed, numberOption('slots', values.slots, 500, { from: 1, to: 1_000_000 }))
  else if (what === 'hardship') benchHardship({ seed, trials: numberOption('trials', values.trials, 3, { from: 1, to: 1000 }) })
  else if (what === 'clock') benchClock({ seed, trials: numberOption('trials', values.trials, 200, { from: 4, to: 100_000 }) })
  else if (what === 'level') benchLevel({ seed, trials: numberOption('trials', values.trials, 100, { from: 4, to: 100_000 }) })
  else if (what === 'level-cost') benchLevelCost({ seed, trials: numberOption('trials', values.trials, 10, { from: 1, to: 100_000 }) })
  else if (what === 'kiss') benchKiss(seed)
  else if (what === 'psk31')
    benchPsk31({
      seed,
      trials: numberOption('trials', values.trials, 5, { from: 1, to: 10_000 }),
      snrs: (values.snr ?? '20,0,-8,-11,-12.6,-14.3,-15.6').split(',').map((text) => numberOption('snr', text, 0, { from: -40, to: 60 })),
      noiseMinutes: numberOption('slots', values.slots, 60, { from: 0, to: 100_000 }),
    })
  else if (what === 'psk31-band') benchPsk31Band({ seed, trials: numberOption('trials', values.trials, 5, { from: 1, to: 10_000 }) })
  else if (what === 'psk31-facts')
    benchPsk31Facts({
      seed,
      trials: numberOption('trials', values.trials, 200, { from: 1, to: 100_000 }),
      snrs: (values.snr ?? '-11,-12.6').split(',').map((text) => numberOption('snr', text, 0, { from: -40, to: 60 })),
    })
  else if (what === 'psk31-bits')
    benchPsk31Bits({
      seed,
      trials: numberOption('trials', values.trials, 20, { from: 1, to: 10_000 }),
      snrs: (values.snr ?? '-11,-12.6,-14.3,-15,-16').split(',').map((text) => numberOption('snr', text, 0, { from: -40, to: 60 })),
    })
  else if (what === 'packet-fuzz')
    benchPacketFuzz({ seed, trials: numberOption('trials', values.trials, 1_000_000, { from: 1, to: 100_000_000 }) })
  else if (what === 'packet')
    benchPacket({
      seed,
      trials: numberOption('trials', values.trials, 100, { from: 1, to: 10_000 }),
      noiseMinutes: numberOption('slots', values.slots, 60, { from: 0, to: 100_000 }),
    })
  else if (what === 'knowledge')
    benchKnowledge({
      seed,
      trials: numberOption('trials', values.trials, 50, { from: 1, to: 100_000 }),
      slots: numberOption('slots', values.slots, 200, { from: 1, to: 1_000_000 }),
    })
  else
    throw new UsageError(
      `there is no bench "${what}"; slots, sensitivity, noise, hardship, clock, level, level-cost, kiss, psk31, psk31-band, psk31-facts, psk31-bits, packet, packet-fuzz and knowledge are known`,
    )
}

function benchSlots(seed: number): void {
  const referenceMs = measureReferenceMs()
  console.log(`reference: 1000 real transforms of 3840 points take ${referenceMs.toFixed(0)} ms`)
  console.log('slots   signals  decoded  strong decoded  strong, lane clear  median ms  worst ms  real-time factor  x reference')
  for (const [name, count] of [
    ['quiet', 2],
    ['usual', 15],
    ['busy', 50],
  ] as const) {
    const random = createRandom(seed * 1000 + count)
    const times: number[] = []
    let decoded = 0
    let strong = 0
    let strongDecoded = 0
    let clear = 0
    let clearDecoded = 0
    let wrong = 0
    const runs = 13
    for (let run = 0; run < runs; run++) {
      const signals = simulatedCrowd(count, random)
      const samples = simulateSlot(signals, seed * 7919 + run)
      const start = performance.now()
      const found = new Set(decodeSlot(samples).map((d) => d.text))
      // The first run also warms the compiler up, which a station does once a day.
      if (run > 0) times.push(performance.now() - start)
      decoded += signals.filter((s) => found.has(s.text)).length
      const loud = signals.filter((s) => s.snrDb >= -18)
      strong += loud.length
      strongDecoded += loud.filter((s) => found.has(s.text)).length
      const alone = withClearLane(signals).filter((s) => s.snrDb >= -18)
      clear += alone.length
      clearDecoded += alone.filter((s) => found.has(s.text)).length
      wrong += [...found].filter((text) => !signals.some((s) => s.text === text)).length
    }
    const middle = median(times)
    console.log(
      `${name.padEnd(6)}  ${String(count).padStart(7)}  ${share(decoded, count * runs).padStart(7)}  ${share(strongDecoded, strong).padStart(14)}  ${`${share(clearDecoded, clear)} of ${clear}`.padStart(18)}  ${middle.toFixed(0).padStart(9)}  ${Math.max(
        ...times,
      )
        .toFixed(0)
        .padStart(
          8,
        )}  ${((SLOT_S * 1000) / middle).toFixed(1).padStart(16)}  ${(middle / referenceMs).toFixed(1).padStart(11)}${wrong > 0 ? `  ${wrong} false` : ''}`,
    )
  }
  const { rss, heapUsed } = process.memoryUsage()
  console.log(`memory: ${(rss / 2 ** 20).toFixed(0)} MiB resident, ${(heapUsed / 2 ** 20).toFixed(0)} MiB of heap`)
  console.log('strong: -18 dB or better in 2500 Hz; strengths -20 to +10 dB, places 200 to 2800 Hz, clocks ±0.4 s, all drawn evenly')
  console.log('lane clear: no other signal within 56 Hz; messages that nobody sent would be counted as false at the end of a line')
}

const share = (part: number, whole: number) => (whole === 0 ? '-' : `${((100 * part) / whole).toFixed(1)} %`)

function benchSensitivity(seed: number, trials: number, snrs: number[]): void {
  const random = createRandom(seed)
  console.log(`one signal in white noise, ${trials} slots at each ratio, no knowledge of the message`)
  console.log('snr dB  decoded  of  false')
  const shares = new Map<number, number>()
  for (const snr of snrs) {
    let decoded = 0
    let falseDecodes = 0
    for (let trial = 0; trial < trials; trial++) {
      const text = `CQ ${madeUpCall(random)} JN${10 + Math.floor(random() * 90)}`
      const signal = { text, snrDb: snr, audioOffsetHz: 300 + 2400 * random(), timeOffsetS: 2 * random() - 1 }
      const found = decodeSlot(simulateSlot([signal], Math.floor(random() * 2 ** 31)))
      if (found.some((d) => d.text === text)) decoded++
      falseDecodes += found.filter((d) => d.text !== text).length
    }
    shares.set(snr, decoded / trials)
    console.log(`${snr.toFixed(1).padStart(6)}  ${String(decoded).padStart(7)}  ${trials}  ${falseDecodes}`)
  }
  const tried = [...shares.keys()].sort((a, b) => a - b)
  const half = halfPoint(tried, (snr) => shares.get(snr)!)
  console.log(half === undefined || half === tried[0] ? 'half decoded: outside the ratios tried' : `half decoded at ${half.toFixed(2)} dB`)
}

function benchNoise(seed: number, slots: number): void {
  const random = createRandom(seed)
  let falseDecodes = 0
  for (let slot = 0; slot < slots; slot++) {
    for (const found of decodeSlot(simulateSlot([], Math.floor(random() * 2 ** 31)))) {
      falseDecodes++
      console.log(`slot ${slot}: ${found.text} (${found.how}, ${found.snrDb.toFixed(1)} dB)`)
    }
  }
  console.log(`${falseDecodes} false decodes in ${slots} slots of noise`)
}
