/** Radios up to this power seldom have more than a small heat sink. */
const SMALL_RADIO_W = 20

/**
 * What a radio of some power should mind at a duty, in one sentence; undefined when there is nothing.
 * @param ratedW what the radio can give, when it is known
 */
export function dutyWarning({ powerW, duty, ratedW }: { powerW: number; duty: number; ratedW?: number | undefined }): string | undefined {
  if (duty < 0.25 || powerW <= 0) return undefined
  const percent = Math.round(duty * 100)
  if (ratedW !== undefined && powerW > ratedW / 2)
    return `${powerW} W is more than half of what the radio gives, at ${percent} % of the time on the air: many manuals ask for half or less in such modes.`
  if (powerW <= SMALL_RADIO_W)
    return `On the air for ${percent} % of the time. A small radio or handheld gets hot at that: feel it, let it rest, and turn the power down when it does.`
  return undefined
}
