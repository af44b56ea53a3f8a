import type { SymbolAmplitudes } from './demodulate'
import { SYMBOL_COUNT, TONE_COUNT } from './signal'

/** Mean power of the tones that were sent, over the symbols that were received. */
export function measureTonePower(symbols: SymbolAmplitudes, tones: Uint8Array): number {
  let power = 0
  let count = 0
  for (let s = 0; s < SYMBOL_COUNT; s++) {
    const at = s * TONE_COUNT + tones[s]!
    const p = symbols.re[at]! ** 2 + symbols.im[at]! ** 2
    if (p === 0) continue
    power += p
    count++
  }
  return power / Math.max(1, count)
}

const SYMBOLS_IN_2500_HZ_DB = 10 * Math.log10(2500 * 0.16)

/**
 * Signal-to-noise ratio in 2500 Hz, -30 to +50 dB (a recording without any noise has no true one). A cell of the grid and a tone's amplitude have the same scale:
 * 32 complex samples cut out of the slot's spectrum add up to the same amplitude as 1920 real ones.
 */
export function toSnrDb(tonePower: number, gridNoise: number): number {
  const ratio = Math.max(tonePower / gridNoise - 1, 0.05)
  return Math.min(50, Math.max(-30, 10 * Math.log10(ratio) - SYMBOLS_IN_2500_HZ_DB))
}
