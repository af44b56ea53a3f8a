import { examineAudio, createAudioExaminer, type AudioReport, type FindingCode } from '@/core/audio'
import { quantile } from '@/core/audio/quantile'
import { createRandom, whiteNoise } from '@/core/dsp'
import { compareWithProfile, figuresOf, type LevelProfile } from '@/core/levels'
import { SAMPLE_RATE_HZ } from '@/core/ft8'
import type { ReceiveFault } from '@/standins'
import { measureReferenceMs } from './reference'
import { CROWDS, simulateReceived, type Crowd } from './receivedBand'

export interface LevelBenchOptions {
  seed: number
  trials: number
}

/**
 * The severity of each fault that is taken to cost about 1 dB of decoding, or for those that cost none by themselves, at
 * which a stronger neighbour would. What they really cost is measured by `zeptik bench level-cost`.
 */
const ONE_DB: readonly (readonly [fault: ReceiveFault, amount: number, code: FindingCode, unit: string])[] = [
  ['clipping', 20, 'clipping', 'dB of gain'],
  ['too-quiet', 53, 'too-quiet', 'dB of loss'],
  ['too-hot', 34, 'too-hot', 'dB of gain, held under full scale'],
  ['digital-silence', 0, 'digital-silence', ''],
  ['dc-offset', 0.05, 'dc-offset', 'of full scale'],
  ['hum-50', 3, 'hum', 'dB over the noise in 2500 Hz'],
  ['hum-60', 3, 'hum', 'dB over the noise in 2500 Hz'],
  ['agc-pumping', 18, 'agc-pumping', 'dB under a strong station'],
  ['noise-gate', 10, 'noise-gate', 'dB deep'],
  ['noise-reduction', 8, 'noise-gate', 'dB deep'],
  ['narrow-filter', 1500, 'narrow-filter', 'Hz wide'],
  ['speech', 1, 'speech', 'dB over the noise in 2500 Hz'],
  ['dropouts', 0.1, 'dropouts', 'of the time'],
  ['one-channel', 0, 'one-channel', ''],
]

const percent = (part: number, whole: number) => `${((100 * part) / whole).toFixed(1)} %`
const CROWD_NAMES = Object.keys(CROWDS) as Crowd[]

/** `zeptik bench level`: how often faults are found, how often they are made up, and how exact the figures are. */
export function benchLevel({ seed, trials }: LevelBenchOptions): void {
  console.log(`seed ${seed}, ${trials} trials of 20 s each\n`)
  benchClean(seed, trials)
  benchFaults(seed, trials)
  benchClipping(seed, Math.min(trials, 40))
  benchCpu(seed)
}

/** A level, a filter and a moment drawn for one trial. */
function drawCase(seed: number, crowd: Crowd) {
  const random = createRandom(seed)
  const lowHz = 100 + 200 * random()
  const filterHz: [number, number] = [lowHz, lowHz + 2300 + 500 * random()]
  // A band with strong stations needs room above; a quiet one is often set too low rather than too high.
  const noiseDbfs = -60 + 24 * random() - (crowd === 'crowded' ? 4 : 0)
  return { noiseRms: 10 ** (noiseDbfs / 20), filterHz, seed: Math.floor(random() * 2 ** 30), crowd }
}

function benchClean(seed: number, trials: number): void {
  console.log('clean cases: quiet, normal and crowded band, noise -60 to -36 dBFS, filters of 2300 to 2800 Hz')
  const floorErrors: number[] = []
  const edgeErrors: number[] = []
  let unchanged = 0
  for (const crowd of CROWD_NAMES) {
    const wrong = new Map<string, number>()
    let notOk = 0
    for (let trial = 0; trial < trials; trial++) {
      const drawn = drawCase(seed * 7919 + trial, crowd)
      const report = examineAudio(simulateReceived(drawn), SAMPLE_RATE_HZ)
      floorErrors.push(Math.abs(report.noiseFloorDbfsPerHz - (20 * Math.log10(drawn.noiseRms) - 10 * Math.log10(SAMPLE_RATE_HZ / 2))))
      if (report.passbandHz) edgeErrors.push(...drawn.filterHz.map((hz, i) => Math.abs(hz - report.passbandHz![i]!)))
      else edgeErrors.push(6000)
      const faults = report.findings.filter((f) => f.severity !== 'note')
      if (faults.length > 0) notOk++
      for (const { code } of faults) wrong.set(code, (wrong.get(code) ?? 0) + 1)
      // The next run of the same set-up: other stations, other moment.
      const next = examineAudio(simulateReceived({ ...drawn, seed: drawn.seed + 1 }), SAMPLE_RATE_HZ)
      if (compareWithProfile(next, profileOf(report)).length === 0) unchanged++
    }
    const names = [...wrong].map(([code, n]) => `${code} ${n}`).join(', ')
    console.log(`  ${crowd.padEnd(8)} false findings in ${percent(notOk, trials)} of cases${names && ` (${names})`}`)
  }
  const all = trials * CROWD_NAMES.length
  console.log(
    `  noise floor error  median ${quantile(floorErrors, 0.5).toFixed(2)} dB, 95 % ${quantile(floorErrors, 0.95).toFixed(2)} dB, worst ${Math.max(...floorErrors).toFixed(2)} dB; within 0.5 dB in ${percent(floorErrors.filter((e) => e <= 0.5).length, all)}`,
  )
  console.log(
    `  passband edges     median ${quantile(edgeErrors, 0.5).toFixed(0)} Hz, 95 % ${quantile(edgeErrors, 0.95).toFixed(0)} Hz, worst ${Math.max(...edgeErrors).toFixed(0)} Hz; within 60 Hz in ${percent(edgeErrors.filter((e) => e <= 60).length, 2 * all)}`,
  )
  console.log(`  a profile of one run calls the next one unchanged in ${percent(unchanged, all)}\n`)
}

function profileOf(report: AudioReport): LevelProfile {
  return {
    id: '00000000-0000-4000-8000-000000000001',
    radio: 'Heron 20',
    interfaceName: 'Reed Box',
    deviceLabel: 'Reed Box',
    savedUtcMs: 0,
    knobs: [],
    hostVolume: '',
    note: '',
    figures: figuresOf(report),
    antennaRiseDb: null,
    roomCostDb: null,
    converter2500Dbfs: null,
    transmit: null,
  }
}

function benchFaults(seed: number, trials: number): void {
  console.log('faults at the severity taken to cost about 1 dB, found on a quiet, normal and crowded band')
  for (const [fault, amount, code, unit] of ONE_DB) {
    const shares = CROWD_NAMES.map((crowd) => {
      let found = 0
      for (let trial = 0; trial < trials; trial++) {
        const drawn = drawCase(seed * 104_729 + trial, crowd)
        // Gains are against a noise of -42 dBFS, losses as well, so that they mean the same in every trial.
        const noiseRms = ['clipping', 'too-hot', 'too-quiet'].includes(fault) ? 10 ** (-42 / 20) : drawn.noiseRms
        const report = examineAudio(
          simulateReceived({
            ...drawn,
            noiseRms,
            strongStation: fault === 'agc-pumping' || fault === 'clipping',
            faults: [{ fault, amount }],
          }),
          SAMPLE_RATE_HZ,
        )
        if (report.findings.some((f) => f.code === code)) found++
      }
      return percent(found, trials).padStart(8)
    })
    console.log(`  ${fault.padEnd(16)} ${String(amount).padStart(5)} ${unit.padEnd(34)} ${shares.join(' ')}`)
  }
  console.log('')
}

function benchClipping(seed: number, trials: number): void {
  const errors: number[] = []
  for (let trial = 0; trial < trials; trial++) {
    const random = createRandom(seed * 31 + trial)
    const loud = whiteNoise(10 * SAMPLE_RATE_HZ, 0.25 + 0.5 * random(), seed * 37 + trial)
    const truth = loud.reduce((n, value) => n + (Math.abs(value) >= 1 ? 1 : 0), 0) / loud.length
    const clipped = loud.map((value) => Math.max(-1, Math.min(32_767 / 32_768, value)))
    errors.push(Math.abs(examineAudio([clipped], SAMPLE_RATE_HZ).clippedFraction / truth - 1))
  }
  console.log(`clipping fraction     worst error ${(100 * Math.max(...errors)).toFixed(1)} % of the truth in ${trials} trials`)
}

function benchCpu(seed: number): void {
  const rateHz = 48_000
  const seconds = 60
  const channels = [whiteNoise(rateHz * seconds, 0.02, seed), whiteNoise(rateHz * seconds, 0.02, seed + 1)]
  // The station makes this for its modems anyway.
  const mono = whiteNoise(SAMPLE_RATE_HZ * seconds, 0.02, seed + 2)
  const examiner = createAudioExaminer(rateHz)
  const run = (from: number, to: number) => {
    const start = process.cpuUsage()
    for (let at = from; at < to; at += 0.5) {
      const piece = (samples: Float32Array, rate: number) => samples.subarray(at * rate, (at + 0.5) * rate)
      examiner.push(
        channels.map((samples) => piece(samples, rateHz)),
        piece(mono, SAMPLE_RATE_HZ),
      )
      if (Number.isInteger(at)) examiner.report()
    }
    const { user, system } = process.cpuUsage(start)
    return (user + system) / 1e6
  }
  run(0, 25)
  const share = run(25, seconds) / (seconds - 25)
  console.log(
    `processor             ${(100 * share).toFixed(1)} % of one core, a report each second of two channels at 48 kHz; 1000 real transforms of 3840 points take ${measureReferenceMs().toFixed(0)} ms`,
  )
}
