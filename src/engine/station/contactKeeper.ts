import type { Activation } from '@/core/activation'
import { contactFromMade, type Contact, type MadeContact } from '@/core/log'
import { allocationOf } from '@/core/place'
import type { Station } from '@/core/station'
import { uncertaintyAt } from '@/core/time'
import type { StationClock } from './stationClock'
import type { StationState, WorkedPlaces } from './state'

export interface ContactKeeperHost {
  clock: StationClock
  newId: () => string
  state: () => StationState
  set: (change: Partial<StationState>) => void
  profile: () => Station
  dialFrequencyHz: () => number | null
  activation: () => Activation | undefined
  /** Puts it where it waits for the server. */
  keep: (contact: Contact) => Promise<void>
}

/** The one road of contacts, whatever their mode: to the log, to what was worked, to the activation. */
export class ContactKeeper {
  constructor(private readonly host: ContactKeeperHost) {}

  made(made: MadeContact): Contact {
    const { worked, workedPlaces, source } = this.host.state()
    const activation = this.host.activation()
    const knownName = worked[made.call]?.find((w) => w.name)?.name
    const clockUncertaintyMs = uncertaintyAt(this.host.clock.timebase, this.host.clock.nowUtcMs())
    const practice = source.kind === 'practice'
    const contact = contactFromMade(practice ? inRealTime(made, this.host.clock) : made, {
      id: this.host.newId(),
      station: { ...this.host.profile(), dialFrequencyHz: this.host.dialFrequencyHz() },
      source: source.kind === 'none' || source.kind === 'starting' ? 'microphone' : source.kind,
      // Practice and air never count together.
      ...(activation?.practice === practice && { activation }),
      ...(knownName && { knownName }),
      ...(clockUncertaintyMs !== undefined && { clockUncertaintyMs }),
    })
    const { call, band, locator, name } = contact
    // What is heard now is compared with it, in the time of the practice band.
    const { startedUtcMs } = made
    // As the log tells it when it is asked.
    const mode = contact.submode ?? contact.mode
    this.host.set({
      workedPlaces: withPlace(workedPlaces, contact),
      worked: { ...worked, [call]: [{ call, band, mode, locator, name, startedUtcMs }, ...(worked[call] ?? [])] },
    })
    void this.host.keep(contact)
    return contact
  }
}

const withOne = (list: readonly string[], one: string | undefined) => (!one || list.includes(one) ? list : [...list, one])

function withPlace({ locators, entities }: WorkedPlaces, { call, locator }: Contact): WorkedPlaces {
  return { locators: withOne(locators, locator?.slice(0, 4).toUpperCase()), entities: withOne(entities, allocationOf(call)) }
}

/** A practice band keeps a time of its own, which may run fast: what is recorded happened when it was practised. */
function inRealTime(made: MadeContact, clock: StationClock): MadeContact {
  return {
    ...made,
    startedUtcMs: clock.realUtcAt(made.startedUtcMs),
    endedUtcMs: clock.realUtcAt(made.endedUtcMs),
    evidence: made.evidence.map((one) => ({ ...one, utcMs: clock.realUtcAt(one.utcMs) })),
  }
}
