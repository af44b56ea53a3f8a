import { z } from 'zod'
import { LINK_FAULTS, RUNGS } from './diagnose'
import { linkConfigSchema, TRIED_LINKS, type LinkConfig, type TriedLink } from './linkContracts'

/** How a climb of the ladder ended, with the settings it was made with. */
export const ladderResultSchema = z.object({
  id: z.uuid(),
  utcMs: z.number(),
  link: z.enum(TRIED_LINKS),
  ok: z.boolean(),
  rung: z.enum(RUNGS).nullable(),
  code: z.enum(LINK_FAULTS).nullable(),
  words: z.string(),
  config: linkConfigSchema,
})
export type LadderResult = z.infer<typeof ladderResultSchema>

/** The newest result of a link that was good, from results in any order. */
export function lastGood(results: readonly LadderResult[], link: TriedLink): LadderResult | undefined {
  return results.reduce<LadderResult | undefined>(
    (best, r) => (r.link === link && r.ok && (!best || r.utcMs > best.utcMs) ? r : best),
    undefined,
  )
}

/** Whether today's settings of a link are those of a result. */
export function sameSettings(config: LinkConfig, result: LadderResult): boolean {
  return JSON.stringify(config[result.link]) === JSON.stringify(result.config[result.link])
}
