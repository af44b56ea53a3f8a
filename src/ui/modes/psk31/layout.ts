/** The stretch of the passband that the rail shows. */
export const RAIL_HZ = [200, 3000] as const
export const ROW_PX = 46

/** A ribbon's row, and its place on the rail as a share of its height from the top: low frequencies are above, as in the list. */
export interface RailMark {
  frequencyHz: number
  share: number
  row: number
}

export const shareOf = (frequencyHz: number) => Math.max(0, Math.min(1, (frequencyHz - RAIL_HZ[0]) / (RAIL_HZ[1] - RAIL_HZ[0])))
export const hzAt = (share: number) => Math.round(RAIL_HZ[0] + Math.max(0, Math.min(1, share)) * (RAIL_HZ[1] - RAIL_HZ[0]))

export const laidOut = (frequencies: readonly number[]): RailMark[] =>
  frequencies.map((frequencyHz, row) => ({ frequencyHz, share: shareOf(frequencyHz), row }))
