// What every mode needs: who sends, and sound that comes and goes.
import { dbfsWords } from '../audio/decibelWords'
import { judgeLevel } from '../audio/levelMeter'
import type { LinkState } from '../links/linkContracts'
import type { ReadinessEvidence, ReadyItem, ReadyState } from './evidence'

const STALE_MS = 3000

export function callItem({ station }: ReadinessEvidence): ReadyItem {
  const base = { id: 'call' as const, title: 'Own call', neededToHear: false }
  return station.call
    ? { ...base, state: 'ready', evidence: station.operatorName ? `${station.call}, ${station.operatorName}` : station.call }
    : { ...base, state: 'missing', evidence: 'no own call is set', action: { label: 'Set your call', stage: 'station' } }
}

export function licenceItem({ station }: ReadinessEvidence): ReadyItem {
  const base = { id: 'licence' as const, title: 'Licence', neededToHear: false }
  return station.licenceConfirmedUtcMs !== null
    ? { ...base, state: 'ready', evidence: 'confirmed by the operator', sinceUtcMs: station.licenceConfirmedUtcMs }
    : { ...base, state: 'missing', evidence: 'the licence is not confirmed', action: { label: 'Confirm your licence', stage: 'station' } }
}

const SOURCE_WORDS = { microphone: 'the microphone input', recording: 'a recording', practice: 'the practice band', none: '' }

export function audioItem(e: ReadinessEvidence): ReadyItem {
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

export function levelItem(e: ReadinessEvidence): ReadyItem {
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

/** How it is known that the radio has stopped transmitting. */
export const KEY_PROOF_WORDS: Record<LinkState['keying']['proof'], string> = {
  readBack: 'and it is asked whether it stopped',
  acknowledged: 'and it acknowledges each order, but cannot be asked whether it stopped',
  line: 'which drops when the port closes',
  none: 'but nothing tells whether it stopped',
}

const KEYED_BY = { cat: 'CAT control', rts: 'RTS', dtr: 'DTR' } as const

export function outputItem(e: ReadinessEvidence): ReadyItem {
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
        action: { label: 'Try the link', stage: 'connect/control' },
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
