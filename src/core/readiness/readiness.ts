import type { AudioReport } from '../audio/audioExaminer'
import { dbfsWords } from '../audio/decibelWords'
import type { LevelReading } from '../audio/levelMeter'
import { judgeLevel } from '../audio/levelMeter'
import { dialOfRadio, type LinkState } from '../links'
import type { Station } from '../station/station'
import { CLOCK_KIND_WORDS, type ClockSourceKind } from '../time/clockReading'
import { formatClockError } from '../time/clockError'
import { formatUntil, type ClockVerdict } from '../time/clockVerdict'
import type { TimebaseSource } from '../time/timebase'

/** State of one thing that operating needs. Words, so that shape and colour only repeat them. */
export type ReadyState = 'ready' | 'attention' | 'missing' | 'unknown'

export type ReadyId = 'call' | 'locator' | 'licence' | 'audio' | 'level' | 'clock' | 'dial' | 'output'

export interface ReadyItem {
  id: ReadyId
  title: string
  state: ReadyState
  /** What was measured or told. */
  evidence: string
  /** When that was, in UTC milliseconds; absent for what does not age. */
  sinceUtcMs?: number
  /** The one next thing to do; absent when there is none. */
  action?: { label: string; stage: 'station' | 'connect' | 'clock' | 'levels' | 'slots' | 'practise' }
  /** True when receiving is impossible without it, not only transmitting. */
  neededToHear: boolean
}

export interface Readiness {
  answer: 'operate' | 'listen' | 'no'
  sentence: string
  items: ReadyItem[]
}

/** All that is known about the station at one moment. */
export interface ReadinessEvidence {
  nowUtcMs: number
  station: Station
  source: 'none' | 'microphone' | 'recording' | 'practice'
  sourceProblem?: string
  lastBlockUtcMs?: number
  level?: LevelReading & { utcMs: number }
  /** What the level coach says, a second or two behind the level. */
  audio?: Pick<AudioReport, 'findings' | 'noise2500Dbfs' | 'headroomDb'> & { utcMs: number }
  /** Things that differ from when this set-up was good; absent when nothing was remembered. */
  levelChanges?: number
  clock: { verdict: ClockVerdict; source: TimebaseSource; setUtcMs: number; bandUtcMs?: number }
  outputProblem?: string
  /** What the links say; absent while the server does not. */
  links?: Pick<LinkState, 'control' | 'keying'>
}

const STALE_MS = 3000
/** A dial said to be set this long ago may have been moved. */
const DIAL_STALE_MS = 12 * 3_600_000

/** Judges whether the station can operate, and if not, why: the first missing thing in the order of work. */
export function assessReadiness(e: ReadinessEvidence): Readiness {
  const items = [callItem(e), locatorItem(e), licenceItem(e), audioItem(e), levelItem(e), clockItem(e), dialItem(e), outputItem(e)]
  const blocking = items.filter((i) => i.state === 'missing')
  const doubtful = items.filter((i) => i.state === 'attention' || i.state === 'unknown')
  const deaf = blocking.find((i) => i.neededToHear)
  const place = e.source === 'practice' ? 'in practice' : 'on the air'
  if (deaf) return { answer: 'no', sentence: `Not yet: ${deaf.evidence}.`, items }
  if (blocking.length > 0) {
    const more = blocking.length > 1 ? ` (and ${blocking.length - 1} more)` : ''
    return { answer: 'listen', sentence: `You can listen, not transmit: ${blocking[0]!.evidence}${more}.`, items }
  }
  const look = doubtful.length === 0 ? '' : ` Worth a look: ${doubtful.map((i) => i.title.toLowerCase()).join(', ')}.`
  return { answer: 'operate', sentence: `Yes, you can operate ${place}.${look}`, items }
}

function callItem({ station }: ReadinessEvidence): ReadyItem {
  const base = { id: 'call' as const, title: 'Own call', neededToHear: false }
  return station.call
    ? { ...base, state: 'ready', evidence: station.operatorName ? `${station.call}, ${station.operatorName}` : station.call }
    : { ...base, state: 'missing', evidence: 'no own call is set', action: { label: 'Set your call', stage: 'station' } }
}

function locatorItem({ station }: ReadinessEvidence): ReadyItem {
  const base = { id: 'locator' as const, title: 'Locator', neededToHear: false }
  return station.locator
    ? { ...base, state: 'ready', evidence: [station.locator, station.place].filter(Boolean).join(', ') }
    : { ...base, state: 'missing', evidence: 'no locator is set', action: { label: 'Set your locator', stage: 'station' } }
}

function licenceItem({ station }: ReadinessEvidence): ReadyItem {
  const base = { id: 'licence' as const, title: 'Licence', neededToHear: false }
  return station.licenceConfirmedUtcMs !== null
    ? { ...base, state: 'ready', evidence: 'confirmed by the operator', sinceUtcMs: station.licenceConfirmedUtcMs }
    : { ...base, state: 'missing', evidence: 'the licence is not confirmed', action: { label: 'Confirm your licence', stage: 'station' } }
}

const SOURCE_WORDS = { microphone: 'the microphone input', recording: 'a recording', practice: 'the practice band', none: '' }

function audioItem(e: ReadinessEvidence): ReadyItem {
  const base = { id: 'audio' as const, title: 'Audio arriving', neededToHear: true }
  if (e.sourceProblem)
    return {
      ...base,
      state: 'missing',
      evidence: e.sourceProblem.replace(/\.$/, ''),
      action: { label: 'Choose what to hear', stage: 'connect' },
    }
  if (e.source === 'none')
    return {
      ...base,
      state: 'missing',
      evidence: 'nothing is being listened to',
      action: { label: 'Choose what to hear', stage: 'connect' },
    }
  if (e.lastBlockUtcMs === undefined || e.nowUtcMs - e.lastBlockUtcMs > STALE_MS)
    return {
      ...base,
      state: 'missing',
      evidence: `no sound arrives from ${SOURCE_WORDS[e.source]}`,
      ...(e.lastBlockUtcMs !== undefined && { sinceUtcMs: e.lastBlockUtcMs }),
      action: { label: 'Check the input', stage: 'connect' },
    }
  return { ...base, state: 'ready', evidence: `from ${SOURCE_WORDS[e.source]}`, sinceUtcMs: e.lastBlockUtcMs }
}

function levelItem(e: ReadinessEvidence): ReadyItem {
  const base = { id: 'level' as const, title: 'Receive level', neededToHear: false }
  if (!e.level) return { ...base, state: 'unknown', evidence: 'not measured yet' }
  const verdict = judgeLevel(e.level)
  if (verdict.state === 'silent' || !e.audio) {
    const state: ReadyState = verdict.state === 'good' ? 'ready' : verdict.state === 'silent' ? 'missing' : 'attention'
    return {
      ...base,
      state,
      evidence: verdict.sentence,
      sinceUtcMs: e.level.utcMs,
      ...(verdict.state !== 'good' && { action: { label: verdict.advice.replace(/\.$/, ''), stage: 'levels' as const } }),
    }
  }
  const { findings, noise2500Dbfs, headroomDb, utcMs } = e.audio
  const wrong = findings.filter((f) => f.severity !== 'note')
  const worst = wrong[0]
  if (worst)
    return {
      ...base,
      state: 'attention',
      evidence: `${worst.name.toLowerCase()}: ${worst.evidence}${wrong.length > 1 ? ` (and ${wrong.length - 1} more)` : ''}`,
      sinceUtcMs: utcMs,
      action: { label: 'See what to turn', stage: 'levels' },
    }
  const was =
    e.levelChanges === undefined ? '' : e.levelChanges === 0 ? ', as when it was good' : `, ${e.levelChanges} not as when it was good`
  return {
    ...base,
    state: e.levelChanges ? 'attention' : 'ready',
    evidence: `noise ${dbfsWords(noise2500Dbfs)}, headroom ${headroomDb.toFixed(0)} dB${was}`,
    sinceUtcMs: utcMs,
    ...(e.levelChanges && { action: { label: 'See what changed', stage: 'levels' as const } }),
  }
}

const seconds = (ms: number) => `${(ms / 1000).toFixed(2)} s`

function clockItem({ clock, nowUtcMs }: ReadinessEvidence): ReadyItem {
  const base = { id: 'clock' as const, title: 'Clock', neededToHear: false }
  const { verdict, source } = clock
  const adjust = { label: 'Check the clock', stage: 'clock' as const }
  const byBand = clock.bandUtcMs === undefined ? {} : { sinceUtcMs: clock.bandUtcMs }
  switch (verdict.kind) {
    case 'simulated':
      return { ...base, state: 'ready', evidence: 'the practice band keeps this clock' }
    case 'contradiction':
      return {
        ...base,
        state: 'attention',
        evidence: 'sources of time contradict each other',
        action: { label: 'Choose a source', stage: 'clock' },
      }
    case 'unknown':
      return { ...base, state: 'unknown', evidence: 'the computer’s clock, its error unknown', action: adjust }
    case 'off':
      return {
        ...base,
        ...byBand,
        state: Math.abs(verdict.errorMs ?? 0) > 1500 ? 'missing' : 'attention',
        evidence: `${verdict.stations === undefined ? '' : `${verdict.stations} stations say `}this clock is ${formatClockError(verdict.errorMs ?? 0)}`,
        action: { label: 'Put the clock right', stage: 'clock' },
      }
    case 'good':
    case 'fair':
    case 'poor': {
      const who = source in CLOCK_KIND_WORDS ? CLOCK_KIND_WORDS[source as ClockSourceKind] : undefined
      const until = verdict.goodUntilUtcMs === undefined ? '' : `, good until ${formatUntil(verdict.goodUntilUtcMs, nowUtcMs)}`
      if (!who)
        return {
          ...base,
          ...byBand,
          state: 'ready',
          evidence: `${verdict.stations ?? 0} stations agree within ${seconds(Math.abs(verdict.errorMs ?? 0))}`,
        }
      return {
        ...base,
        state: verdict.kind === 'poor' ? 'attention' : 'ready',
        evidence: `within ${seconds(verdict.uncertaintyMs ?? 0)}${until} (${who})`,
        sinceUtcMs: clock.setUtcMs,
        ...(verdict.kind === 'poor' && { action: adjust }),
      }
    }
  }
}

function dialItem({ station, nowUtcMs, source, links }: ReadinessEvidence): ReadyItem {
  const base = { id: 'dial' as const, title: 'Dial', neededToHear: false }
  const control = links?.control
  if (source !== 'practice' && source !== 'recording' && control && control.state !== 'off') {
    const frequencyHz = dialOfRadio(control, source)
    const mend = { label: 'Try the link', stage: 'connect' as const }
    if (frequencyHz === undefined)
      return { ...base, state: 'attention', evidence: `the radio cannot be read: ${control.detail.replace(/\.$/, '')}`, action: mend }
    const wrongMode = control.mode !== null && !['usb', 'usb-data'].includes(control.mode)
    return {
      ...base,
      state: wrongMode ? 'attention' : 'ready',
      evidence: `${(frequencyHz / 1000).toFixed(1)} kHz, mode ${control.mode ?? 'not known'}, read from the radio${wrongMode ? '; FT8 is sent in upper sideband' : ''}`,
      sinceUtcMs: nowUtcMs,
    }
  }
  if (station.dialFrequencyHz === null)
    return { ...base, state: 'missing', evidence: 'the dial frequency is not told', action: { label: 'Set the dial', stage: 'slots' } }
  const evidence = `${(station.dialFrequencyHz / 1000).toFixed(1)} kHz upper sideband, set by hand`
  const since = station.dialSetUtcMs === null ? {} : { sinceUtcMs: station.dialSetUtcMs }
  const stale = source !== 'practice' && station.dialSetUtcMs !== null && nowUtcMs - station.dialSetUtcMs > DIAL_STALE_MS
  return {
    ...base,
    state: stale ? 'attention' : 'ready',
    evidence,
    ...since,
    ...(stale && { action: { label: 'Confirm the dial', stage: 'slots' as const } }),
  }
}

/** How it is known that the radio has stopped transmitting. */
export const KEY_PROOF_WORDS: Record<LinkState['keying']['proof'], string> = {
  readBack: 'and it is asked whether it stopped',
  acknowledged: 'and it acknowledges each order, but cannot be asked whether it stopped',
  line: 'which drops when the port closes',
  none: 'but nothing tells whether it stopped',
}

const KEYED_BY = { cat: 'the control line', rts: 'RTS', dtr: 'DTR' } as const

function outputItem(e: ReadinessEvidence): ReadyItem {
  const base = { id: 'output' as const, title: 'Transmit audio', neededToHear: false }
  if (e.outputProblem)
    return {
      ...base,
      state: 'missing',
      evidence: e.outputProblem.replace(/\.$/, ''),
      action: { label: 'Choose an output', stage: 'connect' },
    }
  if (e.source === 'practice') return { ...base, state: 'ready', evidence: 'into the practice band, not to a radio' }
  if (e.source === 'recording') return { ...base, state: 'attention', evidence: 'a recording cannot be answered' }
  const keying = e.links?.keying
  if (keying && keying.by !== 'none' && keying.by !== 'vox') {
    const by = KEYED_BY[keying.by]
    if (keying.state === 'problem')
      return {
        ...base,
        state: 'missing',
        evidence: `the radio cannot be keyed by ${by}: ${keying.detail.replace(/\.$/, '')}`,
        action: { label: 'Try the link', stage: 'connect' },
      }
    return {
      ...base,
      state: keying.proof === 'none' ? 'attention' : 'ready',
      evidence: `keyed by ${by}, ${KEY_PROOF_WORDS[keying.proof]}; set the radio’s own transmit timer as well, for when this computer fails`,
    }
  }
  const leadIn = e.station.voxLeadInMs > 0 ? `, ${e.station.voxLeadInMs} ms lead-in` : ''
  return { ...base, state: 'ready', evidence: `keyed by VOX${leadIn}` }
}
