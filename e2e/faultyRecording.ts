import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { encodeWav } from '../src/core/audio'
import { createBandFilter, resample, whiteNoise } from '../src/core/dsp'
import { createFaultyReceiver, type FaultAmount } from '../src/standins'
import { chromiumLaunch } from './chromium'

const RATE = 12_000

/** A quiet band through a receiver with faults, as the fake microphone plays it. */
function recordingWith(name: string, ...faults: FaultAmount[]): string {
  const air = createBandFilter(RATE, 200, 2900)(whiteNoise(75 * RATE, 0.02, 7))
  const [heard] = createFaultyReceiver(faults, { rateHz: RATE, seed: 7, noiseRms: 0.02 }).push(air)
  const path = join(mkdtempSync(join(tmpdir(), 'zeptik-level-')), `${name}.wav`)
  writeFileSync(path, encodeWav(resample(heard!, RATE, 44_100), 44_100))
  return path
}

/** A browser whose microphone plays what a receiver with these faults would give. */
export const hearing = (name: string, ...faults: FaultAmount[]) =>
  chromiumLaunch(
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-audio-capture=${recordingWith(name, ...faults)}%noloop`,
  )
