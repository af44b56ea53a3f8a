/**
 * The strength at which half is decoded, between the first two of the strengths tried that lie on either side.
 * @param strengthsDb weakest first
 * @returns undefined when the strongest is not enough; the weakest when even that is
 */
export function halfPoint(strengthsDb: readonly number[], shareDecoded: (snrDb: number) => number): number | undefined {
  let before: { snr: number; share: number } | undefined
  for (const snr of strengthsDb) {
    const share = shareDecoded(snr)
    if (share >= 0.5) return before ? before.snr + ((0.5 - before.share) / (share - before.share)) * (snr - before.snr) : snr
    before = { snr, share }
  }
  return undefined
}
