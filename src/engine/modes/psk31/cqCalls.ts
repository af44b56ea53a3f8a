/** A CQ that is called several times, with pauses, until somebody answers. Pure: the runner sends and listens. */
export interface CqCalls {
  text: string
  pauseMs: number
  /** How often it is called at most, and how often it was. */
  of: number
  called: number
  /** When it is called next; undefined while it goes out. */
  nextUtcMs: number | undefined
}

export type CqEvent =
  | { type: 'sent'; nowUtcMs: number }
  /** Somebody is heard where we called. */
  | { type: 'heard' }
  | { type: 'tick'; nowUtcMs: number }

export type CqEnd = 'answered' | 'enough'

export const beginCq = (text: string, { tries, pauseMs }: { tries: number; pauseMs: number }): CqCalls => ({
  ...{ text, pauseMs, of: Math.max(1, tries), called: 1 },
  nextUtcMs: undefined,
})

/** @returns what it is after an event, whether it is called now, and why it has ended */
export function afterCq(cq: CqCalls, event: CqEvent): { cq?: CqCalls; call: boolean; ended?: CqEnd } {
  if (event.type === 'sent') return { cq: { ...cq, nextUtcMs: event.nowUtcMs + cq.pauseMs }, call: false }
  // While it goes out nothing is heard but our own.
  if (cq.nextUtcMs === undefined) return { cq, call: false }
  if (event.type === 'heard') return { call: false, ended: 'answered' }
  if (event.nowUtcMs < cq.nextUtcMs) return { cq, call: false }
  if (cq.called >= cq.of) return { call: false, ended: 'enough' }
  return { cq: { ...cq, called: cq.called + 1, nextUtcMs: undefined }, call: true }
}
