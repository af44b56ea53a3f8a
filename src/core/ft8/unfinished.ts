import { z } from 'zod'
import { evidenceSchema } from '../log/contact'
import { CALLER_ORDERS } from './callerQueue'
import type { Ft8Decode } from './decode'
import { sameStation } from './baseCall'
import { addToLadder, toContact, toEvidence, type ExchangeState, type MadeContact, type Unfinished } from './exchangeState'

/** Fading may hold for long, but whoever has not been heard for half an hour works with other evidence. */
const KEPT_MS = 30 * 60_000
const MOST_KEPT = 20

const call = z.string().min(3).max(20)
const report = z.number().int().min(-50).max(50).optional()

/** One that was kept outside: what comes back is looked at before it is believed. */
export const unfinishedSchema = z.object({
  manner: z.object({
    ownCall: call,
    ownLocator: z.string().max(8),
    finish: z.enum(['RR73', 'RRR']),
    opening: z.enum(['locator', 'report']).optional(),
    maxTries: z.int().min(1).max(20),
    maxCqTries: z.int().min(1).max(60),
    cqAgain: z.int().min(0).max(20).optional(),
    cqWord: z.string().max(4).optional(),
    callerOrder: z.enum(CALLER_ORDERS).optional(),
  }),
  step: z.enum(['locator', 'report', 'rogerReport', 'roger', 'seventyThree']),
  txParity: z.enum(['even', 'odd']),
  audioOffsetHz: z.number().min(0).max(6000),
  tries: z.int().min(0).max(1000),
  otherCall: call,
  otherLocator: z.string().max(8).optional(),
  reportSentDb: report,
  reportReceivedDb: report,
  startedUtcMs: z.number().finite().optional(),
  contactMade: z.literal(false),
  ladder: z.array(evidenceSchema).max(200),
  queue: z.array(z.never()),
  arranged: z.literal(false),
  endedUtcMs: z.number().finite(),
})

/** What is worth keeping of an exchange that ended without a contact: something was heard of them to us. */
export function unfinishedFrom(state: ExchangeState, nowUtcMs: number): Unfinished | undefined {
  if (state.phase !== 'ended' || state.contactMade || state.reason === 'contest' || state.reason === 'unsendable' || !state.otherCall)
    return undefined
  const { manner, otherCall } = state
  const toUs = state.ladder.some(
    (entry) => entry.direction === 'heard' && sameStation(entry.text.split(' ')[0]!.replace(/[<>]/g, ''), manner.ownCall),
  )
  if (!toUs) return undefined
  const { phase: _phase, reason: _reason, asksAgain: _asks, unsaid: _unsaid, cqLeft: _left, previous: _previous, ...rest } = state
  return { ...rest, otherCall, queue: [], arranged: false, endedUtcMs: state.endedUtcMs ?? nowUtcMs }
}

/** When they were last heard; own tries to take it up, which stayed without an answer, do not count. */
function lastHeardUtcMs({ ladder, endedUtcMs }: Unfinished): number {
  const last = ladder.findLast((entry) => entry.direction === 'heard')
  return last?.utcMs ?? endedUtcMs
}

/** Adds one to those kept, newest first, one for each station; the old are let go. */
export function keepUnfinished(kept: readonly Unfinished[], added: Unfinished | undefined, nowUtcMs: number): Unfinished[] {
  const isFresh = (u: Unfinished) => nowUtcMs - lastHeardUtcMs(u) <= KEPT_MS
  const others = kept.filter((u) => isFresh(u) && u.otherCall !== added?.otherCall)
  if (added && isFresh(added)) return [added, ...others].slice(0, MOST_KEPT)
  return others.length === kept.length ? (kept as Unfinished[]) : others
}

/**
 * A contact that is completed by what was heard after it had been given up: they roger our report although we had
 * stopped sending it. Nothing needs to be sent for that.
 * @param decodes of one slot
 */
export function finishedByEvidence(unfinished: Unfinished, decodes: readonly Ft8Decode[], slotUtcMs: number): MadeContact | undefined {
  if (unfinished.reportReceivedDb === undefined) return undefined
  const rogered = decodes.find(
    ({ message }) =>
      message.kind === 'standard' &&
      sameStation(message.from, unfinished.otherCall) &&
      sameStation(message.to, unfinished.manner.ownCall) &&
      (message.info.kind === 'RR73' || message.info.kind === 'RRR' || message.info.kind === '73'),
  )
  if (!rogered) return undefined
  const ladder = addToLadder(unfinished.ladder, toEvidence(rogered, slotUtcMs))
  return toContact({ ...unfinished, ladder }, slotUtcMs).contact
}
