import type { ZodType } from 'zod'
import type { FindingCode } from '../audio/findings'
import type { RadioMode } from '../links/cat'
import type { Contact } from '../log/contact'
import type { ReadinessEvidence, ReadyItem } from '../readiness/evidence'
import type { ModeId } from './modeId'

/** A customary dial frequency: a convention, not a right. The local band plan and the licence decide. */
export interface Dial {
  /** ADIF name. */
  band: string
  dialFrequencyHz: number
  note?: string
}

export interface ModeTestOptions {
  sampleRateHz: number
  /** Peak, share of full scale. */
  amplitude: number
  /** Whose call is sent: a test without a call would not be identified. */
  ownCall: string
}

/** What the rest of the station must know of a mode. Data and pure functions, nothing else. */
export interface Mode<Settings = unknown, Details = unknown> {
  id: ModeId
  /** As operators call it. */
  name: string
  adif: { mode: string; submode?: string }
  /** Whether its sound is always made and read here, and not by a TNC at times. */
  sound: boolean
  /** Whether it is now, where that depends. */
  soundNow?(evidence: ReadinessEvidence): boolean
  /** What the level coach may find that is no fault here. */
  noFault?: readonly FindingCode[]
  /** Whether those it talks to in practice live by the server's clock: then practice goes at real pace. */
  realPace?: boolean
  /** Share of the time a transmitter is keyed while operating, and how, in words. */
  duty: { keyedShare: number; words: string }
  /** The longest single transmission. */
  longestMs: number
  /** What the radio is set to, and that in words. */
  radio: { modes: readonly RadioMode[]; words: string }
  dials: readonly Dial[]
  /** How good the clock must be; absent: any will do. */
  clockWithinMs?: number
  /** What the operator chooses for it. */
  settings: ZodType<Settings>
  /** What is kept of something heard, beyond what all modes have. */
  details: ZodType<Details>
  /** What it needs beyond what every mode needs. */
  readiness(evidence: ReadinessEvidence): ReadyItem[]
  /** Without these a contact in it is not complete. */
  contactNeeds: readonly (keyof Contact)[]
  /** Names of its sheets of radio settings, and what stands on them before the operator changes it. */
  sheets: readonly string[]
  sheetLines: readonly (readonly [setting: string, value: string, voice: string])[]
  /** A piece of it as it sounds on the air, for setting levels; cut to the length of the test. */
  testSignal(options: ModeTestOptions): Float32Array
}

/** Where the dial of a practice band stands when none was set: a contact without a band is worth little, also in practice. */
export const practiceDialHz = (dials: readonly Dial[]): number | null =>
  (dials.find((dial) => dial.band === '20m') ?? dials[0])?.dialFrequencyHz ?? null
