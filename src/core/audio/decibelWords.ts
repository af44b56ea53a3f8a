const MINUS = '\u2212'

/** A number with a real minus, and none before nothing. */
export const withMinus = (value: number, digits = 0): string =>
  value
    .toFixed(digits)
    .replace(/^-(?=0*\.?0*$)/, '')
    .replace('-', MINUS)
/** A ratio. @example decibels(-3.2, 1) // '−3.2 dB' */
export const decibels = (value: number, digits = 0): string => `${withMinus(value, digits)} dB`
/** A level against full scale. @example dbfsWords(-40) // '−40 dBFS' */
export const dbfsWords = (value: number): string => `${withMinus(value)} dBFS`
