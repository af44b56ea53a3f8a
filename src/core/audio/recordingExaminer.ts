import { createAudioExaminer, EXAMINED_S, type AudioReport } from './audioExaminer'
import { byEffect, isOk, type Finding } from './findings'
import { dbToPower, powerToDb, quantile } from './quantile'

/** What a whole recording measures; figures of the noise are those of its middle, findings the worst of each kind. */
export interface RecordingReport {
  durationS: number
  sampleRateHz: number
  channels: number
  rmsDbfs: number
  peakDbfs: number
  crestDb: number
  noiseFloorDbfsPerHz: number
  headroomDb: number
  clippedFraction: number
  dcOffset: number
  passbandHz: [number, number] | null
  humHz: 50 | 60 | null
  humDbfs: number | null
  findings: (Finding & { fromS: number })[]
  ok: boolean
}

export interface RecordingExaminer {
  push(channels: readonly Float32Array[]): void
  /** @throws {RangeError} nothing was pushed */
  finish(): RecordingReport
}

/**
 * Examines a recording of known length in equal parts of 10 to 20 s, so that a fault anywhere in it is found.
 * @param frames samples of each channel that will come
 */
export function createRecordingExaminer(rateHz: number, frames: number): RecordingExaminer {
  const parts = Math.max(1, Math.ceil(frames / (EXAMINED_S * rateHz)))
  const partFrames = Math.ceil(frames / parts)
  const reports: AudioReport[] = []
  let examiner = createAudioExaminer(rateHz)
  let filled = 0
  const close = () => {
    examiner.flush()
    const report = examiner.report()
    if (report) reports.push(report)
    examiner = createAudioExaminer(rateHz)
    filled = 0
  }
  return {
    push(channels) {
      const { length } = channels[0]!
      for (let at = 0; at < length;) {
        // A second at a time, as it would stream in.
        const part = Math.min(length - at, partFrames - filled, rateHz)
        examiner.push(channels.map((samples) => samples.subarray(at, at + part)))
        filled += part
        at += part
        if (filled === partFrames) close()
      }
    },
    finish() {
      if (filled > 0) close()
      if (reports.length === 0) throw new RangeError('no samples can be examined')
      return merge(reports)
    },
  }
}

function merge(reports: readonly AudioReport[]): RecordingReport {
  const durationS = reports.reduce((sum, r) => sum + r.durationS, 0)
  const mean = (pick: (r: AudioReport) => number) => reports.reduce((sum, r) => sum + pick(r) * r.durationS, 0) / durationS
  const middle = (pick: (r: AudioReport) => number) => quantile(reports.map(pick), 0.5)
  const rmsDbfs = powerToDb(mean((r) => dbToPower(r.rmsDbfs)))
  const peakDbfs = Math.max(...reports.map((r) => r.peakDbfs))
  const bands = reports.map((r) => r.passbandHz).filter((band) => band !== null)
  const hums = reports.filter((r) => r.humHz !== null).sort((a, b) => b.humDbfs! - a.humDbfs!)
  const findings = collectFindings(reports)
  return {
    durationS,
    sampleRateHz: reports[0]!.sampleRateHz,
    channels: reports[0]!.channels.length,
    rmsDbfs,
    peakDbfs,
    crestDb: Number.isFinite(rmsDbfs) ? peakDbfs - rmsDbfs : 0,
    noiseFloorDbfsPerHz: middle((r) => r.noiseFloorDbfsPerHz),
    headroomDb: Math.min(...reports.map((r) => r.headroomDb)),
    clippedFraction: mean((r) => r.clippedFraction),
    dcOffset: mean((r) => r.dcOffset),
    passbandHz:
      bands.length > 0
        ? [
            quantile(
              bands.map((b) => b[0]),
              0.5,
            ),
            quantile(
              bands.map((b) => b[1]),
              0.5,
            ),
          ]
        : null,
    humHz: hums[0]?.humHz ?? null,
    humDbfs: hums[0]?.humDbfs ?? null,
    findings,
    ok: isOk(findings),
  }
}

/** The worst finding of each kind, with the part of the recording where it was found. */
function collectFindings(reports: readonly AudioReport[]): (Finding & { fromS: number })[] {
  const worst = new Map<string, Finding & { fromS: number }>()
  let fromS = 0
  for (const report of reports) {
    for (const found of report.findings) {
      const known = worst.get(found.code)
      if (!known || byEffect([known, found])[0] === found) worst.set(found.code, { ...found, fromS })
    }
    fromS += report.durationS
  }
  return byEffect([...worst.values()]) as (Finding & { fromS: number })[]
}
