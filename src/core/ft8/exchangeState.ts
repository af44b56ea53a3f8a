import type { Evidence } from '../log/contact'
import type { Parity } from '../time/slots'
import type { CallerOrder, QueuedCaller } from './callerQueue'
import type { Ft8Decode } from './decode'
import type { Step } from './exchangeText'

/** How this station conducts its exchanges. */
export interface ExchangeManner {
  ownCall: string
  ownLocator: string
  finish: 'RR73' | 'RRR'
  /** What is said first to a station that calls CQ: who is here and where, or at once how it is heard. Default locator. */
  opening?: 'locator' | 'report'
  /** How often one step is sent without an answer before giving up. */
  maxTries: number
  /** How often CQ is sent without an answer. */
  maxCqTries: number
  /** How often CQ is called again by itself after a contact, once a person has begun calling. Default never. */
  cqAgain?: number
  cqWord?: string
  /** Who is taken of several that answer. Default the strongest. */
  callerOrder?: CallerOrder
}

/**
 * Where an exchange ended. `said` ends a free text sent on its own; `workingOther` means that they were heard working
 * another station, `contest` that they want the figures of a contest from this one, `unsendable` that no message holds a
 * report and both calls.
 */
export type EndReason = 'complete' | 'noAnswer' | 'workingOther' | 'contest' | 'unsendable' | 'stopped' | 'silenced' | 'said'

/** What an exchange knows while it is under way, and keeps when it has ended. */
export interface Underway {
  manner: ExchangeManner
  /** What is said next; `aside` is a free text alone. */
  step: Step | 'aside'
  txParity: Parity
  audioOffsetHz: number
  /** Transmissions of this step since something new was heard. */
  tries: number
  otherCall?: string
  otherLocator?: string
  reportSentDb?: number
  reportReceivedDb?: number
  /** The first slot in which anything of this contact was said or heard. */
  startedUtcMs?: number
  contactMade: boolean
  /** Sent and received, oldest first. */
  ladder: Evidence[]
  /** Other stations that call this one, in the order in which they would be taken. */
  queue: QueuedCaller[]
  /** True once the operator has put the queue in an order of their own. */
  arranged: boolean
  /** A free text that goes out once in the next own slot, before anything else. */
  aside?: string
  /** How often CQ may still be called again by itself; only where a person began by calling CQ. */
  cqLeft?: number
  /** The contact after which CQ is being called again, in case they did not hear its end. */
  previous?: Previous
  /** The slot whose answer has been acted upon already, from its first look. */
  answeredSlot?: number
}

/** What its end needs of a contact, to be said once more. */
export type Previous = Pick<Underway, 'otherCall' | 'otherLocator' | 'reportSentDb' | 'reportReceivedDb' | 'startedUtcMs' | 'ladder'>

/** An ended exchange may be asked for its last words again. */
export interface Ended extends Underway {
  reason: EndReason
  endedUtcMs?: number
  /** They repeat themselves: what would have to be said once more. */
  asksAgain?: 'roger' | 'seventyThree'
  /** A free text for which there was no slot any more. */
  unsaid?: string
}

export type ExchangeState = { phase: 'idle' } | ({ phase: 'underway' } & Underway) | ({ phase: 'ended' } & Ended)

/** Answers and calls are begun by a person alone. */
export type ExchangeEvent =
  | { type: 'answer'; manner: ExchangeManner; decode: Ft8Decode; slotIndex: number; slotUtcMs: number; audioOffsetHz: number }
  /** Goes on with an exchange that broke off, with what is known from it; `decode` is what they said last. */
  | { type: 'resume'; unfinished: Unfinished; decode: Ft8Decode; slotIndex: number; slotUtcMs: number; audioOffsetHz: number }
  | { type: 'callCq'; manner: ExchangeManner; txParity: Parity; audioOffsetHz: number }
  /** Sends a free text once: within an exchange before its next step, else on its own. */
  | { type: 'say'; manner: ExchangeManner; text: string; txParity: Parity; audioOffsetHz: number }
  /** Says the last words of an ended exchange once more. */
  | { type: 'again' }
  /** `early` is the first look at a slot: what is missing in it may still be found. */
  | { type: 'heard'; slotIndex: number; slotUtcMs: number; decodes: readonly Ft8Decode[]; early?: boolean }
  | { type: 'sent'; slotIndex: number; slotUtcMs: number; text: string; complete: boolean }
  /** The operator's own order of who waits; calls not named follow. */
  | { type: 'arrange'; calls: readonly string[] }
  | { type: 'stop' }
  | { type: 'silence' }

/** What a completed exchange leaves for the log. */
export interface MadeContact {
  call: string
  locator?: string
  reportSentDb?: number
  reportReceivedDb?: number
  audioOffsetHz: number
  startedUtcMs: number
  endedUtcMs: number
  evidence: Evidence[]
}

export type ExchangeEffect = { type: 'contactMade'; contact: MadeContact }

/** An exchange that broke off with something worth keeping: it can be taken up again. */
export type Unfinished = Underway & { otherCall: string; endedUtcMs: number }

/** Whether silence means that it is complete: our RR73 has been sent, and what is next goes out only if they ask again. */
export function isWaitingForTheirEnd(state: ExchangeState): boolean {
  return state.phase === 'underway' && state.contactMade && state.step === 'roger' && state.manner.finish === 'RR73' && state.tries > 0
}

const MOST_LADDER = 60

export function addToLadder(ladder: readonly Evidence[], entry: Evidence): Evidence[] {
  return [...ladder, entry].slice(-MOST_LADDER)
}

export function toEvidence(decode: Ft8Decode, slotUtcMs: number): Evidence {
  const { text, snrDb, timeOffsetS, frequencyHz } = decode
  return { utcMs: slotUtcMs, direction: 'heard', text, snrDb, timeOffsetS, frequencyHz }
}

/** What goes to the log. */
export function toContact(x: Underway, endedUtcMs: number): ExchangeEffect {
  return {
    type: 'contactMade',
    contact: {
      call: x.otherCall!,
      ...(x.otherLocator && { locator: x.otherLocator }),
      ...(x.reportSentDb !== undefined && { reportSentDb: x.reportSentDb }),
      ...(x.reportReceivedDb !== undefined && { reportReceivedDb: x.reportReceivedDb }),
      audioOffsetHz: x.audioOffsetHz,
      startedUtcMs: x.startedUtcMs ?? endedUtcMs,
      endedUtcMs: Math.max(endedUtcMs, x.startedUtcMs ?? endedUtcMs),
      evidence: x.ladder,
    },
  }
}
