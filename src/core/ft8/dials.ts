import type { Dial } from '../modes/mode'

/** Customary dial frequencies for FT8, upper sideband. */
export const conventionalDials: readonly Dial[] = [
  { band: '160m', dialFrequencyHz: 1_840_000 },
  { band: '80m', dialFrequencyHz: 3_573_000 },
  { band: '60m', dialFrequencyHz: 5_357_000, note: 'where permitted' },
  { band: '40m', dialFrequencyHz: 7_074_000 },
  { band: '30m', dialFrequencyHz: 10_136_000 },
  { band: '20m', dialFrequencyHz: 14_074_000 },
  { band: '17m', dialFrequencyHz: 18_100_000 },
  { band: '15m', dialFrequencyHz: 21_074_000 },
  { band: '12m', dialFrequencyHz: 24_915_000 },
  { band: '10m', dialFrequencyHz: 28_074_000 },
  { band: '6m', dialFrequencyHz: 50_313_000 },
  { band: '6m', dialFrequencyHz: 50_323_000, note: 'intercontinental' },
  { band: '4m', dialFrequencyHz: 70_154_000 },
  { band: '2m', dialFrequencyHz: 144_174_000 },
  { band: '70cm', dialFrequencyHz: 432_174_000 },
]
