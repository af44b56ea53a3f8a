import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { encodeWav } from '../src/core/audio'
import { createRandom, resample } from '../src/core/dsp'
import { addSignal, SAMPLE_RATE_HZ, simulateSlot } from '../src/core/ft8'
import { chromiumLaunch } from './chromium'
import { expect, test } from './fixtures'

const PHASE_S = 6.2
/** The band repeats itself after four slots; the recording is longer than the search and the operator's taps take on a slow machine. */
const PERIOD_S = 60
const PERIODS = 9

/** A band of six stations whose slots begin 6.2 s into the recording. */
function band(): Float32Array {
  const samples = simulateSlot([], 21, { durationS: PERIOD_S })
  const random = createRandom(22)
  for (let i = 0; i < 6; i++)
    for (let k = i % 2; k < PERIOD_S / 15; k += 2) {
      // What begins in the last slot ends in the next period's first.
      const signal = { text: `CQ Q${i}ABC JO31`, snrDb: -4, audioOffsetHz: 500 + 320 * i, timeOffsetS: 0.05 * (i - 2.5) }
      const whole = new Float32Array((PERIOD_S + 15) * SAMPLE_RATE_HZ)
      addSignal(whole, Math.round((PHASE_S + 15 * k) * SAMPLE_RATE_HZ), signal, random)
      whole.forEach((v, at) => (samples[at % samples.length]! += v))
    }
  return samples
}
const folder = mkdtempSync(join(tmpdir(), 'zeptik-blind-'))
const wav = join(folder, 'band.wav')

test.beforeAll(() => {
  const period = resample(band(), SAMPLE_RATE_HZ, 44_100)
  const whole = new Float32Array(period.length * PERIODS)
  for (let n = 0; n < PERIODS; n++) whole.set(period, n * period.length)
  writeFileSync(wav, encodeWav(whole, 44_100))
})

test.use({
  launchOptions: chromiumLaunch(
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-audio-capture=${wav}%noloop`,
  ),
})

test('with a clock that is an hour off, the slots are found by ear and the minute is confirmed', async ({ page, demo }) => {
  test.setTimeout(600_000)
  // The page's clock is an hour and some seconds slow; its monotonic clock is not touched.
  await page.addInitScript(() => {
    const now = Date.now.bind(Date)
    Date.now = () => now() - 3_600_000 - 4300
  })
  await page.goto(`${demo.url}/connect`)
  await page.getByRole('button', { name: 'Start listening' }).click()
  await expect(page.getByRole('heading', { name: /^Audio source: / })).toBeVisible()
  await page.getByRole('link', { name: /^Clock/ }).click()
  await page.getByRole('tab', { name: 'The band, by ear' }).click()
  await page.getByRole('button', { name: 'Find the slots by ear' }).click()
  await expect(page.getByRole('progressbar', { name: 'Search for the slots' })).toBeVisible()
  // What it says of itself stands in the failure.
  const search = page.getByRole('tabpanel').getByRole('status')
  await expect(search).toHaveText(/^Found from \d stations|^Not found/, { timeout: 270_000 })
  await expect(search).toHaveText(/^Found/)
  // The operator knows the hour: 240 slots, a minute at a time.
  for (let i = 0; i < 60; i++) await page.getByRole('button', { name: '+1 min' }).click()
  await page.getByRole('button', { name: 'That is the time' }).click()
  // Between slots; a busy machine misses some.
  await expect(page.getByText(/was moved forward by (1\.0 h|60 min)/)).toBeVisible({ timeout: 120_000 })
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^(On time|0\.\d\d s (fast|slow)), ±0\.\d\d s, good until/)
  // That what is heard then falls into its slots is shown with a recording below: on a slow machine the browser's made-up
  // microphone plays its file late, and the slots of its band run away from the clock as those of no real band do.
})

test('a recording that does not begin with a slot is put right by ear', async ({ page, demo }) => {
  await page.goto(`${demo.url}/connect`)
  await page.getByLabel('Pace').click()
  await page.getByRole('option', { name: '4 times as fast' }).click()
  await page.getByLabel('Recording to open').setInputFiles(wav)
  await page.getByRole('link', { name: /^Clock/ }).click()
  await page.getByRole('tab', { name: 'The band, by ear' }).click()
  await page.getByRole('button', { name: 'Find the slots by ear' }).click()
  await expect(page.getByText(/Found from 6 stations/)).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: 'That is the time' }).click()
  await page.getByRole('link', { name: /^Slots/ }).click()
  await expect(page.getByRole('button', { name: /^Answer Q\dABC$/ }).first()).toBeVisible({ timeout: 60_000 })
})
