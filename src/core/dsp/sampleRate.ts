/** Rate at which sound is received, judged and decoded: 12 kHz holds all that a sideband of 3 kHz carries, for every mode. */
export const SAMPLE_RATE_HZ = 12_000
