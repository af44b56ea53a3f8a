import type { Dial } from '../modes/mode'

/** Customary dial frequencies for PSK31, upper sideband. */
export const psk31Dials: readonly Dial[] = [
  { band: '160m', dialFrequencyHz: 1_838_000 },
  { band: '80m', dialFrequencyHz: 3_580_000 },
  { band: '40m', dialFrequencyHz: 7_040_000 },
  { band: '40m', dialFrequencyHz: 7_070_000, note: 'in some regions' },
  { band: '30m', dialFrequencyHz: 10_142_000 },
  { band: '20m', dialFrequencyHz: 14_070_000 },
  { band: '17m', dialFrequencyHz: 18_100_000 },
  { band: '15m', dialFrequencyHz: 21_070_000 },
  { band: '15m', dialFrequencyHz: 21_080_000, note: 'used as well' },
  { band: '12m', dialFrequencyHz: 24_920_000 },
  { band: '10m', dialFrequencyHz: 28_120_000 },
  { band: '6m', dialFrequencyHz: 50_290_000 },
]
