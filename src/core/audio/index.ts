export { createAudioExaminer, examineAudio, type AudioExaminer, type AudioReport } from './audioExaminer'
export { createRecordingExaminer, type RecordingExaminer, type RecordingReport } from './recordingExaminer'
export { byEffect, isOk, type Finding, type FindingCode, type FindingSeverity } from './findings'
export { measureLevel, type LevelReading } from './levelMeter'
export { createMonoMix, type MonoMix } from './monoMix'
export {
  decodeChannels,
  decodeFrames,
  decodeWav,
  encodeWav,
  encodeWavChannels,
  parseWavHeader,
  WAV_HEADER_BYTES,
  type WavFormat,
} from './wav'
