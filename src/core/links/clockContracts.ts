import { z } from 'zod'
import { gpsStatusSchema } from '../nmea/gpsStatus'
import { clockReadingSchema } from '../time/clockReading'
import { portNumberSchema } from './portChoice'

/** The port at which phones send NMEA over a network by custom. */
export const NMEA_NETWORK_PORT = 10_110

/** Who may send: this computer alone, or everybody in the network. */
const reachSchema = z.enum(['thisComputer', 'network'])
const receiverDelaySchema = z.number().min(0, 'A delay cannot be negative').max(2000, 'A receiver is not two seconds late').nullable()
/** Whether sentences without checksums are taken, which some receivers send; their time is never trusted. */
const acceptUncheckedSchema = z.boolean().optional()
const listenerSchema = z.object({
  enabled: z.boolean(),
  reach: reachSchema,
  port: portNumberSchema,
  receiverDelayMs: receiverDelaySchema,
  acceptUnchecked: acceptUncheckedSchema,
})
export type ListenerConfig = z.infer<typeof listenerSchema>

/** A host, with a port when it is not the usual one: a name, an IPv4 address, or an IPv6 address in brackets. */
export const timeHostSchema = z
  .string()
  .trim()
  .max(100)
  .regex(
    /^(\[[0-9a-fA-F:]{2,45}\]|[0-9A-Za-z]([0-9A-Za-z.-]*[0-9A-Za-z])?)(:\d{1,5})?$/,
    'A host name or address, with :port when it is not 123',
  )

/** Where the server looks for time. Nothing is on until someone turns it on. */
export const clockConfigSchema = z.object({
  udp: listenerSchema,
  tcp: listenerSchema,
  serial: z.object({
    enabled: z.boolean(),
    path: z.string().trim().max(200),
    /** null looks for the speed. */
    serialBaud: z.number().int().min(300).max(1_000_000).nullable(),
    receiverDelayMs: receiverDelaySchema,
    acceptUnchecked: acceptUncheckedSchema,
  }),
  network: z.object({
    hosts: z.array(timeHostSchema).max(6, 'Six servers are plenty'),
    /** Asks again every quarter of an hour. */
    automatic: z.boolean(),
  }),
})
export type ClockConfig = z.infer<typeof clockConfigSchema>

export const defaultClockConfig: ClockConfig = {
  udp: { enabled: false, reach: 'thisComputer', port: NMEA_NETWORK_PORT, receiverDelayMs: null },
  tcp: { enabled: false, reach: 'thisComputer', port: NMEA_NETWORK_PORT, receiverDelayMs: null },
  serial: { enabled: false, path: '', serialBaud: null, receiverDelayMs: null },
  network: { hosts: [], automatic: false },
}

const CLOCK_LINKS = ['serial', 'udp', 'tcp'] as const
export type ClockLink = (typeof CLOCK_LINKS)[number]

/** A receiver heard on one of the server's links. */
const heardReceiverSchema = z.object({ source: z.string(), label: z.string(), gps: gpsStatusSchema })

const linkStatusSchema = z.object({
  link: z.enum(CLOCK_LINKS),
  state: z.enum(['off', 'opening', 'searching', 'waiting', 'hearing', 'problem']),
  /** What is going on, or what is wrong and what to do. */
  detail: z.string(),
  serialBaud: z.number().nullable(),
  receivers: z.array(heardReceiverSchema),
  /** Bytes thrown away because too many came. */
  droppedBytes: z.number(),
})
export type LinkStatus = z.infer<typeof linkStatusSchema>

const hostStatusSchema = z.object({
  host: z.string(),
  ok: z.boolean(),
  detail: z.string(),
  roundTripMs: z.number().nullable(),
  uncertaintyMs: z.number().nullable(),
  monotonicMs: z.number(),
})
export type HostStatus = z.infer<typeof hostStatusSchema>

const standinWaySchema = z.enum(['udp', 'tcp', 'serial'])
export type StandinWay = z.infer<typeof standinWaySchema>
const standinSchema = z.object({ where: z.string(), faults: z.array(z.string()) })

/** What the server knows of time, in its own monotonic time. */
export const serverClockSchema = z.object({
  monotonicMs: z.number(),
  links: z.array(linkStatusSchema),
  network: z.object({ asking: z.boolean(), hosts: z.array(hostStatusSchema) }),
  /** Readings since the last message, numbered. */
  readings: z.array(z.object({ sequence: z.number(), reading: clockReadingSchema })),
  standins: z.object({ gps: standinSchema.extend({ way: standinWaySchema }).nullable(), time: standinSchema.nullable() }),
})
export type ServerClock = z.infer<typeof serverClockSchema>

/** The answer to a timed question of the browser. */
export const serverExchangeSchema = z.object({ receivedMonotonicMs: z.number(), repliedMonotonicMs: z.number(), wallUtcMs: z.number() })

export const serialPortSchema = z.object({ path: z.string(), name: z.string() })
export type SerialPortEntry = z.infer<typeof serialPortSchema>

/** How the practice stand-ins are to run. */
export const standinRequestSchema = z.object({
  gps: z
    .object({ way: standinWaySchema, faults: z.array(z.string().max(30)).max(12) })
    .nullable()
    .optional(),
  time: z
    .object({ faults: z.array(z.string().max(30)).max(12) })
    .nullable()
    .optional(),
})
export type StandinRequest = z.infer<typeof standinRequestSchema>

/** One point of the clock's history. */
export const clockHistorySchema = z.object({
  id: z.uuid(),
  utcMs: z.number().finite(),
  kind: z.enum(['reading', 'step', 'event']),
  source: z.string().max(120),
  label: z.string().max(120),
  /** How fast the timebase was by this source; for a step, by how much it was moved. */
  errorMs: z.number().finite().nullable(),
  uncertaintyMs: z.number().finite().nullable(),
  words: z.string().max(300),
})
export type ClockHistoryEntry = z.infer<typeof clockHistorySchema>
export const clockHistoryBatchSchema = z.array(clockHistorySchema).max(200)
