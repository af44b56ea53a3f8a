export { SAMPLE_RATE_HZ } from '../dsp/sampleRate'
/** Symbols each second: one bit each. */
export const BAUD = 31.25 satisfies Baud
export const SYMBOL_S = 1 / BAUD
/** Reversals that begin a transmission, for others to lock on, and steady symbols that end it. */
export const PREAMBLE_SYMBOLS = 32
export const POSTAMBLE_SYMBOLS = 32
/** Where conversations are looked for in the passband. */
export const BAND_HZ = [200, 3000] as const
/** Speeds of the family: everything else is alike. */
export type Baud = 31.25 | 62.5 | 125
