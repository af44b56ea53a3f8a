import type { Psk31Doing, Turn } from '@/core/psk31'

/** A conversation as it is shown among the others. */
export interface ConversationView {
  channel: number
  frequencyHz: number
  snrDb: number
  doing: Psk31Doing
  /** The end of what was read, for the running line, and which of it the waveform alone does not carry. */
  tail: string
  tailFaint: readonly Span[]
  /** The call after the last "de", and whom it spoke to. */
  from?: string
  to?: string
  /** Whether anybody was called, and whether we were. */
  cq: boolean
  toMe: boolean
  turn?: Turn
  lastUtcMs: number
}

/** From one character up to another, without it. */
export type Span = readonly [from: number, to: number]

/** A line of the conversation in focus. */
export interface TranscriptLine {
  utcMs: number
  mine: boolean
  text: string
  /** What of it was read by what people write, and is not carried by what was received alone. */
  faint?: readonly Span[]
}

/** What goes to the log of the conversation in focus; what is not known is empty. */
export interface ContactDraft {
  call: string
  name: string
  place: string
  locator: string
  reportSent: string
  reportReceived: string
}

export const emptyDraft: ContactDraft = { call: '', name: '', place: '', locator: '', reportSent: '', reportReceived: '' }

/** The conversation in focus. */
export interface FocusView {
  /** Undefined on a free frequency, or when it is no longer heard. */
  channel?: number
  /** Where we send. */
  frequencyHz: number
  transcript: readonly TranscriptLine[]
  draft: ContactDraft
  /** Fields that the operator has filled in: what is read does not change them. */
  byHand: readonly (keyof ContactDraft)[]
  startedUtcMs: number
  /** When it went into the log. */
  loggedUtcMs?: number
}

/** Our over. */
export type OverView =
  | { phase: 'none' }
  | {
      phase: 'sending' | 'ending'
      /** What is out, and what waits. */
      sent: string
      waiting: string
      /** When it must have ended. */
      mustEndUtcMs: number
    }

/** What PSK31 adds to the station's state. Plain data. */
export interface Psk31State {
  /** By frequency, so that none moves under the finger. */
  conversations: readonly ConversationView[]
  focus: FocusView | undefined
  over: OverView
}

export const initialPsk31State: Psk31State = { conversations: [], focus: undefined, over: { phase: 'none' } }
