// What some modes need and others do not: place, time, dial, a TNC.
import { frequencyWords } from '../text/frequency'
import { practiceDialHz, type Dial } from '../modes/mode'
import { dialOfRadio } from '../links/dialOfRadio'
import type { RadioMode } from '../links/cat'
import { CLOCK_KIND_WORDS, type ClockSourceKind } from '../time/clockReading'
import { formatClockError } from '../time/clockError'
import { formatUntil } from '../time/clockVerdict'
import type { ReadinessEvidence, ReadyItem } from './evidence'

/** A dial said to be set this long ago may have been moved. */
const DIAL_STALE_MS = 3_600_000

/** @param needed whether the mode sends it in every contact */
export function locatorItem({ station }: ReadinessEvidence, { needed }: { needed: boolean }): ReadyItem {
  const base = { id: 'locator' as const, title: 'Locator', neededToHear: false }
  if (station.locator) return { ...base, state: 'ready', evidence: [station.locator, station.place].filter(Boolean).join(', ') }
  const action = { label: 'Set your locator', stage: 'station' as const }
  return { ...base, state: needed ? 'missing' : 'attention', evidence: 'no locator is set', action }
}

const seconds = (ms: number) => `${(ms / 1000).toFixed(2)} s`

/** A clock that is off by more than this spoils the times in the log. */
const LOG_CLOCK_MS = 60_000

/** For a mode in which nobody takes turns by the clock: it only has to be good enough for the log. */
export function logClockItem(e: ReadinessEvidence): ReadyItem {
  const item = slotClockItem(e, Infinity)
  const { kind, errorMs = 0, uncertaintyMs = 0 } = e.clock.verdict
  // Of a clock of which nobody knows how far off it is nothing can be said.
  const known = kind === 'off' || kind === 'poor'
  if (item.state === 'ready' || !known || Math.abs(errorMs) + uncertaintyMs > LOG_CLOCK_MS) return item
  const { id, title, neededToHear } = item
  return { id, title, neededToHear, state: 'ready', evidence: `${item.evidence}; good enough for the log` }
}

/** For a mode whose stations take turns by the clock. @param withinMs beyond this nobody can be worked */
export function slotClockItem({ clock, nowUtcMs }: ReadinessEvidence, withinMs: number): ReadyItem {
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
        state: Math.abs(verdict.errorMs ?? 0) > withinMs ? 'missing' : 'attention',
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

interface DialNeeds {
  /** As the mode is called. */
  mode: string
  radioModes: readonly RadioMode[]
  /** What these are, in words. */
  words: string
  dials: readonly Dial[]
}

/** Where the dial stands, as the radio or the operator says. */
export function dialItem(
  { station, nowUtcMs, source, links }: ReadinessEvidence,
  { mode, radioModes, words, dials }: DialNeeds,
): ReadyItem {
  const base = { id: 'dial' as const, title: 'Dial', neededToHear: false }
  const control = links?.control
  if (source !== 'practice' && source !== 'recording' && control && control.state !== 'off') {
    const frequencyHz = dialOfRadio(control, source)
    const mend = { label: 'Try the link', stage: 'connect/control' as const }
    if (frequencyHz === undefined)
      return { ...base, state: 'attention', evidence: `the radio cannot be read: ${control.detail.replace(/\.$/, '')}`, action: mend }
    const wrongMode = control.mode !== null && !radioModes.some((good) => good === control.mode)
    return {
      ...base,
      state: wrongMode ? 'attention' : 'ready',
      evidence: `${frequencyWords(frequencyHz)}, mode ${control.mode ?? 'not known'}, read from the radio${wrongMode ? `; ${mode} is sent in ${words}` : ''}`,
      sinceUtcMs: nowUtcMs,
    }
  }
  const setHz = station.dialFrequencyHz ?? (source === 'practice' ? practiceDialHz(dials) : null)
  if (setHz === null)
    return { ...base, state: 'missing', evidence: 'the frequency is not set', action: { label: 'Set the dial', stage: 'dial' } }
  const evidence = `${frequencyWords(setHz)} ${words}, ${station.dialFrequencyHz === null ? 'of the practice band' : 'set by hand'}`
  const since = station.dialSetUtcMs === null ? {} : { sinceUtcMs: station.dialSetUtcMs }
  const stale = source !== 'practice' && station.dialSetUtcMs !== null && nowUtcMs - station.dialSetUtcMs > DIAL_STALE_MS
  return {
    ...base,
    state: stale ? 'attention' : 'ready',
    evidence,
    ...since,
    ...(stale && { action: { label: 'Confirm the dial', stage: 'dial' as const } }),
  }
}

/** The TNC that hears and sends frames. */
export function tncItem({ links }: ReadinessEvidence): ReadyItem {
  const base = { id: 'tnc' as const, title: 'TNC', neededToHear: true }
  const action = { label: 'Try the link', stage: 'connect/tnc' as const }
  if (!links || links.tnc.state === 'off')
    return { ...base, state: 'missing', evidence: 'no TNC is set up', action: { ...action, label: 'Set up a TNC' } }
  const detail = links.tnc.detail.replace(/\.$/, '')
  return links.tnc.state === 'talking'
    ? { ...base, state: 'ready', evidence: detail }
    : { ...base, state: 'missing', evidence: `the TNC: ${detail}`, action }
}
