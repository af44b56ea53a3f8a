import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { encodeWav } from '../src/core/audio'
import { createGaussian, createRandom } from '../src/core/dsp'
import { encodePsk31 } from '../src/core/psk31'
import { chromiumLaunch } from './chromium'
import { expect, test } from './fixtures'

const RATE_HZ = 44_100
const LENGTH_S = 150

/** One who calls, and answers whoever answers; each over comes twice, for a machine that was too slow for the first one. */
function makeRecording(): string {
  const gaussian = createGaussian(createRandom(6))
  const samples = Float32Array.from({ length: RATE_HZ * LENGTH_S }, () => 0.02 * gaussian())
  const cq = 'cq cq cq de Q2LMN Q2LMN Q2LMN pse k\n'
  const told = 'Q5RVR de Q2LMN = ur rst 579 579 = name Ines Ines = loc JO31 = hw? Q5RVR de Q2LMN kn\n'
  for (const [text, atS] of [
    [cq, 2],
    [cq, 13],
    [told, 52],
    [told, 86],
    ['Q5RVR de Q2LMN = r r tnx 73 sk\n', 128],
  ] as const) {
    const audio = encodePsk31(text, { sampleRateHz: RATE_HZ, frequencyHz: 1200, amplitude: 0.08 })
    audio.forEach((value, i) => {
      const at = RATE_HZ * atS + i
      if (at < samples.length) samples[at]! += value
    })
  }
  const path = join(mkdtempSync(join(tmpdir(), 'zeptik-mic-')), 'psk31.wav')
  writeFileSync(path, encodeWav(samples, RATE_HZ))
  return path
}

test.use({
  launchOptions: chromiumLaunch(
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-audio-capture=${makeRecording()}%noloop`,
  ),
})

test('a PSK31 contact through microphone and loudspeaker: an over typed while it goes out and cut by Silence, then into the log', async ({
  page,
  demo,
}) => {
  await page.goto(`${demo.url}/ribbons`)
  // Where nothing is listened to, it comes to the front by itself.
  await expect(page.getByText(/Nothing is being listened to/)).toBeVisible()
  await expect(page.getByText('UTC, slot')).toBeHidden()
  await page.getByRole('link', { name: /^Connect/ }).click()
  await page.getByRole('button', { name: 'Start listening' }).click()
  await expect(page.getByRole('heading', { name: /^Audio source: / })).toBeVisible()
  await page.getByRole('link', { name: /^Ribbons/ }).click()
  await page.getByRole('button', { name: /Q2LMN.*calling CQ/s }).click({ timeout: 40_000 })
  await expect(page.getByLabel(/^Call, read \d of \d/)).toHaveValue('Q2LMN')

  await page.getByRole('button', { name: 'Answer', exact: true }).click()
  await page.getByRole('button', { name: 'Send and type on' }).click()
  await page.getByLabel(/An antenna or dummy load/).check()
  await page.getByLabel(/Hands and people are clear/).check()
  const swr = page.getByLabel(/The SWR on 20m was looked at/)
  if (await swr.isVisible()) await swr.check()
  await page.getByRole('button', { name: /^Checked/ }).click()
  await expect(page.getByText('TRANSMITTING')).toBeVisible()
  // What is typed while it goes out joins it; what waits comes back into the field, to be mended.
  await page.getByLabel(/^Type on/).pressSequentially('hello and more of this ')
  const waiting = page.getByRole('button', { name: 'Take back what waits' })
  await waiting.click()
  await expect(page.getByLabel(/^Type on/)).toHaveValue(/more of this/)
  await page.keyboard.press('Escape')
  await expect(page.getByText('TRANSMITTING')).toBeHidden()

  // They answer, whatever they copied; it is read into the fields, and goes into the log.
  await expect(page.getByLabel(/^Name, read/)).toHaveValue('Ines', { timeout: 90_000 })
  await expect(page.getByLabel(/^Report got, read/)).toHaveValue('579')
  await expect(page.getByLabel(/^Locator, read/)).toHaveValue('JO31')
  await expect(page.getByText(/, \d{3}°/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Log it' }).click()
  await expect(page.getByText(/In the log since/)).toBeVisible()
})
