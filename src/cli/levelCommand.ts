import { receiveTarget, withDose } from '@/core/levels'
import { parseArgs } from 'node:util'
import { createRecordingExaminer, type RecordingReport } from '@/core/audio'
import { UsageError } from './errors'
import { openWavFile } from './wavFile'

/** `zeptik level`: what a recording measures, and what is wrong with it. */
export async function levelCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { json: { type: 'boolean', default: false } } })
  if (positionals.length !== 1) throw new UsageError('level needs one FILE.wav')
  const path = positionals[0]!
  const { format, frames, blocks } = await openWavFile(path)
  const examiner = createRecordingExaminer(format.sampleRateHz, frames)
  for await (const channels of blocks) examiner.push(channels)
  const report = examiner.finish()
  if (values.json) console.log(JSON.stringify(toJson(report)))
  else print(report)
}

const round = (value: number, digits = 2) => (Number.isFinite(value) ? Number(value.toFixed(digits)) : null)

/** JSON knows no infinity: a level of nothing is null. */
function toJson(r: RecordingReport) {
  return {
    rmsDbfs: round(r.rmsDbfs),
    peakDbfs: round(r.peakDbfs),
    crestDb: round(r.crestDb),
    noiseFloorDbfsPerHz: round(r.noiseFloorDbfsPerHz),
    noise2500Dbfs: round(noise2500Of(r)),
    headroomDb: round(r.headroomDb),
    clippedFraction: round(r.clippedFraction, 7),
    dcOffset: round(r.dcOffset, 5),
    passbandHz: r.passbandHz && r.passbandHz.map((hz) => Math.round(hz)),
    humHz: r.humHz,
    humDbfs: r.humDbfs === null ? null : round(r.humDbfs),
    findings: dosed(r).map(({ code, severity, name, evidence, advice, confidence, fromS }) => ({
      code,
      severity,
      name,
      evidence,
      advice,
      confidence: round(confidence),
      fromS: round(fromS),
    })),
    ok: r.ok,
    durationS: round(r.durationS, 3),
    sampleRateHz: r.sampleRateHz,
    channels: r.channels,
  }
}

/** What is wrong, with the one dose that the screens give too. */
const dosed = (r: RecordingReport) => withDose(r.findings, receiveTarget({ ...r, noise2500Dbfs: noise2500Of(r) }))

const noise2500Of = (r: RecordingReport) => r.noiseFloorDbfsPerHz + 10 * Math.log10(2500)

function print(r: RecordingReport): void {
  const db = (value: number, digits = 1) => (Number.isFinite(value) ? value.toFixed(digits) : 'none')
  console.log(`${r.durationS.toFixed(1)} s, ${r.sampleRateHz} samples a second, ${r.channels} ${r.channels === 1 ? 'channel' : 'channels'}`)
  console.log(`level        ${db(r.rmsDbfs)} dBFS, peaks ${db(r.peakDbfs)} dBFS, headroom ${db(r.headroomDb)} dB`)
  console.log(`noise floor  ${db(r.noiseFloorDbfsPerHz)} dBFS per Hz, ${db(noise2500Of(r))} dBFS in 2500 Hz`)
  console.log(`passband     ${r.passbandHz ? `${r.passbandHz[0].toFixed(0)} to ${r.passbandHz[1].toFixed(0)} Hz` : 'not found'}`)
  console.log(`clipped      ${(100 * r.clippedFraction).toFixed(4)} %`)
  console.log(`offset       ${(100 * r.dcOffset).toFixed(2)} % of full scale`)
  console.log(`hum          ${r.humHz === null ? 'none' : `${r.humHz} Hz, ${db(r.humDbfs!)} dBFS`}`)
  const findings = dosed(r)
  for (const f of findings)
    console.log(
      `\n${f.severity}: ${f.name} (${f.code}), ${Math.round(100 * f.confidence)} % sure\n  ${f.evidence}${f.fromS > 0 ? `, from ${f.fromS.toFixed(0)} s on` : ''}\n  ${f.advice}`,
    )
  if (findings.length === 0) console.log('\nnothing wrong was found')
}
