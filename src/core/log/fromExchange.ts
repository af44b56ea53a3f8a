import type { Activation } from '../activation/activation'
import type { MadeContact } from '../ft8/exchangeState'
import { formatReport } from '../ft8/infoField'
import type { Station } from '../station/station'
import { bandOf } from './bands'
import { emptyContact, type Contact } from './contact'

/** What the exchange itself does not know about its contact. */
export interface ContactCircumstances {
  id: string
  station: Station
  source: 'microphone' | 'recording' | 'practice'
  /** Locator heard from the other station in other messages. */
  heardLocator?: string
  /** Name from an earlier contact. */
  knownName?: string
  clockUncertaintyMs?: number
  /** Where the station is set up for a programme. */
  activation?: Pick<Activation, 'programme' | 'reference'>
}

/** Writes a completed exchange up for the log. */
export function contactFromExchange(made: MadeContact, c: ContactCircumstances): Contact {
  const { station } = c
  const report = (db: number | undefined) => (db === undefined ? null : formatReport(db))
  return {
    ...emptyContact({
      id: c.id,
      call: made.call,
      mode: 'FT8',
      startedUtcMs: made.startedUtcMs,
      endedUtcMs: made.endedUtcMs,
      origin: c.source === 'microphone' ? 'air' : c.source,
    }),
    band: station.dialFrequencyHz === null ? null : (bandOf(station.dialFrequencyHz) ?? null),
    dialFrequencyHz: station.dialFrequencyHz,
    audioOffsetHz: Math.round(made.audioOffsetHz * 10) / 10,
    reportSent: report(made.reportSentDb),
    reportReceived: report(made.reportReceivedDb),
    locator: made.locator ?? c.heardLocator ?? null,
    ownCall: station.call || null,
    ownLocator: station.locator || null,
    powerW: station.powerW,
    ownProgramme: c.activation?.programme || null,
    ownReference: c.activation?.reference || null,
    name: c.knownName ?? null,
    clockUncertaintyMs: c.clockUncertaintyMs ?? null,
    evidence: made.evidence,
  }
}
