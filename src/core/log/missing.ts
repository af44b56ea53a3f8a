import { MODE_IDS, MODES, type Mode } from '../modes'
import type { Contact } from './contact'

const WORDS: Partial<Record<keyof Contact, string>> = {
  locator: 'locator',
  band: 'band',
  reportSent: 'report sent',
  reportReceived: 'report received',
}
/** What is asked of a contact in a mode that is none of ours. */
const USUAL = Object.keys(WORDS) as (keyof Contact)[]

const modeOf = ({ mode, submode }: Pick<Contact, 'mode' | 'submode'>): Mode | undefined =>
  MODE_IDS.map((id): Mode => MODES[id]).find(({ adif }) => adif.mode === mode && (adif.submode ?? null) === submode)

/** What a complete log entry of its mode has and this one lacks, in words. */
export function missingFrom(contact: Contact): string[] {
  const needs = modeOf(contact)?.contactNeeds ?? USUAL
  return needs.filter((need) => !contact[need]).map((need) => WORDS[need] ?? need)
}
