import { z } from 'zod'

const satelliteSchema = z.object({
  id: z.number(),
  talker: z.string().max(2),
  elevationDeg: z.number().nullable(),
  azimuthDeg: z.number().nullable(),
  /** Carrier to noise density in dB-Hz; null when not tracked. */
  snrDbHz: z.number().nullable(),
  used: z.boolean(),
})
export type SatelliteStatus = z.infer<typeof satelliteSchema>

/** What is known of a receiver at one moment. Monotonic times are those of whoever listens. */
export const gpsStatusSchema = z.object({
  accepted: z.number(),
  rejected: z.number(),
  badChecksums: z.number(),
  lastSentenceMs: z.number().nullable(),
  /** The last bytes, sentences or not. */
  lastBytesMs: z.number().nullable(),
  talkers: z.array(z.string()),
  utcMs: z.number().nullable(),
  fix: z.boolean(),
  satellitesUsed: z.number().nullable(),
  satellites: z.array(satelliteSchema),
  position: z.object({ latitudeDeg: z.number(), longitudeDeg: z.number(), altitudeM: z.number().nullable() }).nullable(),
  /** 8 characters. */
  locator: z.string().nullable(),
  trusted: z.boolean(),
  /** Why not, in words. */
  doubt: z.string().nullable(),
  /** What else is to be known of this receiver. */
  remarks: z.array(z.string()),
  jitterMs: z.number().nullable(),
  latestReason: z.string().nullable(),
  /** True when its sentences come without checksums, so that they must be accepted by the operator to be shown. */
  sendsNoChecksums: z.boolean(),
})
export type GpsStatus = z.infer<typeof gpsStatusSchema>
