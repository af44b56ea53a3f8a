import { hearing } from './faultyRecording'
import { expect, test } from './fixtures'

test.use({
  launchOptions: hearing('hum', { fault: 'hum-50', amount: 10 }, { fault: 'narrow-filter', amount: 700 }),
})
test('hum and a narrow filter are named with their evidence, in the strip, on the Levels screen and in readiness', async ({
  page,
  demo,
}) => {
  await page.goto(`${demo.url}/connect`)
  await page.getByRole('button', { name: 'Start listening' }).click()
  await expect(page.getByRole('heading', { name: /^Audio source: / })).toBeVisible()
  await page.getByRole('link', { name: /^Levels/ }).click()
  await expect(page.getByRole('heading', { name: /^Narrow filter/, level: 3 })).toBeVisible({ timeout: 25_000 })
  await expect(page.getByRole('heading', { name: /^Mains hum/, level: 3 })).toBeVisible({ timeout: 25_000 })
  await expect(page.getByText(/of 50 Hz mains/)).toBeVisible()
  await expect(page.getByRole('meter', { name: 'Noise of the band in 2500 Hz' })).toHaveAttribute('aria-valuetext', /good from/)
  await expect(page.getByRole('img', { name: /^Spectrum from 0 to 4000 Hz.*Hum of 50 Hz/ })).toBeVisible()
  await page.getByRole('link', { name: /^Ready/ }).click()
  await expect(page.getByText(/narrow filter: only/)).toBeVisible()
})
