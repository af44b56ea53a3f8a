import { decibels, dbfsWords, withMinus } from './decibelWords'
import { DUCKS_DB, GATED_DB, type Dynamics } from './dynamics'
import { finding, type Finding } from './findings'
import type { Hum } from './humMeter'
import { amplitudeToDb } from './quantile'
import type { SpeechReading } from './speechMeter'

/** All that was measured of the last seconds. */
export interface ReceiveMeasurements {
  durationS: number
  channels: readonly { rmsDbfs: number; constant: boolean }[]
  /** Correlation of the first two channels, -1 to 1; 1 for a single one. */
  correlation: number
  rmsDbfs: number
  peakDbfs: number
  crestDb: number
  headroomDb: number
  clippedFraction: number
  clipRuns: number
  dcOffset: number
  dropouts: number
  dropoutS: number
  heldS: number
  silentS: number
  noiseFloorDbfsPerHz: number
  noise2500Dbfs: number
  passbandHz: [number, number] | null
  hum: Hum | undefined
  dynamics: Dynamics
  speech: SpeechReading
}

/** Below this the converter's own noise may cover the band's. */
export const QUIET_DBFS = -72

/** Where each finding begins. A warning is meant to begin where a fault costs about 1 dB; `zeptik bench level-cost` measures that. */
const THRESHOLDS = {
  /** Share of samples at which clipping is a warning, and a fault. */
  clippedWarning: 1e-6,
  clippedFault: 0.02,
  headroomDb: 3,
  quietDbfs: QUIET_DBFS,
  quietFaultDbfs: -84,
  dcNote: 0.008,
  dcWarning: 0.02,
  dcFault: 0.3,
  /** Hum against the noise in 2500 Hz. */
  humNoteDb: -25,
  humWarningDb: -6,
  humFaultDb: 20,
  duckDb: DUCKS_DB,
  duckFaultDb: 12,
  gateDb: GATED_DB,
  narrowHz: 1900,
  narrowFaultHz: 800,
  dropoutsFaultShare: 0.1,
  deadBelowDb: 30,
  opposite: -0.8,
} as const

const hz = (value: number) => `${Math.round(value)} Hz`
const percent = (share: number) => `${(100 * share).toFixed(share < 0.001 ? 3 : share < 0.01 ? 2 : 1)} %`

/** Names what is wrong with received audio. Pure rules: measurements in, findings out, in no order. */
export function judgeReceive(m: ReceiveMeasurements): Finding[] {
  const silent = judgeSilence(m)
  if (silent) return [silent]
  const rules = [judgeClipping, judgeHeadroom, judgeQuiet, judgeDc, judgeHum, judgeDynamics, judgeFilter, judgeSpeech, judgeDropouts]
  return [...rules, judgeChannels].map((rule) => rule(m)).filter((f) => f !== undefined)
}

/**
 * What may be wrong all the same, because it cannot be told from what is on the air: `zeptik bench level` measures how often
 * each is found in a quiet, a normal and a crowded band.
 */
export function unseenIn({ dynamics, passbandHz }: ReceiveMeasurements): readonly string[] {
  if (!passbandHz) return []
  return dynamics.crowded
    ? ['speech in the room', 'a gain that pumps by some decibels', 'weak noise reduction']
    : ['noise reduction of less than about 12 dB']
}

type Rule = (m: ReceiveMeasurements) => Finding | undefined

const judgeSilence: Rule = (m) =>
  m.channels.every((c) => c.constant) || m.silentS >= 0.98 * m.durationS
    ? finding('digital-silence', {
        severity: 'fault',
        evidence: `every sample of the last ${m.durationS.toFixed(0)} s is the same; no converter gives that`,
        advice:
          'Choose another audio input, or unmute this one in the system’s sound settings. A plugged-in interface may need its own input chosen.',
        confidence: 1,
        costDb: 99,
      })
    : undefined

const judgeClipping: Rule = (m) => {
  if (m.clippedFraction < THRESHOLDS.clippedWarning || m.clipRuns === 0) return undefined
  const fault = m.clippedFraction > THRESHOLDS.clippedFault
  return finding('clipping', {
    severity: fault ? 'fault' : 'warning',
    evidence: `${percent(m.clippedFraction)} of the samples are cut off at ${dbfsWords(m.peakDbfs)}`,
    advice:
      'Turn it down at the radio’s output, then at the input. If it stays, the cut is earlier: line level into a microphone socket, or the radio’s volume.',
    confidence: m.clipRuns > 2 ? 1 : 0.8,
    costDb: Math.min(12, 0.5 + 200 * m.clippedFraction),
  })
}

const judgeHeadroom: Rule = (m) =>
  m.headroomDb < THRESHOLDS.headroomDb && m.clipRuns === 0
    ? finding('too-hot', {
        severity: 'warning',
        evidence: `peaks come within ${decibels(m.headroomDb, 1)} of full scale`,
        advice: 'Turn it down at the radio’s output, then at the input, so that a stronger station does not clip.',
        confidence: 0.9,
        costDb: 1,
      })
    : undefined

const judgeQuiet: Rule = (m) => {
  if (m.rmsDbfs > THRESHOLDS.quietDbfs) return undefined
  const fault = m.rmsDbfs < THRESHOLDS.quietFaultDbfs
  return finding('too-quiet', {
    severity: fault ? 'fault' : 'warning',
    evidence: `mean level ${dbfsWords(m.rmsDbfs)}, near the noise of the converter itself`,
    advice: 'Turn it up at the radio’s output, then at the input. If that changes nothing, the wrong input is chosen or a lead is out.',
    confidence: fault ? 1 : 0.9,
    costDb: fault ? 6 : 1.5,
  })
}

const judgeDc: Rule = (m) => {
  const size = Math.abs(m.dcOffset)
  if (size < THRESHOLDS.dcNote) return undefined
  return finding('dc-offset', {
    severity: size >= THRESHOLDS.dcFault ? 'fault' : size >= THRESHOLDS.dcWarning ? 'warning' : 'note',
    evidence: `the wave stands ${percent(size)} of full scale ${m.dcOffset > 0 ? 'above' : 'below'} the middle`,
    advice: 'It takes headroom from one side. Use an isolated interface, or another input; a microphone’s supply voltage may be on.',
    confidence: 1,
    costDb: -amplitudeToDb(Math.max(0.01, 1 - size)),
  })
}

const judgeHum: Rule = (m) => {
  if (!m.hum) return undefined
  const over = m.hum.dbfs - m.noise2500Dbfs
  if (over < THRESHOLDS.humNoteDb) return undefined
  const lines = m.hum.lines.map((line) => line.frequencyHz)
  return finding('hum', {
    severity: over >= THRESHOLDS.humFaultDb ? 'fault' : over >= THRESHOLDS.humWarningDb ? 'warning' : 'note',
    evidence: `${lines.length} ${lines.length === 1 ? 'line' : 'lines'} of ${m.hum.mainsHz} Hz mains, ${dbfsWords(m.hum.dbfs)} together, ${decibels(Math.abs(over))} ${over >= 0 ? 'over' : 'under'} the noise`,
    advice: 'Run tablet and radio from batteries, or put an isolating transformer into the audio lead. Keep the lead away from supplies.',
    confidence: lines.length >= 3 ? 1 : 0.8,
    costDb: Math.max(0.2, Math.min(10, 1 + (over - THRESHOLDS.humWarningDb) / 4)),
    atHz: [Math.min(...lines), Math.max(...lines)],
  })
}

/**
 * Noise that comes and goes rises like syllables; then nothing can be said of speech. A little unevenness may as well come
 * from speech, from lost blocks, from clipping or from a gain that pumps.
 */
const gated = (m: ReceiveMeasurements) => {
  const { dynamics: d } = m
  if (d.gateDb >= THRESHOLDS.gateDb || d.unevenDb >= SURELY_UNEVEN * d.unevenByChanceDb) return true
  const otherwise = m.speech.present || m.dropouts > 0 || d.duckDb >= THRESHOLDS.duckDb || m.clippedFraction > THRESHOLDS.clippedWarning
  return !otherwise && d.unevenDb >= d.unevenByChanceDb
}
const SURELY_UNEVEN = 2

const judgeDynamics: Rule = (m) => {
  const d = m.dynamics
  if (gated(m)) {
    const pauses = d.gateDb >= THRESHOLDS.gateDb
    return finding('noise-gate', {
      severity: 'fault',
      evidence: pauses
        ? `the noise falls by ${decibels(d.gateDb)} in ${percent(d.gatedShare)} of the time, with no strong signal there`
        : `the noise is cut into islands: it is ${decibels(d.unevenDb, 2)} more uneven than plain noise, which by chance reaches ${decibels(d.unevenByChanceDb, 2)}`,
      advice:
        'Switch the radio’s noise reduction, noise blanker and squelch off. On the tablet, switch off noise suppression in the sound settings.',
      confidence: Math.min(1, 0.6 + Math.max((d.gateDb - THRESHOLDS.gateDb) / 15, 2 * (d.unevenDb - d.unevenByChanceDb))),
      costDb: Math.min(15, pauses ? 2 + (d.gateDb - THRESHOLDS.gateDb) / 2 : Math.max(0.5, 10 * d.unevenDb)),
    })
  }
  if (d.duckDb < THRESHOLDS.duckDb) return undefined
  return finding('agc-pumping', {
    severity: d.duckDb >= THRESHOLDS.duckFaultDb ? 'fault' : 'warning',
    evidence: `the noise goes down by ${decibels(d.duckDb)} whenever a strong station is on`,
    advice: 'Switch the radio’s AGC off and turn its RF gain down, or set AGC to fast. In the sound settings, switch automatic gain off.',
    confidence: Math.min(1, 0.6 + (d.duckDb - THRESHOLDS.duckDb) / 10),
    costDb: Math.min(10, d.duckDb / 4),
  })
}

const judgeFilter: Rule = ({ passbandHz }) => {
  if (!passbandHz) return undefined
  const [low, high] = passbandHz
  const width = high - low
  if (width >= THRESHOLDS.narrowHz) return undefined
  const fault = width < THRESHOLDS.narrowFaultHz
  return finding('narrow-filter', {
    severity: fault ? 'fault' : 'warning',
    evidence: `only ${hz(low)} to ${hz(high)} come through, ${hz(width)} wide`,
    advice: 'Set the radio’s filter to its widest for data or upper sideband, 2.4 kHz or more, and its passband shift to the middle.',
    confidence: 0.95,
    costDb: fault ? 10 : 4,
    atHz: [low, high],
  })
}

const judgeSpeech: Rule = (m) => {
  const { speech } = m
  // Sound that stands still again and again starts again like syllables.
  return speech.present && m.dropouts < 3 && !gated(m)
    ? finding('speech', {
        severity: 'warning',
        evidence: `${speech.syllables} bursts like syllables, ${speech.seconds.toFixed(1)} s of them, ${decibels(speech.standsDb)} over the rest`,
        advice: 'Ask for quiet during the slot, move the microphone to within a hand of the loudspeaker, or use a cable.',
        confidence: Math.min(1, 0.5 + speech.syllables / 20),
        costDb: Math.min(12, Math.max(0.5, speech.standsDb / 2)),
        atHz: [150, 2850],
      })
    : undefined
}

const judgeDropouts: Rule = (m) => {
  if (m.dropouts === 0) return undefined
  const share = m.dropoutS / m.durationS
  return finding('dropouts', {
    severity: share > THRESHOLDS.dropoutsFaultShare ? 'fault' : 'warning',
    evidence: `the sound stood still ${m.dropouts} ${m.dropouts === 1 ? 'time' : 'times'} in ${m.durationS.toFixed(0)} s, ${percent(share)} of it`,
    advice:
      'Close other programs and tabs, take the tablet off power saving, plug the interface straight in without a hub. Over a network or Bluetooth, come closer.',
    confidence: m.dropouts > 1 ? 1 : 0.7,
    costDb: Math.min(12, 0.3 + 8 * share),
  })
}

const judgeChannels: Rule = ({ channels, correlation }) => {
  if (channels.length < 2) return undefined
  const [left, right] = channels as [(typeof channels)[0], (typeof channels)[0]]
  const apart = left.rmsDbfs - right.rmsDbfs
  if (Math.abs(apart) >= THRESHOLDS.deadBelowDb || left.constant !== right.constant) {
    const dead = left.constant || apart < 0 ? 'left' : 'right'
    const level = dead === 'left' ? left.rmsDbfs : right.rmsDbfs
    return finding('one-channel', {
      severity: 'warning',
      evidence: `the ${dead} channel ${Number.isFinite(level) ? `is ${decibels(Math.abs(apart))} below the other` : 'is silent'}`,
      advice: `Only the ${dead === 'left' ? 'right' : 'left'} channel is used. If the level jumps when the plug is moved, the plug or the adapter is the wrong kind (three poles for two).`,
      confidence: 1,
      costDb: 0.5,
    })
  }
  if (correlation <= THRESHOLDS.opposite)
    return finding('opposite-channels', {
      severity: 'warning',
      evidence: `left and right are mirrored (correlation ${withMinus(correlation, 2)})`,
      advice: 'Only one of them is used. A balanced lead in a stereo socket does this: use a mono adapter.',
      confidence: 0.9,
      costDb: 0.5,
    })
  return undefined
}
