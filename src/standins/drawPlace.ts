import type { Random } from '@/core/dsp'
import { positionToLocator } from '@/core/place'

/** Regions with a weight: where simulated stations sit (south-west corner, size in degrees). */
const REGIONS: readonly (readonly [weight: number, south: number, west: number, height: number, width: number])[] = [
  [6, 40, -5, 18, 32],
  [2, 52, 10, 12, 25],
  [2, 30, -115, 15, 40],
  [1, -35, -70, 25, 25],
  [1, 32, 130, 10, 12],
  [1, -36, 140, 12, 12],
  [1, -30, 18, 12, 12],
]

/** A place where somebody may sit, as a locator of four characters. */
export function drawPlace(random: Random): string {
  const total = REGIONS.reduce((sum, region) => sum + region[0], 0)
  let at = random() * total
  const region = REGIONS.find(([weight]) => (at -= weight) < 0) ?? REGIONS[0]!
  return positionToLocator({ latitudeDeg: region[1] + random() * region[3], longitudeDeg: region[2] + random() * region[4] }, 4)
}
