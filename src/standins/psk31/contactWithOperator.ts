import { contactFacts, isSure, sureValue, whoSays } from '@/core/psk31'
import type { Psk31Operator } from './operators'
import { answerTo, askAgain, askCall, askWho, sayGoodbye, tellAll } from './talk'

/** How far an invented operator has come with the real one. */
export interface ContactWithOperator {
  me: Psk31Operator
  /** The operator's call, once it was copied. */
  call?: string
  name?: string
  /** `called`: we answered their CQ. `told`: they have our report. `ended`: 73 was said. */
  stage: 'new' | 'called' | 'told' | 'ended'
  asked: number
}

export const startContact = (me: Psk31Operator): ContactWithOperator => ({ me, stage: 'new', asked: 0 })

/** Answers an operator's CQ. */
export function answerCq(me: Psk31Operator, call: string): [ContactWithOperator, string] {
  return [{ me, call, stage: 'called', asked: 0 }, answerTo(call, me)]
}

/**
 * What is said to an over of the operator, from what was copied of it.
 * @returns the state after it, and the answer; none when there is nothing to say
 */
export function answerOver(contact: ContactWithOperator, copied: string, report: string): [ContactWithOperator, string | undefined] {
  const { me, asked } = contact
  const facts = contactFacts({ text: copied }, me.call)
  const from = facts.call?.value ?? whoSays(copied).from
  const call = from && from !== me.call ? from : contact.call
  const told = { name: sureValue(facts.name), report: sureValue(facts.report) }
  const known = { ...contact, ...(call && { call }), ...(told.name && { name: told.name.toLowerCase() }) }
  const again = (words: string): [ContactWithOperator, string | undefined] =>
    asked >= me.patience ? [{ ...known, stage: 'ended' }, undefined] : [{ ...known, asked: asked + 1 }, words]
  if (!call) return again(askWho(me))
  // A call that was copied in two ways, or only once and badly, is asked for.
  if (contact.call === undefined && facts.call && !isSure(facts.call)) return again(askCall(me, facts.call.value))
  const other = { call, ...(known.name && { name: known.name }), report }
  if (contact.stage === 'ended') return [known, undefined]
  if (contact.stage === 'new') return [{ ...known, stage: 'told' }, tellAll(me, other)]
  if (!told.report) return /\b(73|SK)\b/i.test(copied) ? [{ ...known, stage: 'ended' }, sayGoodbye(me, other)] : again(askAgain(me, call))
  if (contact.stage === 'called') return [{ ...known, stage: 'told' }, tellAll(me, other)]
  return [{ ...known, stage: 'ended' }, sayGoodbye(me, other)]
}
