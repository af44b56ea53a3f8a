import { hearing } from './faultyRecording'
import { expect, test } from './fixtures'

test.use({ launchOptions: hearing('clipping', { fault: 'clipping', amount: 44 }) })
test('a level that is far too high is called clipping, the guide says by how much to turn down, and a pulled-out device is noticed', async ({
  page,
  demo,
}) => {
  // The list of devices as it will be when the interface is pulled out.
  await page.addInitScript(() => {
    const media = navigator.mediaDevices
    const list = media.enumerateDevices.bind(media)
    const state = window as unknown as { pulled?: boolean }
    media.enumerateDevices = async () => (state.pulled ? (await list()).filter((d) => d.kind !== 'audioinput') : list())
  })
  await page.goto(`${demo.url}/connect`)
  await page.getByRole('button', { name: 'Start listening' }).click()
  await page.getByRole('link', { name: /^Levels/ }).click()
  await expect(page.getByRole('heading', { name: /^Clipping/, level: 3 })).toBeVisible({ timeout: 25_000 })
  await page.getByRole('button', { name: 'Guide me through it' }).click()
  await expect(page.getByRole('group', { name: 'Guided set-up' })).toContainText(/Turn down by about \d\d dB/)
  await page.evaluate(() => {
    ;(window as unknown as { pulled: boolean }).pulled = true
    navigator.mediaDevices.dispatchEvent(new Event('devicechange'))
  })
  await expect(page.getByRole('heading', { name: 'Nothing is listened to' })).toBeVisible()
  await page.getByRole('link', { name: /^Connect/ }).click()
  await expect(page.getByRole('main').getByRole('alert')).toContainText('vanished. Plug it in again')
})
