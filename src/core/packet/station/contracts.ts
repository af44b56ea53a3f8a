import { z } from 'zod'

const callSchema = z
  .string()
  .trim()
  .toUpperCase()
  .regex(/^[A-Z0-9]{1,6}(-([0-9]|1[0-5]))?$/, 'A call has one to six letters and digits, and an SSID up to 15 behind a hyphen')
const pathSchema = z.array(callSchema).max(8, 'A path has at most 8 digipeaters')
const sessionIdSchema = z.number().int().min(1)

export const MOST_TYPED = 4000

/** What a person does with packet. `by` is the screen: while one holds the station, no other may send. */
export const packetActSchema = z.discriminatedUnion('act', [
  z.object({
    ...{ act: z.literal('connect'), by: z.string().max(60).optional(), peer: callSchema, via: pathSchema },
    /** Ways among what was heard are tried one after the other; `via` is not used then. */
    find: z.boolean().optional(),
    /** On a practice channel: its text is kept as such. */
    practice: z.boolean().optional(),
  }),
  z.object({ act: z.literal('type'), by: z.string().max(60).optional(), id: sessionIdSchema, text: z.string().max(MOST_TYPED) }),
  z.object({
    act: z.literal('unproto'),
    by: z.string().max(60).optional(),
    to: callSchema,
    via: pathSchema,
    text: z.string().min(1).max(256),
  }),
  /** The same text again and again, for so many times; and its end. */
  z.object({
    ...{ act: z.literal('beacon'), by: z.string().max(60).optional(), to: callSchema, via: pathSchema, text: z.string().min(1).max(256) },
    ...{ everyMin: z.number().int().min(2).max(120), times: z.number().int().min(1).max(60) },
  }),
  z.object({ act: z.literal('endBeacon') }),
  /** Whether others may connect to us, for so long; they are greeted with a line. */
  z.object({
    ...{ act: z.literal('accept'), by: z.string().max(60).optional(), minutes: z.number().int().min(1).max(240) },
    ...{ greeting: z.string().max(200), practice: z.boolean().optional() },
  }),
  z.object({ act: z.literal('endAccept') }),
  /** Looks for the shortest key-up time that a digipeater still copies; and its end. */
  z.object({ act: z.literal('findKeyUp'), by: z.string().max(60).optional(), digipeater: callSchema }),
  z.object({ act: z.literal('endKeyUp') }),
  z.object({ act: z.literal('disconnect'), by: z.string().max(60).optional(), id: sessionIdSchema }),
  z.object({ act: z.literal('cut'), id: sessionIdSchema }),
  z.object({ act: z.literal('dismiss'), id: sessionIdSchema }),
  /** The first-transmission check was made. */
  z.object({ act: z.literal('checked'), by: z.string().max(60).optional() }),
  z.object({ act: z.literal('silence') }),
])
export type PacketAct = z.infer<typeof packetActSchema>

/** What only ends something: open to every screen. */
export const endsOnly = (act: PacketAct): act is Exclude<PacketAct, { by?: string | undefined }> =>
  ['cut', 'dismiss', 'silence', 'endBeacon', 'endAccept', 'endKeyUp'].includes(act.act)

const lineSchema = z.object({
  sequence: z.number(),
  utcMs: z.number(),
  /** From them, from us, or something that happened. */
  way: z.enum(['in', 'out', 'note']),
  text: z.string(),
})
export type SessionLine = z.infer<typeof lineSchema>

const rungSchema = z.object({
  sequence: z.number(),
  utcMs: z.number(),
  way: z.enum(['in', 'out']),
  /** Such as "I P S3 R0". */
  what: z.string(),
  bytes: z.number(),
  state: z.enum(['heard', 'sent', 'waits', 'again', 'acknowledged']),
})
export type LadderFrame = z.infer<typeof rungSchema>

const sessionSchema = z.object({
  id: z.number(),
  own: z.string(),
  peer: z.string(),
  via: z.array(z.string()),
  by: z.enum(['us', 'them']),
  phase: z.enum(['closed', 'calling', 'open', 'closing']),
  beganUtcMs: z.number(),
  /** What it is doing, and why it waits. */
  words: z.string(),
  lines: z.array(lineSchema),
  ladder: z.array(rungSchema),
  pendingBytes: z.number(),
  sentBytes: z.number(),
  acknowledgedBytes: z.number(),
  receivedBytes: z.number(),
  sentFrames: z.number(),
  sentAgain: z.number(),
  window: z.number(),
  length: z.number(),
  modulo: z.number(),
  roundTripMs: z.number().nullable(),
})
export type SessionView = z.infer<typeof sessionSchema>

const heardSchema = z.object({
  call: z.string(),
  lastUtcMs: z.number(),
  /** The last digipeater that it came by; null when it was heard itself. */
  by: z.string().nullable(),
  frames: z.number(),
  /** What it said last to everybody. */
  text: z.string().nullable(),
})
export type HeardStation = z.infer<typeof heardSchema>

/** A frame on the channel, heard or sent. */
export const monitorFrameSchema = z.object({
  sequence: z.number(),
  utcMs: z.number(),
  way: z.enum(['in', 'out']),
  kind: z.string(),
  from: z.string(),
  to: z.string(),
  line: z.string(),
  hex: z.string(),
})
export type MonitorFrame = z.infer<typeof monitorFrameSchema>

/** What the server knows of packet. */
export const packetStateSchema = z.object({
  sessions: z.array(sessionSchema),
  heard: z.array(heardSchema),
  /** Why nothing could be sent now, and what a person can do about it. */
  refusal: z.object({ why: z.string(), need: z.string() }).nullable(),
  beacon: z
    .object({ to: z.string(), via: z.array(z.string()), text: z.string(), everyMin: z.number(), left: z.number(), nextUtcMs: z.number() })
    .extend({ problem: z.string().nullable() })
    .nullable(),
  /** The search for the shortest key-up time: what is tried now, or how it ended. */
  keyUp: z.object({ by: z.string(), nowMs: z.number(), sent: z.number(), repeated: z.number(), words: z.string().nullable() }).nullable(),
  txDelayMs: z.number(),
  /** Until when others may connect to us. */
  accepting: z.object({ untilUtcMs: z.number(), greeting: z.string() }).nullable(),
  /** Share of the last minutes in which frames were heard or sent. */
  busyShare: z.number(),
})
export type PacketState = z.infer<typeof packetStateSchema>

/** A session as it is kept: who, when, and all that was said. */
export const keptSessionSchema = z.object({
  id: z.uuid(),
  own: z.string(),
  peer: z.string(),
  via: z.array(z.string()),
  by: z.enum(['us', 'them']),
  practice: z.boolean(),
  beganUtcMs: z.number(),
  endedUtcMs: z.number(),
  lines: z.array(lineSchema),
})
export type KeptSession = z.infer<typeof keptSessionSchema>

/** Looks for words in kept sessions; without words the last ones. */
export const keptSessionsQuerySchema = z.object({
  words: z.string().trim().max(60).default(''),
  practice: z
    .enum(['true', 'false'])
    .default('false')
    .transform((value) => value === 'true'),
})
export type KeptSessionsQuery = z.infer<typeof keptSessionsQuerySchema>
