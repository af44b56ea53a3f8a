import type { Activation } from '../activation/activation'
import { MODES, type ModeId } from '../modes'
import type { Station } from '../station/station'
import { bandOf } from './bands'
import { emptyContact, type Contact, type Evidence } from './contact'

/** What a mode knows of a contact that was made in it. */
export interface MadeContact {
  mode: ModeId
  /** When it is another one than the mode's usual. */
  submode?: string
  call: string
  startedUtcMs: number
  endedUtcMs: number
  audioOffsetHz?: number
  reportSent?: string
  reportReceived?: string
  locator?: string
  name?: string
  place?: string
  evidence: Evidence[]
}

/** What the mode itself does not know about its contact. */
export interface ContactCircumstances {
  id: string
  station: Station
  source: 'microphone' | 'recording' | 'practice'
  /** Name from an earlier contact. */
  knownName?: string
  clockUncertaintyMs?: number
  /** Where the station is set up for a programme. */
  activation?: Pick<Activation, 'programme' | 'reference'>
}

/** Writes a contact up for the log, whatever its mode. */
export function contactFromMade(made: MadeContact, c: ContactCircumstances): Contact {
  const { station } = c
  const { adif } = MODES[made.mode]
  return {
    ...emptyContact({
      id: c.id,
      call: made.call,
      mode: adif.mode,
      startedUtcMs: made.startedUtcMs,
      endedUtcMs: made.endedUtcMs,
      origin: c.source === 'microphone' ? 'air' : c.source,
    }),
    submode: made.submode ?? adif.submode ?? null,
    band: station.dialFrequencyHz === null ? null : (bandOf(station.dialFrequencyHz) ?? null),
    dialFrequencyHz: station.dialFrequencyHz,
    audioOffsetHz: made.audioOffsetHz === undefined ? null : Math.round(made.audioOffsetHz * 10) / 10,
    reportSent: made.reportSent ?? null,
    reportReceived: made.reportReceived ?? null,
    locator: made.locator ?? null,
    ownCall: station.call || null,
    ownLocator: station.locator || null,
    powerW: station.powerW,
    ownProgramme: c.activation?.programme || null,
    ownReference: c.activation?.reference || null,
    name: made.name ?? c.knownName ?? null,
    place: made.place ?? null,
    clockUncertaintyMs: c.clockUncertaintyMs ?? null,
    evidence: made.evidence,
  }
}
