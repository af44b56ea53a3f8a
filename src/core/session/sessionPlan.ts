import { frequencyWords } from '../text/frequency'
import { MODE_IDS, MODES } from '../modes'
import { z } from 'zod'

const words = (longest: number) => z.string().trim().max(longest)
const frequency = z.number().int().positive().max(1e11).nullable()

/** What a stretch may be for: a mode by its name, or a pause. */
export const PLAN_MODES: readonly string[] = [...MODE_IDS.map((id) => MODES[id].name), 'Pause']

/** A stretch of the session: where to be, and in which mode. */
export const planBlockSchema = z
  .object({
    id: z.uuid(),
    startUtcMs: z.number().finite(),
    endUtcMs: z.number().finite(),
    dialFrequencyHz: frequency,
    mode: z.enum(PLAN_MODES as [string, ...string[]]),
    note: words(120),
  })
  .refine((b) => b.endUtcMs > b.startUtcMs, 'A stretch ends after it begins')
export type PlanBlock = z.infer<typeof planBlockSchema>

/** A net: at a time of a day of the week, again and again. */
export const netSchema = z.object({
  id: z.uuid(),
  name: words(60).min(1, 'A net has a name'),
  /** 0 for Sunday to 6, or null for every day. In UTC, as the time is. */
  weekday: z.int().min(0).max(6).nullable(),
  startMinute: z.int().min(0).max(1439),
  durationMin: z.int().min(5).max(720),
  frequencyHz: frequency,
  note: words(120),
})
export type Net = z.infer<typeof netSchema>

export const sessionPlanSchema = z.object({
  blocks: z.array(planBlockSchema).max(100).default([]),
  nets: z.array(netSchema).max(100).default([]),
  /** How long before a change it is mentioned. */
  noticeMin: z.int().min(0).max(60).default(5),
})
export type SessionPlan = z.infer<typeof sessionPlanSchema>

export const emptyPlan: SessionPlan = { blocks: [], nets: [], noticeMin: 5 }

/** Something that happens at a time. */
export interface PlanEvent {
  startUtcMs: number
  endUtcMs: number
  what: { kind: 'block'; block: PlanBlock } | { kind: 'net'; net: Net }
}

const DAY_MS = 86_400_000

/** All that the plan holds between two moments, nets in each of their occurrences, in order. */
export function eventsBetween(plan: SessionPlan, fromUtcMs: number, toUtcMs: number): PlanEvent[] {
  const events: PlanEvent[] = plan.blocks.map((block) => ({
    startUtcMs: block.startUtcMs,
    endUtcMs: block.endUtcMs,
    what: { kind: 'block', block },
  }))
  for (const net of plan.nets) {
    // A net of the day before may still be going on.
    for (let day = Math.floor(fromUtcMs / DAY_MS) - 1; day * DAY_MS < toUtcMs; day++) {
      if (net.weekday !== null && new Date(day * DAY_MS).getUTCDay() !== net.weekday) continue
      const startUtcMs = day * DAY_MS + net.startMinute * 60_000
      events.push({ startUtcMs, endUtcMs: startUtcMs + net.durationMin * 60_000, what: { kind: 'net', net } })
    }
  }
  return events
    .filter((event) => event.endUtcMs > fromUtcMs && event.startUtcMs < toUtcMs)
    .sort((a, b) => a.startUtcMs - b.startUtcMs || a.endUtcMs - b.endUtcMs)
}

/** Where the session stands. */
export interface PlanState {
  now: PlanEvent[]
  next: PlanEvent | undefined
  /** What is to be mentioned now: a change that is near, or a dial that is not where the plan is. */
  reminder:
    { kind: 'soon'; event: PlanEvent; inMin: number } | { kind: 'dial'; block: PlanBlock } | { kind: 'over'; block: PlanBlock } | undefined
}

/** How long after its end a stretch that nothing follows is mentioned. */
const OVER_MENTIONED_MS = 15 * 60_000

/** Judges where the session stands. @param dialFrequencyHz where the radio is, when that is known */
export function judgePlan(plan: SessionPlan, nowUtcMs: number, dialFrequencyHz: number | null): PlanState {
  const near = eventsBetween(plan, nowUtcMs - DAY_MS, nowUtcMs + 8 * DAY_MS)
  const now = near.filter((event) => event.startUtcMs <= nowUtcMs && event.endUtcMs > nowUtcMs)
  const next = near.find((event) => event.startUtcMs > nowUtcMs)
  const inMin = next && (next.startUtcMs - nowUtcMs) / 60_000
  if (next && inMin! <= plan.noticeMin) return { now, next, reminder: { kind: 'soon', event: next, inMin: Math.ceil(inMin!) } }
  const here = now.flatMap((event) => (event.what.kind === 'block' ? [event.what.block] : []))
  const planned = here.find((block) => block.dialFrequencyHz !== null)
  if (planned && dialFrequencyHz !== null && here.every((block) => block.dialFrequencyHz !== dialFrequencyHz))
    return { now, next, reminder: { kind: 'dial', block: planned } }
  const last = plan.blocks.filter((b) => b.endUtcMs <= nowUtcMs && nowUtcMs - b.endUtcMs < OVER_MENTIONED_MS)
  if (here.length === 0 && last.length > 0)
    return { now, next, reminder: { kind: 'over', block: last.reduce((a, b) => (b.endUtcMs > a.endUtcMs ? b : a)) } }
  return { now, next, reminder: undefined }
}

/** Words a stretch or a net in a few words. */
export function wordEvent({ what }: PlanEvent): string {
  const hz = what.kind === 'block' ? what.block.dialFrequencyHz : what.net.frequencyHz
  const where = hz === null ? '' : ` on ${frequencyWords(hz)}`
  if (what.kind === 'net') return `${what.net.name}${where}`
  return what.block.mode === 'Pause' ? 'a pause' : `${what.block.mode}${where}`
}
