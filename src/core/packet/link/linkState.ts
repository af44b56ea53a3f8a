import type { LinkFrame, Modulo } from './linkFrame'

/** How a link is kept; times in milliseconds. */
export interface LinkSettings {
  /** Frames on the way at most, counted modulo 8 and modulo 128. */
  window: number
  wideWindow: number
  /** Bytes in a frame at most. */
  length: number
  /** N2: how often the same is tried. */
  tries: number
  /** T1 at the start, for no digipeater: how long an answer may take after the last frame has left. */
  answerMs: number
  /** T2: how long an acknowledgement may wait for more to acknowledge. */
  acknowledgeMs: number
  /** T3: after so long without a word an idle link is asked. */
  idleMs: number
  /** Digipeaters between the two. */
  hops: number
  /** On the air; with key-up it tells when a frame has left. */
  airBaud: number
  txDelayMs: number
  /** Whether version 2.2 is tried first. */
  wide: boolean
}

export const usualLinkSettings: LinkSettings = {
  window: 4,
  wideWindow: 16,
  length: 128,
  tries: 10,
  answerMs: 3000,
  acknowledgeMs: 1200,
  idleMs: 180_000,
  hops: 0,
  airBaud: 1200,
  txDelayMs: 300,
  wide: false,
}

export type LinkPhase = 'closed' | 'calling' | 'open' | 'closing'

/** A frame that has no acknowledgement yet. */
export interface SentSegment {
  info: Uint8Array
  /** When it has left, as far as can be told. */
  leftMs: number
  /** How often it was sent again. */
  again: number
}

export interface LinkCounters {
  sentBytes: number
  acknowledgedBytes: number
  receivedBytes: number
  sentFrames: number
  sentAgain: number
}

export interface LinkState {
  settings: LinkSettings
  phase: LinkPhase
  modulo: Modulo
  /** Frames can be asked for one by one: agreed on with this station. */
  selective: boolean
  /** The other side was asked what it can do; what is to be sent waits for that. */
  negotiating: boolean
  /** V(S) is `va` and what of `sent` is on the way; V(A); V(R). */
  vs: number
  va: number
  vr: number
  /** Waits to be sent for the first time. */
  waiting: readonly Uint8Array[]
  /** From V(A) on. */
  sent: readonly SentSegment[]
  /** Received ahead of others, by N(S). */
  early: readonly { ns: number; info: Uint8Array }[]
  /** Asked for one by one by the other side. */
  wanted: readonly number[]
  /** Sending again: the same was tried so often. */
  tries: number
  /** A frame went out to which an answer must come. */
  asked: boolean
  /** That was because nothing came for too long. */
  recovering: boolean
  /** Frames are missing here. */
  gap: boolean
  rejected: boolean
  acknowledgeDue: boolean
  theyAreBusy: boolean
  weAreBusy: boolean
  /** Ends when all is acknowledged. */
  ending: boolean
  /** Their frames carry no command bits. */
  isOld: boolean
  /** Frames on the way and bytes in one at most now, by what was lost lately. */
  window: number
  length: number
  /** Share of frames that are lost, by what was answered lately. */
  loss: number
  /** Frames whose counts cannot be. */
  nonsense: number
  /** When each timer ends; T1, T2, T3. */
  answerBy: number | undefined
  acknowledgeBy: number | undefined
  idleBy: number | undefined
  /** T1 as it was learned, and what it is learned from. */
  answerMs: number
  roundTripMs: number | undefined
  scatterMs: number
  /** When all that was given out will have left. */
  airFreeMs: number
  counters: LinkCounters
  /** Why it is closed, in words. */
  reason: string | undefined
}

export type LinkEvent =
  | { type: 'connect' }
  | { type: 'send'; bytes: Uint8Array }
  /** Ends it in order, when all is acknowledged. */
  | { type: 'disconnect' }
  /** Ends it at once. */
  | { type: 'cut'; why: string }
  /** What comes cannot be taken for a while. */
  | { type: 'busy'; busy: boolean }
  | { type: 'frame'; frame: LinkFrame }
  /** The channel was in use by others for so long: answers may be as much later. */
  | { type: 'channel'; busyMs: number }
  | { type: 'tick' }

export type LinkAction =
  | { type: 'transmit'; frame: LinkFrame; modulo: Modulo }
  | { type: 'deliver'; bytes: Uint8Array }
  | { type: 'opened'; by: 'us' | 'them' }
  /** `left` bytes have no acknowledgement. */
  | { type: 'closed'; reason: string; inOrder: boolean; left: number }
  | { type: 'retry'; attempt: number; of: number; reason: string }
  | { type: 'note'; words: string }

export function closedLink(settings: LinkSettings): LinkState {
  return {
    settings,
    phase: 'closed',
    modulo: 8,
    selective: false,
    negotiating: false,
    ...{ vs: 0, va: 0, vr: 0 },
    ...{ waiting: [], sent: [], early: [], wanted: [] },
    ...{ tries: 0, asked: false, recovering: false, gap: false, rejected: false, acknowledgeDue: false },
    ...{ theyAreBusy: false, weAreBusy: false, ending: false, isOld: false },
    ...{ window: settings.window, length: settings.length, loss: 0, nonsense: 0 },
    ...{ answerBy: undefined, acknowledgeBy: undefined, idleBy: undefined },
    answerMs: settings.answerMs * (2 * settings.hops + 1),
    ...{ roundTripMs: undefined, scatterMs: 0, airFreeMs: -Infinity },
    counters: { sentBytes: 0, acknowledgedBytes: 0, receivedBytes: 0, sentFrames: 0, sentAgain: 0 },
    reason: undefined,
  }
}

/** Bytes that have no acknowledgement yet. */
export const pendingBytes = ({ waiting, sent }: LinkState): number =>
  waiting.reduce((sum, bytes) => sum + bytes.length, 0) + sent.reduce((sum, { info }) => sum + info.length, 0)

/** The instant at which `tick` has something to do next. */
export function nextTickMs({ answerBy, acknowledgeBy, idleBy }: LinkState): number {
  return Math.min(answerBy ?? Infinity, acknowledgeBy ?? Infinity, idleBy ?? Infinity)
}
