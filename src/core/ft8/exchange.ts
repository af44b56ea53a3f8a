import { otherParity, parityOf } from '../time/slots'
import { sameStation } from './baseCall'
import { orderCallers, queueCallers, type QueuedCaller } from './callerQueue'
import type { Ft8Decode } from './decode'
import {
  addToLadder,
  isWaitingForTheirEnd,
  toContact,
  toEvidence,
  type EndReason,
  type Ended,
  type ExchangeEffect,
  type ExchangeEvent,
  type ExchangeManner,
  type ExchangeState,
  type Underway,
} from './exchangeState'
import { canExchangeReports } from './exchangeText'
import { SLOT_MS } from './signal'
import { finishedByEvidence, unfinishedFrom } from './unfinished'

type Going = { phase: 'underway' } & Underway
type Result = [ExchangeState, ExchangeEffect[]]

/**
 * The exchange as a pure machine: what was heard and sent goes in, what to send next and contacts made come out.
 * A person starts it; it goes on by itself to the end or until its tries run out, and never turns to another station.
 */
export function reduceExchange(state: ExchangeState, event: ExchangeEvent): Result {
  const [next, effects] = reduce(state, event)
  const byItself = state.phase === 'underway' && (event.type === 'heard' || event.type === 'sent')
  return [byItself ? calledAgain(next) : next, effects]
}

/**
 * After a contact CQ is called again, as often as the person who began has said. Not while somebody waits: whom to answer is
 * for a person to say, and a CQ would go over them.
 */
function calledAgain(state: ExchangeState): ExchangeState {
  if (state.phase !== 'ended' || state.reason !== 'complete' || !state.cqLeft || state.queue.length > 0 || state.unsaid !== undefined)
    return state
  const { otherCall, otherLocator, reportSentDb, reportReceivedDb, startedUtcMs, ladder, txParity, audioOffsetHz } = state
  return {
    ...blank(state.manner, state),
    ...{ txParity, audioOffsetHz, cqLeft: state.cqLeft - 1 },
    previous: { otherCall, otherLocator, reportSentDb, reportReceivedDb, startedUtcMs, ladder },
  }
}

function reduce(state: ExchangeState, event: ExchangeEvent): Result {
  switch (event.type) {
    case 'answer':
      return startAnswer(state, event)
    case 'resume':
      return resume(state, event)
    case 'callCq':
      return [callCq(state, event), []]
    case 'say':
      return [say(state, event), []]
    case 'again':
      return [again(state), []]
    case 'heard':
      if (state.phase === 'underway') return hear(state, event)
      return state.phase === 'ended' ? hearAfterwards(state, event) : [state, []]
    case 'sent':
      return state.phase === 'underway' ? afterSending(state, event) : [state, []]
    case 'arrange':
      return [state.phase === 'idle' ? state : { ...state, queue: arrange(state.queue, event.calls), arranged: true }, []]
    case 'stop':
      return [state.phase === 'underway' ? end(state, 'stopped') : state, []]
    case 'silence':
      return [state.phase === 'underway' ? end(state, 'silenced') : state, []]
  }
}

function callCq(before: ExchangeState, { manner, txParity, audioOffsetHz }: Extract<ExchangeEvent, { type: 'callCq' }>): Going {
  return { ...blank(manner, before), txParity, audioOffsetHz, ...(manner.cqAgain && { cqLeft: manner.cqAgain }) }
}

/** A new exchange; who waited before it still waits. */
function blank(manner: ExchangeManner, before: ExchangeState): Going {
  const queue = before.phase === 'idle' ? [] : before.queue
  const arranged = before.phase !== 'idle' && before.arranged
  const rest = { tries: 0, contactMade: false, ladder: [] }
  return { phase: 'underway', manner, step: 'cq', txParity: 'even', audioOffsetHz: 0, ...rest, queue, arranged }
}

/** Ends it. Whatever made it end, a contact that was made is complete. */
function end(x: Going, reason: EndReason, utcMs?: number): ExchangeState {
  const { aside, ...kept } = x
  return {
    ...kept,
    phase: 'ended',
    reason: x.contactMade ? 'complete' : reason,
    ...(utcMs !== undefined && { endedUtcMs: utcMs }),
    ...(aside !== undefined && { unsaid: aside }),
  }
}

function arrange(queue: readonly QueuedCaller[], calls: readonly string[]): QueuedCaller[] {
  const named = calls.flatMap((call) => queue.filter((caller) => caller.call === call))
  return [...named, ...queue.filter((caller) => !calls.includes(caller.call))]
}

const fromOf = ({ message }: Ft8Decode) => (message.kind === 'standard' || message.kind === 'contest' ? message.from : undefined)
const isTo = ({ message }: Ft8Decode, call: string) => message.kind === 'standard' && sameStation(message.to, call)
/** Who says 73, RR73 or RRR is at the end of something, and calls nobody. */
const isParting = ({ message }: Ft8Decode) =>
  message.kind === 'standard' && (message.info.kind === '73' || message.info.kind === 'RR73' || message.info.kind === 'RRR')

/** Reports are whole decibels within what a message can hold. */
function reportFor(snrDb: number): number {
  return Math.max(-30, Math.min(30, Math.round(snrDb)))
}

function startAnswer(before: ExchangeState, event: Extract<ExchangeEvent, { type: 'answer' }>): Result {
  const { message } = event.decode
  const call = fromOf(event.decode)
  if (!call) return [{ phase: 'idle' }, []]
  const start = blank(event.manner, before)
  const waiting = start.queue.find((caller) => caller.call === call)
  const locator = message.kind === 'standard' && message.info.kind === 'locator' ? message.info.locator : waiting?.locator
  const going: Going = {
    ...start,
    step: event.manner.opening === 'report' ? 'report' : 'locator',
    txParity: otherParity(parityOf(event.slotIndex)),
    audioOffsetHz: event.audioOffsetHz,
    otherCall: call,
    ...(locator && { otherLocator: locator }),
    reportSentDb: reportFor(event.decode.snrDb),
    startedUtcMs: event.slotUtcMs,
    // Who is taken out of those that answered the CQ belongs to the same round of calling.
    ...(waiting && before.phase !== 'idle' && before.cqLeft && { cqLeft: before.cqLeft }),
    ladder: [toEvidence(event.decode, event.slotUtcMs)],
    queue: start.queue.filter((caller) => caller !== waiting),
  }
  if (!canExchangeReports(event.manner.ownCall, call)) return [end(going, 'unsendable', event.slotUtcMs), []]
  return isTo(event.decode, event.manner.ownCall) ? respond(going, event.decode, event.slotUtcMs) : [going, []]
}

function resume(before: ExchangeState, event: Extract<ExchangeEvent, { type: 'resume' }>): Result {
  const { unfinished, decode } = event
  const { endedUtcMs: _ended, answeredSlot: _answered, ...known } = unfinished
  const { queue, arranged } = blank(unfinished.manner, before)
  const going: Going = {
    ...known,
    phase: 'underway',
    txParity: otherParity(parityOf(event.slotIndex)),
    audioOffsetHz: event.audioOffsetHz,
    tries: 0,
    queue: queue.filter((caller) => !sameStation(caller.call, unfinished.otherCall)),
    arranged,
  }
  const said = { ...going, ladder: addToLadder(going.ladder, toEvidence(decode, event.slotUtcMs)) }
  if (isTo(decode, unfinished.manner.ownCall)) return respond(said, decode, event.slotUtcMs)
  return [said, []]
}

function say(state: ExchangeState, event: Extract<ExchangeEvent, { type: 'say' }>): ExchangeState {
  if (state.phase === 'underway') return { ...state, aside: event.text }
  const { manner, text, txParity, audioOffsetHz } = event
  return { ...blank(manner, state), step: 'aside', aside: text, txParity, audioOffsetHz }
}

function again(state: ExchangeState): ExchangeState {
  if (state.phase !== 'ended' || !state.asksAgain) return state
  const { reason: _reason, endedUtcMs: _ended, unsaid: _unsaid, asksAgain, ...known } = state
  return { ...known, phase: 'underway', step: asksAgain, tries: 0 }
}

function hear(state: Going, event: Extract<ExchangeEvent, { type: 'heard' }>): Result {
  const { slotIndex, slotUtcMs, decodes } = event
  // In the slots in which this station transmits it hears nothing that is meant for it.
  if (parityOf(slotIndex) === state.txParity) return [state, []]
  const { ownCall } = state.manner
  const toMe = decodes.filter((d) => d.message.kind === 'standard' && fromOf(d) && !sameStation(fromOf(d), ownCall) && isTo(d, ownCall))
  const isOther = (d: Ft8Decode) => sameStation(fromOf(d), state.otherCall)
  const answered = state.answeredSlot === slotIndex
  if (event.early) {
    // Only an answer that is there already; what is not may come with the second look.
    const reply = toMe.find(isOther)
    return reply && !answered ? takeReply({ ...state, answeredSlot: slotIndex }, reply, slotUtcMs) : [state, []]
  }

  const callers = toMe.filter((d) => !isOther(d) && !isParting(d))
  const queue = inOrder(state, queueCallers(state.queue, callers, slotIndex))
  const going: Going = { ...state, queue }
  if (!state.otherCall) {
    const missed = state.previous && toMe.find((d) => asksForRoger(d) && sameStation(fromOf(d), state.previous!.otherCall))
    if (missed) return [sayEndAgain(going, missed, slotUtcMs), []]
    const chosen =
      state.step === 'cq' ? queue.find((caller) => caller.slotIndex === slotIndex && canExchangeReports(ownCall, caller.call)) : undefined
    if (!chosen) return giveUpIfTired(going, slotUtcMs)
    return takeReply(
      {
        ...going,
        otherCall: chosen.call,
        ...(chosen.locator && { otherLocator: chosen.locator }),
        reportSentDb: reportFor(chosen.decode.snrDb),
        startedUtcMs: slotUtcMs,
        queue: queue.filter((caller) => caller !== chosen),
      },
      chosen.decode,
      slotUtcMs,
    )
  }
  if (answered) return [going, []]
  const reply = toMe.find(isOther)
  if (reply) return takeReply(going, reply, slotUtcMs)

  const elsewhere = decodes.find(isOther)
  if (elsewhere) {
    const noted: Going = { ...going, ladder: addToLadder(going.ladder, toEvidence(elsewhere, slotUtcMs)) }
    const { message } = elsewhere
    const busy = 'to' in message && message.to
    // What a contest wants instead of a report is not sent from here, and to go on calling would be in its way.
    const reason = message.kind === 'contest' && sameStation(message.to, ownCall) ? 'contest' : 'workingOther'
    if (noted.contactMade || busy) return [end(noted, reason, slotUtcMs), []]
    return giveUpIfTired(noted, slotUtcMs)
  }
  // After RR73 has been sent once, silence means that it was heard.
  if (isWaitingForTheirEnd(going)) return [end(going, 'complete', slotUtcMs), []]
  return giveUpIfTired(going, slotUtcMs)
}

const asksForRoger = ({ message }: Ft8Decode) =>
  message.kind === 'standard' && message.info.kind === 'report' && message.info.roger === true

/** Whoever did not hear our roger is given it before CQ goes on. */
function sayEndAgain({ previous, ...calling }: Going, decode: Ft8Decode, slotUtcMs: number): Going {
  const ladder = addToLadder(previous!.ladder, toEvidence(decode, slotUtcMs))
  const queue = calling.queue.filter((caller) => !sameStation(caller.call, previous!.otherCall))
  return { ...calling, ...previous, step: 'roger', tries: 0, contactMade: true, ladder, queue }
}

function inOrder(x: Underway, queue: QueuedCaller[]): QueuedCaller[] {
  return x.arranged ? queue : orderCallers(queue, x.manner.callerOrder ?? 'strongest', x.manner.ownLocator)
}

function takeReply(state: Going, reply: Ft8Decode, slotUtcMs: number): Result {
  return respond({ ...state, ladder: addToLadder(state.ladder, toEvidence(reply, slotUtcMs)) }, reply, slotUtcMs)
}

/** After the end: others may go on calling, what they say may complete it after all, or they did not hear our last words. */
function hearAfterwards(state: { phase: 'ended' } & Ended, event: Extract<ExchangeEvent, { type: 'heard' }>): Result {
  if (event.early) return [state, []]
  const { slotIndex, slotUtcMs, decodes } = event
  const { ownCall } = state.manner
  const toMe = decodes.filter((d) => fromOf(d) && !sameStation(fromOf(d), ownCall) && isTo(d, ownCall))
  const callers = toMe.filter((d) => !sameStation(fromOf(d), state.otherCall) && !isParting(d))
  const next = { ...state, queue: inOrder(state, queueCallers(state.queue, callers, slotIndex)) }
  const unfinished = unfinishedFrom(state, slotUtcMs)
  const late = unfinished && finishedByEvidence(unfinished, toMe, slotUtcMs)
  if (late) return [{ ...next, contactMade: true, reason: 'complete', ladder: late.evidence }, [{ type: 'contactMade', contact: late }]]
  const repeated = toMe.find((d) => sameStation(fromOf(d), state.otherCall))
  if (!repeated || !state.contactMade || repeated.message.kind !== 'standard') return [next, []]
  const { info } = repeated.message
  if (info.kind === 'report' && info.roger) return [{ ...next, asksAgain: 'roger' }, []]
  if (info.kind === 'RR73' || info.kind === 'RRR') return [{ ...next, asksAgain: 'seventyThree' }, []]
  return [next, []]
}

function giveUpIfTired(state: Going, utcMs: number): Result {
  const limit = state.step === 'cq' ? state.manner.maxCqTries : state.manner.maxTries
  return [state.tries < limit ? state : end(state, 'noAnswer', utcMs), []]
}

/** Moves on according to what the other station said to this one. */
function respond(x: Going, decode: Ft8Decode, utcMs: number): Result {
  if (decode.message.kind !== 'standard') return [x, []]
  const { info } = decode.message
  const go = (step: Underway['step'], more: Partial<Underway> = {}): Going => ({
    ...x,
    ...more,
    step,
    tries: step === x.step ? x.tries : 0,
  })
  switch (info.kind) {
    case 'nothing':
    case 'locator': {
      const locator = info.kind === 'locator' ? { otherLocator: info.locator } : {}
      // Heard again after the report was sent, it means that the report was not copied: the same step is repeated.
      return giveUpIfTired(go('report', locator), utcMs)
    }
    case 'report': {
      const received = { reportReceivedDb: info.reportDb }
      const reportWasSent = x.ladder.some((entry) => entry.direction === 'sent' && /[+-]\d\d$/.test(entry.text))
      if (info.roger && reportWasSent) return giveUpIfTired(go('roger', received), utcMs)
      return giveUpIfTired(go('rogerReport', received), utcMs)
    }
    case 'RRR':
    case 'RR73': {
      if (x.reportReceivedDb === undefined) return giveUpIfTired(x, utcMs)
      const next = go('seventyThree')
      // Repeated because the 73 was not heard: once more, within the tries.
      if (x.contactMade) return giveUpIfTired(next, utcMs)
      return [{ ...next, contactMade: true }, [toContact(next, utcMs)]]
    }
    case '73': {
      if (x.contactMade) return [end(x, 'complete', utcMs), []]
      if (x.reportReceivedDb === undefined) return giveUpIfTired(x, utcMs)
      return [end({ ...x, contactMade: true }, 'complete', utcMs), [toContact(x, utcMs)]]
    }
  }
}

function afterSending(state: Going, event: Extract<ExchangeEvent, { type: 'sent' }>): Result {
  const endMs = event.slotUtcMs + SLOT_MS
  const ladder = addToLadder(state.ladder, {
    utcMs: event.slotUtcMs,
    direction: 'sent',
    text: event.text,
    frequencyHz: state.audioOffsetHz,
  })
  if (state.aside !== undefined && event.text === state.aside) {
    const { aside: _aside, ...rest } = state
    const after: Going = { ...rest, ladder }
    return [state.step === 'aside' ? end(after, 'said', endMs) : after, []]
  }
  const going: Going = { ...state, tries: state.tries + 1, ladder }
  if (!event.complete) return [going, []]
  if (state.step === 'roger' && !state.contactMade) return [{ ...going, contactMade: true }, [toContact(going, endMs)]]
  // 73 is said once.
  if (state.step === 'seventyThree') return [end(going, 'complete', endMs), []]
  return [going, []]
}
