import type { Dialect, RadioMode, CatCommand } from './dialect'
import { scaleMeter } from './dialect'
import { hexBytes, matchTemplate, renderTemplate, type FieldValues } from './template'

/** One thing asked of the radio. */
export interface CatRequest {
  command: CatCommand
  frequencyHz?: number
  mode?: RadioMode
}

/** What is known of the radio; null is not known. Power and level control are shares of their full scale. */
export interface RadioReadings {
  frequencyHz: number | null
  mode: string | null
  keyed: boolean | null
  power: number | null
  swr: number | null
  alc: number | null
}

interface Sent {
  request: CatRequest
  sentMs: number
  polled: boolean
}

export interface CatState {
  dialect: Dialect
  readings: RadioReadings
  /** Sent and not yet answered, oldest first. */
  pending: readonly Sent[]
  queue: readonly CatRequest[]
  /** Bytes that are no whole frame yet. */
  buffer: readonly number[]
  lastReplyMs: number | null
  /** When something was last understood that was not asked for, or came too late. */
  unaskedMs: number | null
  /** Polls in a row without an answer. */
  missed: number
  polled: number
  nextPollMs: number
  /** Whether we key it: meters are read then, and faster. */
  keyedByUs: boolean
}

export type CatEvent =
  | { type: 'bytes'; bytes: Uint8Array; nowMs: number }
  | { type: 'request'; request: CatRequest; nowMs: number }
  /** The radio is keyed by another line than this one, or no longer: its meters are read meanwhile. */
  | { type: 'keyed'; on: boolean; nowMs: number }
  | { type: 'tick'; nowMs: number }

export type CatAction =
  | { type: 'write'; bytes: Uint8Array }
  /** Sent after each answer to a request of ours, not to a poll. */
  | { type: 'done'; request: CatRequest; error?: string }
  /** A meter or frequency was read. */
  | { type: 'read'; command: CatCommand }

const POLL_MS = 500
const METER_POLL_MS = 120
/** What lies around of a broken answer is thrown away beyond this. */
const LONGEST_BUFFER = 512
const RECEIVE_POLLS: readonly CatCommand[] = ['readFrequency', 'readMode']
const KEYED_POLLS: readonly CatCommand[] = ['readSwr', 'readPower', 'readSwr', 'readAlc']

export function createCatSession(dialect: Dialect, nowMs: number): CatState {
  return {
    dialect,
    readings: { frequencyHz: null, mode: null, keyed: null, power: null, swr: null, alc: null },
    pending: [],
    queue: [],
    buffer: [],
    lastReplyMs: null,
    unaskedMs: null,
    missed: 0,
    polled: 0,
    nextPollMs: nowMs,
    keyedByUs: false,
  }
}

/** Whether the radio has answered lately. */
export const catAnswers = (state: CatState): boolean => state.lastReplyMs !== null && state.missed < 3

/**
 * A conversation with a radio as a pure machine: it polls, one question at a time; keying goes out at once, whatever was
 * asked before, so that no poll delays it.
 */
export function reduceCat(state: CatState, event: CatEvent): [CatState, CatAction[]] {
  switch (event.type) {
    case 'bytes':
      return take(state, event.bytes, event.nowMs)
    case 'request': {
      const { request } = event
      if (!state.dialect.send[request.command])
        return [state, [{ type: 'done', request, error: `The command set "${state.dialect.data.name}" has no command for it.` }]]
      if (request.command === 'keyOn' || request.command === 'keyOff')
        return send(nowKeyed(state, request.command === 'keyOn', event.nowMs), request, false, event.nowMs)
      return next({ ...state, queue: [...state.queue, request] }, event.nowMs)
    }
    case 'keyed':
      return [assume(nowKeyed(state, event.on, event.nowMs), { command: event.on ? 'keyOn' : 'keyOff' }), []]
    case 'tick':
      return tick(state, event.nowMs)
  }
}

function nowKeyed(state: CatState, keyedByUs: boolean, nowMs: number): CatState {
  return { ...state, keyedByUs, polled: 0, nextPollMs: nowMs + METER_POLL_MS }
}

function send(state: CatState, request: CatRequest, polled: boolean, nowMs: number): [CatState, CatAction[]] {
  const { dialect } = state
  const values: FieldValues = {
    ...(request.frequencyHz !== undefined && { frequency: request.frequencyHz }),
    ...(request.mode !== undefined && { mode: request.mode }),
  }
  let bytes: Uint8Array
  try {
    bytes = renderTemplate(dialect.send[request.command]!, values, dialect.context)
  } catch (error) {
    return [state, [{ type: 'done', request, error: (error as Error).message }]]
  }
  const write: CatAction = { type: 'write', bytes }
  if (!dialect.reply[request.command]) return [assume(state, request), polled ? [write] : [write, { type: 'done', request }]]
  return [{ ...state, pending: [...state.pending, { request, sentMs: nowMs, polled }] }, [write]]
}

/** What was ordered is taken as so until it is read. */
function assume(state: CatState, { command, frequencyHz, mode }: CatRequest): CatState {
  const readings = { ...state.readings }
  if (command === 'setFrequency' && frequencyHz !== undefined) readings.frequencyHz = frequencyHz
  if (command === 'setMode' && mode !== undefined) readings.mode = mode
  if (command === 'keyOn') readings.keyed = true
  if (command === 'keyOff') Object.assign(readings, { keyed: false, power: null, swr: null, alc: null })
  return { ...state, readings }
}

/** Sends the next thing that waits, if nothing is under way. */
function next(state: CatState, nowMs: number): [CatState, CatAction[]] {
  const [request, ...queue] = state.queue
  if (!request || state.pending.length > 0) return [state, []]
  return send({ ...state, queue }, request, false, nowMs)
}

function tick(state: CatState, nowMs: number): [CatState, CatAction[]] {
  const actions: CatAction[] = []
  let current = state
  const overdue = current.pending.filter((p) => nowMs - p.sentMs > current.dialect.data.replyMs)
  if (overdue.length > 0) {
    for (const { request, polled } of overdue) if (!polled) actions.push({ type: 'done', request, error: 'The radio did not answer.' })
    current = { ...current, pending: current.pending.filter((p) => !overdue.includes(p)), buffer: [], missed: current.missed + 1 }
  }
  const [sent, more] = next(current, nowMs)
  actions.push(...more)
  current = sent
  if (current.pending.length > 0 || nowMs < current.nextPollMs) return [current, actions]
  const polls = (current.keyedByUs ? KEYED_POLLS : RECEIVE_POLLS).filter((command) => current.dialect.send[command])
  current = { ...current, nextPollMs: nowMs + (current.keyedByUs ? METER_POLL_MS : POLL_MS) }
  if (polls.length === 0) return [current, actions]
  const command = polls[current.polled % polls.length]!
  const [asked, writes] = send({ ...current, polled: current.polled + 1 }, { command }, true, nowMs)
  return [asked, [...actions, ...writes]]
}

function take(state: CatState, bytes: Uint8Array, nowMs: number): [CatState, CatAction[]] {
  let current: CatState = { ...state, buffer: [...state.buffer, ...bytes].slice(-LONGEST_BUFFER) }
  const actions: CatAction[] = []
  for (;;) {
    const cut = cutFrame(current)
    if (!cut) break
    current = { ...current, buffer: cut.rest }
    if (!cut.frame) break
    const [after, more] = answer(current, cut.frame, nowMs)
    current = after
    actions.push(...more)
  }
  const [sent, more] = next(current, nowMs)
  return [sent, [...actions, ...more]]
}

interface Cut {
  frame: number[] | undefined
  rest: number[]
}

/** The first whole frame in the buffer, by the structure of the dialect. */
function cutFrame({ dialect, buffer, pending }: CatState): Cut | undefined {
  const { structure, terminator, preamble, end } = dialect.data
  if (structure === 'ascii') {
    const at = buffer.indexOf(terminator!.charCodeAt(0))
    return at < 0 ? undefined : { frame: buffer.slice(0, at + 1), rest: buffer.slice(at + 1) }
  }
  if (structure === 'framed') {
    const [head, tail] = [hexBytes(preamble!), hexBytes(end!)]
    const start = indexOf(buffer, head, 0)
    if (start < 0) {
      const keep = head.length - 1
      return buffer.length > keep ? { frame: undefined, rest: buffer.slice(-keep || buffer.length) } : undefined
    }
    // A preamble may be longer than it has to be.
    let from = start
    while (indexOf(buffer, head, from + 1) === from + 1) from++
    const stop = indexOf(buffer, tail, from + head.length)
    if (stop < 0) return undefined
    return { frame: buffer.slice(from, stop + tail.length), rest: buffer.slice(stop + tail.length) }
  }
  const length = pending[0] && dialect.reply[pending[0].request.command]!.length
  if (length === undefined) return buffer.length > 0 ? { frame: undefined, rest: [] } : undefined
  return buffer.length < length ? undefined : { frame: buffer.slice(0, length), rest: buffer.slice(length) }
}

function indexOf(buffer: readonly number[], wanted: readonly number[], from: number): number {
  for (let at = from; at + wanted.length <= buffer.length; at++) if (wanted.every((byte, i) => buffer[at + i] === byte)) return at
  return -1
}

function answer(state: CatState, frame: number[], nowMs: number): [CatState, CatAction[]] {
  const { dialect, pending } = state
  const heard: CatState = { ...state, lastReplyMs: nowMs, missed: 0 }
  for (const sent of pending) {
    const { request, polled } = sent
    const values = matchTemplate(dialect.reply[request.command]!, frame, dialect.context)
    if (!values) continue
    const known = apply(assume({ ...heard, pending: pending.filter((p) => p !== sent) }, request), request.command, values)
    return [known, polled ? [{ type: 'read', command: request.command }] : [{ type: 'done', request }]]
  }
  if (dialect.rejected.some((template) => matchTemplate(template, frame, dialect.context))) {
    const [first, ...others] = pending
    if (!first) return [heard, []]
    const refused: CatAction[] = first.polled ? [] : [{ type: 'done', request: first.request, error: 'The radio refused it.' }]
    return [{ ...heard, pending: others }, refused]
  }
  // A radio may say by itself that its dial was turned or that it is keyed; a late answer looks the same, so neither counts as an answer.
  for (const command of [...RECEIVE_POLLS, 'readKeyed'] as const) {
    const template = dialect.data.structure === 'fixed' ? undefined : dialect.reply[command]
    const values = template && matchTemplate(template, frame, dialect.context)
    if (values) return [apply({ ...state, unaskedMs: nowMs }, command, values), [{ type: 'read', command }]]
  }
  // Our own words come back on a one-wire bus; anything else is garble.
  return [state, []]
}

function apply(state: CatState, command: CatCommand, { frequency, mode, value, keyed }: FieldValues): CatState {
  const readings = { ...state.readings }
  const { meters, keyedWhen } = state.dialect.data
  if (frequency !== undefined) readings.frequencyHz = frequency
  if (mode !== undefined) readings.mode = mode
  if (keyed !== undefined) readings.keyed = keyedWhen.includes(keyed)
  if (value !== undefined) {
    if (command === 'readPower') readings.power = scaleMeter(meters.power, value) ?? null
    if (command === 'readSwr') readings.swr = scaleMeter(meters.swr, value) ?? null
    if (command === 'readAlc') readings.alc = scaleMeter(meters.alc, value) ?? null
  }
  return { ...state, readings }
}
