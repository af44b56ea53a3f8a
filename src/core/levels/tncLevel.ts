/** Frames that were heard whole at one setting of a TNC's receive level. */
export interface TncStep {
  /** The setting as the operator names it, in order from quiet to loud. */
  setting: string
  /** Frames heard with a right checksum, and how many were sent or seen to begin. */
  good: number
  of: number
  /** What the TNC itself reports, when it does. */
  reportedLevel?: number
}

export interface TncAdvice {
  state: 'more' | 'found' | 'deaf'
  setting?: string
  words: string
}

/** Below this many frames a share means little. */
const FEWEST_FRAMES = 8
const GOOD_SHARE = 0.9

/**
 * Finds the receive level of a TNC that tells nothing of it, by how much it decodes at each setting: the middle of the
 * stretch in which nearly everything is heard, as far as possible from both ends.
 */
export function adviseTncLevel(steps: readonly TncStep[]): TncAdvice {
  const thin = steps.find((step) => step.of < FEWEST_FRAMES)
  if (steps.length < 3) return { state: 'more', words: 'Try at least three settings, from quiet to loud.' }
  if (thin)
    return { state: 'more', setting: thin.setting, words: `Wait for more frames at "${thin.setting}": ${thin.of} of ${FEWEST_FRAMES}.` }
  let best: [number, number] | undefined
  let from = -1
  for (let i = 0; i <= steps.length; i++) {
    const good = i < steps.length && steps[i]!.good / steps[i]!.of >= GOOD_SHARE
    if (good && from < 0) from = i
    if (!good && from >= 0) {
      if (!best || i - 1 - from > best[1] - best[0]) best = [from, i - 1]
      from = -1
    }
  }
  if (!best)
    return {
      state: 'deaf',
      words: 'At no setting are nine frames of ten heard. Check squelch, tone and the data socket’s speed before the level.',
    }
  const middle = steps[Math.round((best[0] + best[1]) / 2)]!
  return {
    state: 'found',
    setting: middle.setting,
    words: `Leave it at "${middle.setting}", the middle of where nearly every frame is heard.`,
  }
}
