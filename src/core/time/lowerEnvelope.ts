/** One delay seen at one time; both in the same unit. */
export interface DelayPoint {
  x: number
  y: number
}

export interface Envelope {
  /** Height of the line at the x asked for. */
  y: number
  slope: number
}

/** A line through points on a shorter base than this share of the window would follow the jitter instead of the drift. */
const LEAST_BASE_SHARE = 0.35

/**
 * The line that runs below all points as closely as one can: jitter only ever delays, so the undisturbed delay is the
 * lower edge of what was seen. Of all lines below the points, the one with the smallest sum of distances is the edge of
 * the lower convex hull above the points' mean x.
 * @param points by rising x, at least one
 * @param atX where the line's height is wanted
 * @param knownSlope used while the points span too little to tell a slope; also without any hull edge
 * @param slopeFromSpan the slope is taken from the points once they span this much of x
 * @throws {RangeError} no points
 */
export function lowerEnvelope(points: readonly DelayPoint[], atX: number, knownSlope: number, slopeFromSpan: number): Envelope {
  if (points.length === 0) throw new RangeError('lowerEnvelope needs at least one point, got none')
  const first = points[0]!
  const last = points[points.length - 1]!
  if (last.x - first.x >= slopeFromSpan) {
    const edge = hullEdgeAt(
      lowerHull(points),
      points.reduce((sum, p) => sum + p.x, 0) / points.length,
      LEAST_BASE_SHARE * (last.x - first.x),
    )
    if (edge) {
      const slope = (edge[1].y - edge[0].y) / (edge[1].x - edge[0].x)
      return { slope, y: edge[0].y + slope * (atX - edge[0].x) }
    }
  }
  let y = Infinity
  for (const p of points) y = Math.min(y, p.y + knownSlope * (atX - p.x))
  return { slope: knownSlope, y }
}

function lowerHull(points: readonly DelayPoint[]): DelayPoint[] {
  const hull: DelayPoint[] = []
  for (const p of points) {
    while (hull.length >= 2) {
      const a = hull[hull.length - 2]!
      const b = hull[hull.length - 1]!
      if ((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x) > 0) break
      hull.pop()
    }
    hull.push(p)
  }
  return hull
}

function hullEdgeAt(hull: readonly DelayPoint[], meanX: number, leastBase: number): readonly [DelayPoint, DelayPoint] | undefined {
  for (let i = 1; i < hull.length; i++) {
    const a = hull[i - 1]!
    const b = hull[i]!
    if (b.x >= meanX) return b.x - a.x >= leastBase ? [a, b] : undefined
  }
  return undefined
}
