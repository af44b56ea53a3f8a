const THIN = '\u202f'

/** In kHz, grouped by threes. */
function kilohertzDigits(hz: number): string {
  const [whole, part] = (hz / 1000).toFixed(1).split('.') as [string, string]
  return `${whole.replace(/\B(?=(\d{3})+$)/g, THIN)}.${part}`
}

/** A frequency as people say it: in kHz on shortwave, in MHz above. @example frequencyWords(145_500_000) // '145.500 MHz' */
export function frequencyWords(hz: number): string {
  return hz < 30e6 ? `${kilohertzDigits(hz)} kHz` : `${(hz / 1e6).toFixed(3)} MHz`
}
