import { z } from 'zod'
import type { Baud, CopyTrouble, ExerciseId, Fading, Linearity, Psk31Doing, Turn, Unread } from '@/core/psk31'

/** What is told of a signal beside its text. */
export interface SignalView {
  /** In Hz a second. */
  driftHzS?: number
  fading?: Fading
  /** How well the phases of its symbols agree, from 0 to 1. */
  steadiness: number
  linearity?: Linearity
}

/** A conversation as it is shown among the others. */
export interface ConversationView {
  channel: number
  frequencyHz: number
  snrDb: number
  doing: Psk31Doing
  /** Symbols a second, when it is one of the faster members of the family. */
  fasterBaud?: Baud
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
  /** What who speaks has told of itself. */
  told: { name?: string; place?: string; locator?: string }
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
  /** Where something stands in it that goes to the log. */
  told?: readonly { what: FactField; from: number; to: number }[]
}

/** What is read out of text for the log. */
export type FactField = 'call' | 'name' | 'place' | 'locator' | 'reportReceived'

/** What was read, and what speaks for it. */
export interface FactView {
  value: string
  /** How often it was read so, of how often it was sent. */
  times: number
  of: number
  /** How likely it is right, from 0 to 1. */
  sure: number
}

/** What goes to the log of the conversation in focus; what is not known is empty. */
const draftField = z.string().max(60)
export const contactDraftSchema = z.object({
  call: draftField,
  name: draftField,
  place: draftField,
  locator: draftField,
  reportSent: draftField,
  reportReceived: draftField,
})
export type ContactDraft = z.infer<typeof contactDraftSchema>

export const emptyDraft: ContactDraft = { call: '', name: '', place: '', locator: '', reportSent: '', reportReceived: '' }

const DRAFT_FIELDS = ['call', 'name', 'place', 'locator', 'reportSent', 'reportReceived'] as const

/** A contact that was begun and is not in the log. What comes back from where it was kept is looked at before it is believed. */
export const unfinishedContactSchema = z.object({
  id: z.string().max(60),
  /** On the practice band: what was begun there is not gone on with on the air. */
  practice: z.boolean(),
  frequencyHz: z.number().min(0).max(6000),
  draft: contactDraftSchema,
  byHand: z.array(z.enum(DRAFT_FIELDS)).max(6),
  startedUtcMs: z.number().finite(),
  leftUtcMs: z.number().finite(),
  /** What was said, for evidence. */
  lines: z.array(z.object({ utcMs: z.number().finite(), mine: z.boolean(), text: z.string().max(4000) })).max(60),
})
export type UnfinishedContact = z.infer<typeof unfinishedContactSchema>

/** The conversation in focus. */
export interface FocusView {
  /** Undefined on a free frequency, or when it is no longer heard. */
  channel?: number
  /** Where they are. */
  frequencyHz: number
  /** Their speed, when it is one of the faster ones: we answer in the same. */
  fasterBaud?: Baud
  /** Where we send, when it is elsewhere. */
  sendHz?: number
  /** A clearer place near it, where others are in the way. */
  clearHz?: number
  transcript: readonly TranscriptLine[]
  draft: ContactDraft
  /** Fields that the operator has filled in: what is read does not change them. */
  byHand: readonly (keyof ContactDraft)[]
  facts: Partial<Record<FactField, FactView>>
  /** What is told of their signal. */
  signal?: SignalView & { snrDb: number }
  /** They do not copy us: what was lost, and the words that say it again. */
  trouble?: CopyTrouble & { again: string }
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

/** A CQ that is called again. */
export interface CqView {
  called: number
  of: number
  /** When it is called next; undefined while it goes out. */
  nextUtcMs?: number
}

/** What PSK31 adds to the station's state. Plain data. */
export interface Psk31State {
  /** By frequency, so that none moves under the finger. */
  conversations: readonly ConversationView[]
  focus: FocusView | undefined
  over: OverView
  cq: CqView | undefined
  /** When the own call went out last, and when anything did. */
  identified: { callUtcMs?: number; sentUtcMs?: number }
  /** Contacts that were begun and left, newest first. */
  begun: readonly UnfinishedContact[]
  /** How full the band is, by frequency, in dB over its noise. */
  occupancy: readonly number[]
  /** What is heard and not read here. */
  unread: readonly Unread[]
  /** Exercises of the practice band that were done. */
  exercises: readonly ExerciseId[]
}

export const initialPsk31State: Psk31State = {
  conversations: [],
  focus: undefined,
  over: { phase: 'none' },
  cq: undefined,
  identified: {},
  begun: [],
  occupancy: [],
  unread: [],
  exercises: [],
}
