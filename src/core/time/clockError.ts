/** @example formatClockError(-40) // '0.04 s slow' */
export function formatClockError(errorMs: number): string {
  const size = Math.abs(errorMs)
  const words =
    size < 120_000
      ? `${(size / 1000).toFixed(2)} s`
      : size < 172_800_000
        ? `${(size / 3_600_000).toFixed(1)} h`
        : `${Math.round(size / 86_400_000)} days`
  return `${words} ${errorMs > 0 ? 'fast' : 'slow'}`
}
