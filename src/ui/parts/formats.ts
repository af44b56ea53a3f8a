import { greatCircle, isLocator, locatorToPosition } from '@/core/place'

const two = (n: number) => String(n).padStart(2, '0')

/** @example formatUtc(0) // '00:00:00' */
export function formatUtc(utcMs: number): string {
  const d = new Date(utcMs)
  return `${two(d.getUTCHours())}:${two(d.getUTCMinutes())}:${two(d.getUTCSeconds())}`
}

/** @example formatUtcDate(0) // '1970-01-01' */
export function formatUtcDate(utcMs: number): string {
  return new Date(utcMs).toISOString().slice(0, 10)
}

/** A number of things. @example counted(1, 'contact') // '1 contact' */
export function counted(n: number, what: string): string {
  return `${n} ${what}${n === 1 ? '' : 's'}`
}

/** How long ago, in the largest whole unit. */
export function formatAge(ageMs: number): string {
  const s = Math.max(0, Math.round(ageMs / 1000))
  if (s < 2) return 'now'
  if (s < 90) return `${s} s ago`
  if (s < 90 * 60) return `${Math.round(s / 60)} min ago`
  if (s < 36 * 3600) return `${Math.round(s / 3600)} h ago`
  return `${Math.round(s / 86_400)} days ago`
}

const MINUS = '\u2212'

/** A number with its sign and a real minus. */
export function formatSigned(value: number, digits = 0): string {
  const size = Math.abs(value).toFixed(digits)
  return Number(size) === 0 ? size : `${value < 0 ? MINUS : '+'}${size}`
}

/** Distance and bearing between two locators, or undefined when either is unknown. */
export function pathBetween(own: string, other: string | undefined | null): { distanceKm: number; bearingDeg: number } | undefined {
  if (!other || !isLocator(own) || !isLocator(other)) return undefined
  return greatCircle(locatorToPosition(own), locatorToPosition(other))
}

const KM_PER_MILE = 1.609344

/** A distance to three figures at most. */
export function formatDistance(km: number, unit: 'km' | 'mi'): string {
  const value = unit === 'km' ? km : km / KM_PER_MILE
  const rounded = value < 100 ? Math.round(value) : Math.round(value / 10) * 10
  return `${String(rounded).replace(/\B(?=(\d{3})+$)/g, '\u202f')}\u00a0${unit}`
}

/** A bearing, clockwise from north. @example formatBearing(7.4) // '007°' */
export const formatBearing = (bearingDeg: number): string => `${String(Math.round(bearingDeg) % 360).padStart(3, '0')}°`
