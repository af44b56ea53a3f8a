/** What can be wrong with received audio. */
export const FINDING_CODES = [
  'clipping',
  'too-quiet',
  'too-hot',
  'digital-silence',
  'dc-offset',
  'hum',
  'agc-pumping',
  'noise-gate',
  'narrow-filter',
  'speech',
  'dropouts',
  'one-channel',
  'opposite-channels',
  'browser-processing',
  'sample-clock',
] as const
export type FindingCode = (typeof FINDING_CODES)[number]

/** `note`: worth knowing. `warning`: costs decodes now or soon. `fault`: hardly anything can be heard like this. */
export type FindingSeverity = 'note' | 'warning' | 'fault'

/** One thing that is wrong: what, how that is known, how sure, and what to do. */
export interface Finding {
  code: FindingCode
  severity: FindingSeverity
  /** Name in the field's words. */
  name: string
  /** What was measured, in numbers with units. */
  evidence: string
  /** What to turn, first thing first. */
  advice: string
  /** 0 to 1. */
  confidence: number
  /** About what it costs, in dB of signal-to-noise ratio; orders the list. */
  costDb: number
  /** Where in the spectrum it sits, for the picture. */
  atHz?: [number, number]
}

const NAMES: Record<FindingCode, string> = {
  clipping: 'Clipping',
  'too-quiet': 'Too quiet',
  'too-hot': 'Too little headroom',
  'digital-silence': 'No sound at all',
  'dc-offset': 'Off centre',
  hum: 'Mains hum',
  'agc-pumping': 'Automatic gain pumps',
  'noise-gate': 'Noise is cut away',
  'narrow-filter': 'Narrow filter',
  speech: 'Speech or room noise',
  dropouts: 'Sound drops out',
  'one-channel': 'One channel is dead',
  'opposite-channels': 'Channels cancel each other',
  'browser-processing': 'The browser alters the sound',
  'sample-clock': 'Sound device runs off rate',
}

/** Puts a finding together under its name. */
export function finding(code: FindingCode, rest: Omit<Finding, 'code' | 'name'>): Finding {
  return { code, name: NAMES[code], ...rest }
}

/** Orders findings by what they cost, the dearest first. */
export function byEffect(findings: readonly Finding[]): Finding[] {
  const rank = { fault: 2, warning: 1, note: 0 }
  return [...findings].sort((a, b) => rank[b.severity] - rank[a.severity] || b.costDb - a.costDb)
}

/** Whether nothing stands in the way of receiving; notes do not. */
export function isOk(findings: readonly Finding[]): boolean {
  return findings.every((f) => f.severity === 'note')
}
