import { z } from 'zod'

/** Kinds of source, with what each knows of its own errors (95 % half-widths; see docs/protocols.md). */
const CLOCK_SOURCE_KINDS = ['gps', 'network', 'server', 'watch', 'band', 'hand'] as const
export type ClockSourceKind = (typeof CLOCK_SOURCE_KINDS)[number]

export const CLOCK_KIND_WORDS: Record<ClockSourceKind, string> = {
  gps: 'GPS',
  network: 'Network time',
  server: 'Field computer',
  watch: 'Watch',
  band: 'The band',
  hand: 'By hand',
}

/** Before this was written there was no Zeptik: a source that names an earlier time is wrong. */
export const EARLIEST_UTC_MS = Date.UTC(2024, 0, 1)
export const LATEST_UTC_MS = Date.UTC(2090, 0, 1)

/**
 * One statement of a source: at this monotonic instant it was this time.
 * The error has two parts: one that differs from reading to reading, and one that all readings of the source share
 * (a receiver's own delay, unequal ways through a network, a crowd's common habit), which no averaging removes.
 */
export const clockReadingSchema = z.object({
  /** Which source, unique and lasting, such as "gps:udp" or "network:time.example". */
  source: z.string().min(1).max(120),
  kind: z.enum(CLOCK_SOURCE_KINDS),
  label: z.string().max(120),
  monotonicMs: z.number().finite(),
  utcMs: z.number().finite(),
  /** 95 % half-width of the part that differs each time. */
  randomMs: z.number().finite().min(0),
  /** 95 % half-width of the part that stays. */
  biasMs: z.number().finite().min(0),
  /** Over how long the evidence was gathered before `monotonicMs`; readings that overlap are one piece of evidence. */
  windowMs: z.number().finite().min(0),
  /** Why it should not be followed, in words; absent when it may be. */
  doubt: z.string().max(200).optional(),
})
export type ClockReading = z.infer<typeof clockReadingSchema>
