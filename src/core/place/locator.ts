/** A point on the earth in degrees, north and east positive. */
export interface Position {
  latitudeDeg: number
  longitudeDeg: number
}

const LOCATOR = /^[A-R]{2}[0-9]{2}(?:[A-X]{2}(?:[0-9]{2})?)?$/

/** Tells whether a text is a grid locator of 4, 6 or 8 characters (either case). */
export function isLocator(text: string): boolean {
  return LOCATOR.test(text.toUpperCase())
}

/** Writes a locator as is customary: first pair in capitals, third pair small. @example formatLocator('jn97LK') // 'JN97lk' */
export function formatLocator(locator: string): string {
  const upper = locator.toUpperCase()
  return upper.slice(0, 4) + upper.slice(4, 6).toLowerCase() + upper.slice(6)
}

/** The middle of a locator's square. @throws {RangeError} not a locator */
export function locatorToPosition(locator: string): Position {
  const l = locator.toUpperCase()
  if (!LOCATOR.test(l)) throw new RangeError(`locator must be 4, 6 or 8 characters such as JN97LK, got "${locator}"`)
  const code = (i: number, from: string) => l.charCodeAt(i) - from.charCodeAt(0)
  let longitudeDeg = code(0, 'A') * 20 + code(2, '0') * 2
  let latitudeDeg = code(1, 'A') * 10 + code(3, '0')
  let width = 2
  let height = 1
  if (l.length >= 6) {
    width /= 24
    height /= 24
    longitudeDeg += code(4, 'A') * width
    latitudeDeg += code(5, 'A') * height
  }
  if (l.length === 8) {
    width /= 10
    height /= 10
    longitudeDeg += code(6, '0') * width
    latitudeDeg += code(7, '0') * height
  }
  return { latitudeDeg: latitudeDeg + height / 2 - 90, longitudeDeg: longitudeDeg + width / 2 - 180 }
}

/** The locator of a position, 4, 6 or 8 characters, all in capitals. */
export function positionToLocator(position: Position, length: 4 | 6 | 8): string {
  const { latitudeDeg, longitudeDeg } = position
  if (!(Math.abs(latitudeDeg) <= 90 && Math.abs(longitudeDeg) <= 180))
    throw new RangeError(`position must lie within ±90 and ±180 degrees, got ${latitudeDeg}, ${longitudeDeg}`)
  // The pole and the date line belong to the last square.
  let lon = Math.min(longitudeDeg + 180, 359.999_999_9)
  let lat = Math.min(latitudeDeg + 90, 179.999_999_9)
  const sizes: readonly (readonly [number, number, string])[] = [
    [20, 10, 'A'],
    [2, 1, '0'],
    [2 / 24, 1 / 24, 'A'],
    [2 / 240, 1 / 240, '0'],
  ]
  let locator = ''
  for (const [width, height, from] of sizes.slice(0, length / 2)) {
    const x = Math.floor(lon / width + 1e-9)
    const y = Math.floor(lat / height + 1e-9)
    locator += String.fromCharCode(from.charCodeAt(0) + x) + String.fromCharCode(from.charCodeAt(0) + y)
    lon = Math.max(0, lon - x * width)
    lat = Math.max(0, lat - y * height)
  }
  return locator
}

const EARTH_RADIUS_KM = 6371.0088

/** Distance along the great circle and the bearing on which to start, clockwise from north. */
export function greatCircle(from: Position, to: Position): { distanceKm: number; bearingDeg: number } {
  const rad = Math.PI / 180
  const f1 = from.latitudeDeg * rad
  const f2 = to.latitudeDeg * rad
  const dl = (to.longitudeDeg - from.longitudeDeg) * rad
  const h = Math.sin((f2 - f1) / 2) ** 2 + Math.cos(f1) * Math.cos(f2) * Math.sin(dl / 2) ** 2
  const distanceKm = 2 * EARTH_RADIUS_KM * Math.asin(Math.min(1, Math.sqrt(h)))
  const y = Math.sin(dl) * Math.cos(f2)
  const x = Math.cos(f1) * Math.sin(f2) - Math.sin(f1) * Math.cos(f2) * Math.cos(dl)
  return { distanceKm, bearingDeg: (Math.atan2(y, x) / rad + 360) % 360 }
}
