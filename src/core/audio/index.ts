export { judgeLevel, measureLevel, type LevelReading, type LevelVerdict } from './levelMeter'
export { decodeFrames, decodeWav, encodeWav, parseWavHeader, WAV_HEADER_BYTES, type WavFormat } from './wav'
