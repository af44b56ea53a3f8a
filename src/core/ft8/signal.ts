import { SAMPLE_RATE_HZ as MODEM_RATE_HZ } from '../dsp/sampleRate'
import { SLOT_MS } from '../time/slots'

export { SLOT_MS } from '../time/slots'

/** The fixed figures of an FT8 signal (protocol description, QEX July/August 2020, signal section). */
export const SLOT_S = SLOT_MS / 1000
/** A transmission nominally begins this long after the start of its slot. */
export const NOMINAL_START_S = 0.5
export const SYMBOL_S = 0.16
export const SYMBOL_COUNT = 79
/** 79 symbols of 0.16 s. */
export const TRANSMISSION_S = SYMBOL_COUNT * SYMBOL_S
export const TONE_COUNT = 8
export const TONE_SPACING_HZ = 6.25
export const SAMPLE_RATE_HZ = MODEM_RATE_HZ
export const SAMPLES_PER_SYMBOL = 1920
/** Width that one signal occupies: eight tones. */
export const OCCUPIED_HZ = TONE_COUNT * TONE_SPACING_HZ

/** The Costas array sent at symbols 0, 36 and 72. */
export const COSTAS = [3, 1, 4, 0, 6, 5, 2] as const
export const COSTAS_STARTS = [0, 36, 72] as const

/** Gray map: three codeword bits (value 0 to 7, first bit highest) to the tone that carries them. */
export const GRAY = [0, 1, 3, 2, 5, 6, 4, 7] as const

export const PAYLOAD_BITS = 77
export const CRC_BITS = 14
export const MESSAGE_BITS = PAYLOAD_BITS + CRC_BITS
export const PARITY_BITS = 83
export const CODEWORD_BITS = MESSAGE_BITS + PARITY_BITS

/** Positions (0 to 78) of the 58 data symbols in the order in which they carry the codeword. */
export const DATA_SYMBOLS: readonly number[] = Array.from({ length: 58 }, (_, i) => (i < 29 ? 7 + i : 14 + i))
