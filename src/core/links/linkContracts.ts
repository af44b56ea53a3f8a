import { z } from 'zod'
import { kissParametersSchema, usualKissParameters } from '../packet'
import { BUILT_IN_DIALECTS, RADIO_MODES } from './cat'
import { LINK_FAULTS, RUNGS } from './diagnose'
import { LONGEST_ASKED_MS } from './keyRight'
import { portChoiceSchema, samePort } from './portChoice'
import { hasSerialSpeed } from './portRelay'
import { problemOfStartLine } from './tncRevival'

const serialBaudSchema = z.number().int().min(300).max(1_000_000)
/** On-air speeds of packet: 300 on HF, 1200 on VHF, 9600 on UHF. Never the speed of a serial line. */
export const AIR_BAUDS = [300, 1200, 9600] as const

/** How the radio is keyed. `vox` needs nothing of the server. */
export const KEYING_WAYS = ['none', 'vox', 'cat', 'rts', 'dtr'] as const
export type KeyingWay = (typeof KEYING_WAYS)[number]

/** What the server is linked to. Nothing is opened until someone turns it on. */
export const linkConfigSchema = z
  .object({
    control: z.object({
      enabled: z.boolean(),
      port: portChoiceSchema.nullable(),
      serialBaud: serialBaudSchema,
      /** Built in, or one of the operator's own. */
      dialect: z.string().min(1, 'Choose a command set').max(40),
      radioAddress: z.number().int().min(0).max(255).nullable(),
    }),
    keying: z.object({
      by: z.enum(KEYING_WAYS),
      /** Of RTS and DTR; null uses the control port's lines. */
      path: z.string().trim().max(200).nullable(),
      /** The line is low while transmitting. */
      inverted: z.boolean(),
      leadMs: z.number().min(0, 'Not below 0').max(1000, 'At most 1000 ms'),
      tailMs: z.number().min(0, 'Not below 0').max(1000, 'At most 1000 ms'),
    }),
    /** Above this, transmission stops. */
    swrLimit: z.number().min(1.2, 'At least 1.2').max(10, 'At most 10'),
    tnc: z.object({
      enabled: z.boolean(),
      port: portChoiceSchema.nullable(),
      serialBaud: serialBaudSchema,
      airBaud: z.union(AIR_BAUDS.map((b) => z.literal(b)) as [z.ZodLiteral<300>, z.ZodLiteral<1200>, z.ZodLiteral<9600>]),
      parameters: kissParametersSchema,
      /** Typed at its prompt when it has been powered up, before it goes into KISS: what a flat memory battery lost. */
      startLines: z
        .array(
          z
            .string()
            .trim()
            .max(80, 'At most 80 letters')
            .superRefine((line, context) => {
              const problem = problemOfStartLine(line)
              if (problem) context.addIssue({ code: 'custom', message: problem })
            }),
        )
        .max(20, 'At most 20 lines')
        .default([]),
    }),
  })
  .superRefine((config, context) => {
    const problem = (path: string[], message: string) => context.addIssue({ code: 'custom', path, message })
    const { control, keying, tnc } = config
    if (control.enabled && !control.port) problem(['control', 'port'], 'Choose the port of the radio’s CAT control')
    if (control.port?.kind === 'browser' && control.port.by === 'modem')
      problem(['control', 'port'], 'The modem carries packet, not CAT control')
    if (keying.by === 'cat' && !control.enabled) problem(['keying', 'by'], 'Keying by control needs CAT control: turn it on')
    if ((keying.by === 'rts' || keying.by === 'dtr') && !keying.path && !(control.port && hasSerialSpeed(control.port)))
      problem(['keying', 'path'], 'RTS and DTR are lines of a serial port: choose it')
    if (tnc.enabled && !tnc.port) problem(['tnc', 'port'], 'Choose the port of the TNC')
    if (control.enabled && tnc.enabled && control.port && tnc.port && samePort(control.port, tnc.port))
      problem(['tnc', 'port'], 'Radio control and TNC cannot share one port')
    if (tnc.enabled && tnc.port?.kind === 'serial' && keying.path === tnc.port.path)
      problem(['keying', 'path'], 'The TNC holds this port, and keys by itself')
  })
export type LinkConfig = z.infer<typeof linkConfigSchema>

export const defaultLinkConfig: LinkConfig = {
  control: { enabled: false, port: null, serialBaud: 9600, dialect: BUILT_IN_DIALECTS[0]!.id, radioAddress: null },
  keying: { by: 'vox', path: null, inverted: false, leadMs: 100, tailMs: 50 },
  swrLimit: 2.5,
  tnc: { enabled: false, port: null, serialBaud: 9600, airBaud: 1200, parameters: usualKissParameters, startLines: [] },
}

export const TRIED_LINKS = ['control', 'tnc'] as const
export type TriedLink = (typeof TRIED_LINKS)[number]

const lineStateSchema = z.object({
  state: z.enum(['off', 'opening', 'open', 'talking', 'silent', 'problem']),
  detail: z.string(),
})

const fixSchema = z.object({ port: portChoiceSchema.optional(), serialBaud: z.number().optional() })
const rungSchema = z.object({
  rung: z.enum(RUNGS),
  status: z.enum(['waiting', 'testing', 'asking', 'good', 'bad', 'unsure', 'notNeeded']),
  tries: z.number(),
  evidence: z.string(),
  advice: z.string().optional(),
  question: z.string().optional(),
  code: z.enum(LINK_FAULTS).optional(),
  fix: fixSchema.optional(),
})
const diagnosisSchema = z.object({
  rungs: z.array(rungSchema),
  at: z.enum(RUNGS).nullable(),
  verdict: z
    .union([
      z.object({ ok: z.literal(true), words: z.string(), unsure: z.array(z.enum(RUNGS)) }),
      z.object({
        ok: z.literal(false),
        rung: z.enum(RUNGS),
        code: z.enum(LINK_FAULTS),
        evidence: z.string(),
        advice: z.string(),
        fix: fixSchema.optional(),
      }),
    ])
    .nullable(),
})

const frameSchema = z.object({
  sequence: z.number(),
  utcMs: z.number(),
  from: z.string(),
  to: z.string(),
  /** Digipeaters in order; `repeated` once it has sent the frame on. */
  via: z.array(z.object({ call: z.string(), repeated: z.boolean() })),
  /** All of that in one line, as monitors show it. */
  line: z.string(),
  kind: z.string(),
  text: z.string(),
})
export type HeardFrame = z.infer<typeof frameSchema>
const wireSchema = z.object({
  sequence: z.number(),
  link: z.enum(TRIED_LINKS),
  way: z.enum(['in', 'out']),
  hex: z.string(),
  text: z.string(),
})
export type WireEntry = z.infer<typeof wireSchema>

/** Why keying ended by itself; a person must go on from there. */
const alarmSchema = z.object({ sequence: z.number(), utcMs: z.number(), words: z.string() })

/** What the server knows of its links. */
export const linkStateSchema = z.object({
  control: lineStateSchema.extend({
    frequencyHz: z.number().nullable(),
    mode: z.string().nullable(),
    keyed: z.boolean().nullable(),
    power: z.number().nullable(),
    swr: z.number().nullable(),
    alc: z.number().nullable(),
    /** Whether its SWR can be read while it transmits. */
    swrMeter: z.boolean(),
  }),
  keying: z.object({
    by: z.enum(KEYING_WAYS),
    state: z.enum(['off', 'ready', 'keyed', 'problem']),
    detail: z.string(),
    /**
     * How it is known that the radio stopped: its state is read back; it only acknowledges; the key line drops with the port;
     * or nothing tells.
     */
    proof: z.enum(['readBack', 'acknowledged', 'line', 'none']),
    /** True while nobody knows whether the radio is keyed. */
    unknown: z.boolean(),
    leadMs: z.number(),
    tailMs: z.number(),
  }),
  tnc: lineStateSchema.extend({
    frames: z.array(frameSchema),
    badFrames: z.number(),
    /** Whether the modem of the holder's device takes its place. */
    modem: z.boolean(),
    airBaud: z.number(),
  }),
  diagnosis: z.object({ link: z.enum(TRIED_LINKS), now: diagnosisSchema }).nullable(),
  alarm: alarmSchema.nullable(),
  wire: z.array(wireSchema),
  standins: z.object({
    radio: z.object({ where: z.string(), port: z.number(), voice: z.string(), faults: z.array(z.string()) }).nullable(),
    tnc: z.object({ where: z.string(), port: z.number(), faults: z.array(z.string()) }).nullable(),
  }),
})
export type LinkState = z.infer<typeof linkStateSchema>

/** Keying, from the one gate. `alive` every half second keeps it on; without, it ends within two seconds. */
/** `by` is the screen that keys: while one holds the station, no other may. */
export const keyRequestSchema = z.discriminatedUnion('action', [
  z.object({
    action: z.literal('on'),
    id: z.string().max(60),
    acknowledged: z.number().int().min(0),
    by: z.string().max(60).optional(),
    /** What is sent lasts no longer than this; the server ends it then, whoever says that it lives. */
    longestMs: z.number().int().min(1000).max(LONGEST_ASKED_MS).optional(),
  }),
  z.object({ action: z.literal('alive'), id: z.string().max(60) }),
  z.object({ action: z.literal('off') }),
])
export type KeyRequest = z.infer<typeof keyRequestSchema>

export const radioRequestSchema = z.object({
  frequencyHz: z.number().int().min(100_000).max(2_000_000_000).optional(),
  mode: z.enum(RADIO_MODES).optional(),
})

export const diagnoseRequestSchema = z.discriminatedUnion('action', [
  z.object({ action: z.literal('start'), link: z.enum(TRIED_LINKS) }),
  z.object({ action: z.literal('answer'), rung: z.enum(RUNGS), answer: z.enum(['yes', 'no', 'unknown']) }),
  z.object({ action: z.literal('stop') }),
])
export type DiagnoseRequest = z.infer<typeof diagnoseRequestSchema>

const faultNames = z.array(z.string().max(30)).max(12)
export const linkStandinRequestSchema = z.object({
  radio: z
    .object({ voice: z.string().max(30), faults: faultNames })
    .nullable()
    .optional(),
  tnc: z.object({ faults: faultNames }).nullable().optional(),
})
export type LinkStandinRequest = z.infer<typeof linkStandinRequestSchema>
