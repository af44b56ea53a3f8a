import type { Parity } from '../time/slots'
import { isWaitingForTheirEnd, type ExchangeState, type Underway } from './exchangeState'
import { wordStep, type Step } from './exchangeText'

/** What will be sent in the next slot of the own parity, or undefined when nothing will. */
export function nextTransmission(
  state: ExchangeState,
): { text: string; step: Underway['step']; parity: Parity; audioOffsetHz: number } | undefined {
  if (state.phase !== 'underway') return undefined
  const place = { parity: state.txParity, audioOffsetHz: state.audioOffsetHz }
  if (state.aside !== undefined) return { text: state.aside, step: 'aside', ...place }
  return state.step === 'aside' ? undefined : { text: textOf(state, state.step), step: state.step, ...place }
}

function textOf(x: Underway, step: Step): string {
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

/** What is waited for after what is said now, and what would then be said; undefined when nothing follows. */
export function likelyNext(state: ExchangeState): { when: string; text: string | undefined } | undefined {
  if (state.phase !== 'underway') return undefined
  const text = (step: Step) => textOf(state, step)
  // What follows a complete contact by itself.
  const cq = state.cqLeft && state.queue.length === 0 ? text('cq') : undefined
  switch (state.step) {
    case 'aside':
      return undefined
    case 'cq':
      return { when: 'when someone answers', text: undefined }
    case 'locator':
      return { when: 'when they report', text: text('rogerReport') }
    case 'report':
      return { when: 'when they roger and report', text: text('roger') }
    case 'rogerReport':
      return { when: 'when they roger', text: text('seventyThree') }
    case 'roger':
      return { when: state.manner.finish === 'RR73' ? 'it is complete' : 'it is complete when they say 73', text: cq }
    case 'seventyThree':
      return { when: 'it is complete', text: cq }
  }
}

/** Says how an exchange stands, in one sentence; in two when a free text found no slot any more. */
export function describeExchange(state: ExchangeState): string {
  const unsaid = state.phase === 'ended' && state.unsaid !== undefined ? ` "${state.unsaid}" was not sent.` : ''
  return sentenceOf(state) + unsaid
}

function sentenceOf(state: ExchangeState): string {
  if (state.phase === 'idle') return 'Answer a station, or call CQ.'
  const who = state.otherCall ?? 'anyone'
  if (state.phase === 'underway') {
    if (state.step === 'aside') return 'Sending a free text once.'
    const limit = state.step === 'cq' ? state.manner.maxCqTries : state.manner.maxTries
    if (state.step === 'cq') return `Calling CQ, ${state.tries} of ${limit} sent${againWords(state.manner.cqAgain, state.cqLeft)}`
    if (isWaitingForTheirEnd(state)) return `Contact with ${who} is made; waiting for their 73.`
    return `With ${who}, try ${Math.min(state.tries + 1, limit)} of ${limit}`
  }
  switch (state.reason) {
    case 'complete':
      return `Contact with ${who} is complete and in the log.`
    case 'noAnswer':
      return state.otherCall
        ? `${who} did not answer ${state.tries === 1 ? 'one try' : `${state.tries} tries`}: stopped.`
        : `Nobody answered ${state.tries === 1 ? 'one call' : `${state.tries} calls`}: stopped.`
    case 'workingOther':
      return `${who} is working another station: stopped. Answer again when they are free.`
    case 'contest':
      return `${who} wants the figures of a contest, which Zeptik does not send: stopped.`
    case 'unsendable':
      return `${who} cannot be worked with ${state.manner.ownCall}: a message with a report holds one compound call, not two.`
    case 'stopped':
      return state.otherCall ? `Exchange with ${who} stopped by you.` : 'CQ stopped by you.'
    case 'silenced':
      return state.otherCall ? `Silenced. The exchange with ${who} was cut off.` : 'Silenced. CQ stopped.'
    case 'said':
      return 'The free text was sent.'
  }
}

const againWords = (of = 0, left = 0) =>
  of === 0 ? '' : left === 0 ? '; not again by itself after this' : `; again after a contact, ${left} more ${left === 1 ? 'time' : 'times'}`
