import type { PortChoice, SerialLines } from '@/core/links'

/** How a process that is not the server can unkey the radio: open the port, set its lines, write these bytes. */
export interface WayToUnkey {
  port: Extract<PortChoice, { kind: 'serial' | 'tcp' }>
  serialBaud: number
  bytes: Uint8Array
  lines?: SerialLines
}

/** What outlives the server while it keys a radio. */
export interface KeyMark {
  /** When a server before this one keyed the radio without unkeying it; undefined when none did. */
  found(): number | undefined
  /** Written before the radio is keyed, and safe when this returns. @param way undefined where nobody else can unkey it */
  set(utcMs: number, way: WayToUnkey | undefined): void
  /** The radio is known to receive. */
  clear(): void
}
