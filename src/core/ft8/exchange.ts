import type { Evidence } from '../log/contact'
import { otherParity, parityOf, type Parity } from '../time/slots'
import type { Ft8Decode } from './decode'
import { wordStep, type Step } from './exchangeText'

/** How this station conducts its exchanges. */
export interface ExchangeManner {
  ownCall: string
  ownLocator: string
  finish: 'RR73' | 'RRR'
  /** How often one step is sent without an answer before giving up. */
  maxTries: number
  /** How often CQ is sent without an answer. */
  maxCqTries: number
  cqWord?: string
}

/** Where an exchange ended. */
export type EndReason = 'complete' | 'noAnswer' | 'workingOther' | 'stopped' | 'silenced'

interface Underway {
  manner: ExchangeManner
  step: Step
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
  /** Said and heard, oldest first. */
  ladder: Evidence[]
  /** Other stations that called during the exchange. */
  offers: string[]
}

export type ExchangeState = { phase: 'idle' } | ({ phase: 'underway' } & Underway) | ({ phase: 'ended'; reason: EndReason } & Underway)

export type ExchangeEvent =
  | { type: 'answer'; manner: ExchangeManner; decode: Ft8Decode; slotIndex: number; slotUtcMs: number; audioOffsetHz: number }
  | { type: 'callCq'; manner: ExchangeManner; txParity: Parity; audioOffsetHz: number }
  | { type: 'heard'; slotIndex: number; slotUtcMs: number; decodes: readonly Ft8Decode[] }
  | { type: 'sent'; slotIndex: number; slotUtcMs: number; text: string; complete: boolean }
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

const MOST_LADDER = 60

/** What will be sent in the next slot of the own parity, or undefined when nothing will. */
export function nextTransmission(state: ExchangeState): { text: string; step: Step; parity: Parity; audioOffsetHz: number } | undefined {
  if (state.phase !== 'underway') return undefined
  return { text: textOf(state), step: state.step, parity: state.txParity, audioOffsetHz: state.audioOffsetHz }
}

function textOf(x: Underway, step: Step = x.step): string {
  return wordStep({
    step,
    ownCall: x.manner.ownCall,
    ownLocator: x.manner.ownLocator,
    finish: x.manner.finish,
    ...(x.otherCall && { otherCall: x.otherCall }),
    ...(x.reportSentDb !== undefined && { reportDb: x.reportSentDb }),
    ...(x.manner.cqWord && { cqWord: x.manner.cqWord }),
  })
}

/** Reports are whole decibels within what a message can hold. */
function reportFor(snrDb: number): number {
  return Math.max(-30, Math.min(30, Math.round(snrDb)))
}

/**
 * The exchange as a pure machine: what was heard and sent goes in, what to send next and contacts made come out.
 * A person starts it; it goes on by itself to the end or until its tries run out, and never turns to another station.
 */
export function reduceExchange(state: ExchangeState, event: ExchangeEvent): [ExchangeState, ExchangeEffect[]] {
  switch (event.type) {
    case 'answer':
      return startAnswer(event)
    case 'callCq':
      return [
        {
          phase: 'underway',
          manner: event.manner,
          step: 'cq',
          txParity: event.txParity,
          audioOffsetHz: event.audioOffsetHz,
          tries: 0,
          contactMade: false,
          ladder: [],
          offers: [],
        },
        [],
      ]
    case 'heard':
      return state.phase === 'underway' ? hear(state, event) : [state, []]
    case 'sent':
      return state.phase === 'underway' ? afterSending(state, event) : [state, []]
    case 'stop':
      return [state.phase === 'underway' ? { ...state, phase: 'ended', reason: state.contactMade ? 'complete' : 'stopped' } : state, []]
    case 'silence':
      return [state.phase === 'underway' ? { ...state, phase: 'ended', reason: state.contactMade ? 'complete' : 'silenced' } : state, []]
  }
}

function toEvidence(decode: Ft8Decode, slotUtcMs: number): Evidence {
  const { text, snrDb, timeOffsetS, frequencyHz } = decode
  return { utcMs: slotUtcMs, direction: 'heard', text, snrDb, timeOffsetS, frequencyHz }
}

function addToLadder(ladder: Evidence[], entry: Evidence): Evidence[] {
  return [...ladder, entry].slice(-MOST_LADDER)
}

function startAnswer(event: Extract<ExchangeEvent, { type: 'answer' }>): [ExchangeState, ExchangeEffect[]] {
  const { message } = event.decode
  const call = message.kind === 'standard' || message.kind === 'contest' ? message.from : undefined
  if (!call) return [{ phase: 'idle' }, []]
  const locator = message.kind === 'standard' && message.info.kind === 'locator' ? message.info.locator : undefined
  const start: Underway = {
    manner: event.manner,
    step: 'locator',
    txParity: otherParity(parityOf(event.slotIndex)),
    audioOffsetHz: event.audioOffsetHz,
    tries: 0,
    otherCall: call,
    ...(locator && { otherLocator: locator }),
    reportSentDb: reportFor(event.decode.snrDb),
    startedUtcMs: event.slotUtcMs,
    contactMade: false,
    ladder: [toEvidence(event.decode, event.slotUtcMs)],
    offers: [],
  }
  const toMe = message.kind === 'standard' && message.to === event.manner.ownCall
  if (toMe) return respond(start, event.decode, event.slotUtcMs)
  return [{ phase: 'underway', ...start }, []]
}

function hear(
  state: { phase: 'underway' } & Underway,
  event: Extract<ExchangeEvent, { type: 'heard' }>,
): [ExchangeState, ExchangeEffect[]] {
  // In the slots in which this station transmits it hears nothing that is meant for it.
  if (parityOf(event.slotIndex) === state.txParity) return [state, []]
  const standard = event.decodes.filter((d) => d.message.kind === 'standard' && d.message.from && d.message.from !== state.manner.ownCall)
  const toMe = standard.filter((d) => d.message.kind === 'standard' && d.message.to === state.manner.ownCall)
  const fromOf = (d: Ft8Decode) => (d.message.kind === 'standard' ? d.message.from! : '')

  let underway: Underway = state
  if (!state.otherCall) {
    const answers = [...toMe].sort((a, b) => b.snrDb - a.snrDb)
    const chosen = answers[0]
    if (!chosen) return giveUpIfTired(state)
    underway = {
      ...state,
      otherCall: fromOf(chosen),
      reportSentDb: reportFor(chosen.snrDb),
      startedUtcMs: event.slotUtcMs,
      ladder: addToLadder(state.ladder, toEvidence(chosen, event.slotUtcMs)),
      offers: answers.slice(1).map(fromOf),
    }
    return respond(underway, chosen, event.slotUtcMs)
  }

  const others = toMe.map(fromOf).filter((call) => call !== state.otherCall && !state.offers.includes(call))
  if (others.length > 0) underway = { ...underway, offers: [...underway.offers, ...others] }
  const reply = toMe.find((d) => fromOf(d) === state.otherCall)
  if (reply) {
    underway = { ...underway, ladder: addToLadder(underway.ladder, toEvidence(reply, event.slotUtcMs)) }
    return respond(underway, reply, event.slotUtcMs)
  }
  const elsewhere = standard.find((d) => fromOf(d) === state.otherCall)
  if (elsewhere) {
    underway = { ...underway, ladder: addToLadder(underway.ladder, toEvidence(elsewhere, event.slotUtcMs)) }
    if (underway.contactMade) return [{ ...underway, phase: 'ended', reason: 'complete' }, []]
    if (elsewhere.message.kind === 'standard' && elsewhere.message.to) return [{ ...underway, phase: 'ended', reason: 'workingOther' }, []]
  }
  // After RR73 has been sent once, silence means that it was heard.
  if (underway.contactMade && underway.step === 'roger' && underway.manner.finish === 'RR73' && underway.tries > 0)
    return [{ ...underway, phase: 'ended', reason: 'complete' }, []]
  return giveUpIfTired({ ...underway, phase: 'underway' })
}

function giveUpIfTired(state: { phase: 'underway' } & Underway): [ExchangeState, ExchangeEffect[]] {
  const limit = state.step === 'cq' ? state.manner.maxCqTries : state.manner.maxTries
  if (state.tries < limit) return [state, []]
  return [{ ...state, phase: 'ended', reason: state.contactMade ? 'complete' : 'noAnswer' }, []]
}

/** Moves on according to what the other station said to this one. */
function respond(x: Underway, decode: Ft8Decode, utcMs: number): [ExchangeState, ExchangeEffect[]] {
  if (decode.message.kind !== 'standard') return [{ phase: 'underway', ...x }, []]
  const { info } = decode.message
  const go = (step: Step, more: Partial<Underway> = {}): Underway => ({ ...x, ...more, step, tries: step === x.step ? x.tries : 0 })
  switch (info.kind) {
    case 'nothing':
    case 'locator': {
      const locator = info.kind === 'locator' ? { otherLocator: info.locator } : {}
      // Heard again after the report was sent, it means that the report was not copied: the same step is repeated.
      return giveUpIfTired({ phase: 'underway', ...go('report', locator) })
    }
    case 'report': {
      const received = { reportReceivedDb: info.reportDb }
      const reportWasSent = x.ladder.some((entry) => entry.direction === 'sent' && /[+-]\d\d$/.test(entry.text))
      if (info.roger && reportWasSent) return giveUpIfTired({ phase: 'underway', ...go('roger', received) })
      return giveUpIfTired({ phase: 'underway', ...go('rogerReport', received) })
    }
    case 'RRR':
    case 'RR73': {
      if (x.reportReceivedDb === undefined) return [{ phase: 'underway', ...x }, []]
      const next = go('seventyThree')
      if (x.contactMade) {
        // Repeated because the 73 was not heard: once more, within the tries.
        return giveUpIfTired({ phase: 'underway', ...next })
      }
      return [{ phase: 'underway', ...next, contactMade: true }, [contactMade(next, utcMs)]]
    }
    case '73': {
      if (x.contactMade) return [{ ...x, phase: 'ended', reason: 'complete' }, []]
      if (x.reportReceivedDb === undefined) return [{ phase: 'underway', ...x }, []]
      return [{ ...x, phase: 'ended', reason: 'complete', contactMade: true }, [contactMade(x, utcMs)]]
    }
  }
}

function afterSending(
  state: { phase: 'underway' } & Underway,
  event: Extract<ExchangeEvent, { type: 'sent' }>,
): [ExchangeState, ExchangeEffect[]] {
  const entry: Evidence = { utcMs: event.slotUtcMs, direction: 'sent', text: event.text, frequencyHz: state.audioOffsetHz }
  const underway: Underway = { ...state, tries: state.tries + 1, ladder: addToLadder(state.ladder, entry) }
  if (!event.complete) return [{ phase: 'underway', ...underway }, []]
  const endMs = event.slotUtcMs + 15_000
  if (state.step === 'roger' && !state.contactMade) {
    return [{ phase: 'underway', ...underway, contactMade: true }, [contactMade(underway, endMs)]]
  }
  if (state.step === 'seventyThree') return [{ ...underway, phase: 'ended', reason: 'complete' }, []]
  return [{ phase: 'underway', ...underway }, []]
}

function contactMade(x: Underway, endedUtcMs: number): ExchangeEffect {
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

/** Says how an exchange stands, in one sentence. */
export function describeExchange(state: ExchangeState): string {
  if (state.phase === 'idle') return 'No exchange. Choose a station to answer, or call CQ.'
  const who = state.otherCall ?? 'anyone'
  if (state.phase === 'underway') {
    const limit = state.step === 'cq' ? state.manner.maxCqTries : state.manner.maxTries
    return state.step === 'cq'
      ? `Calling CQ, ${state.tries} of ${limit} sent`
      : `With ${who}, try ${Math.min(state.tries + 1, limit)} of ${limit}`
  }
  switch (state.reason) {
    case 'complete':
      return `Contact with ${who} is complete and in the log.`
    case 'noAnswer':
      return state.otherCall ? `${who} did not answer ${state.tries} times: stopped.` : `Nobody answered ${state.tries} calls: stopped.`
    case 'workingOther':
      return `${who} is working another station: stopped. Answer again when they are free.`
    case 'stopped':
      return `Exchange with ${who} stopped by you.`
    case 'silenced':
      return `Silenced. The exchange with ${who} was cut off.`
  }
}
