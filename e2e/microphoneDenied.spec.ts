import { chromiumLaunch } from './chromium'
import { expect, test } from './fixtures'

test.use({ launchOptions: chromiumLaunch('--use-fake-device-for-media-stream', '--deny-permission-prompts') })
test('the microphone’s refusal is explained; two devices of one name are told apart', async ({ page, demo }) => {
  await page.addInitScript(() => {
    const device = (deviceId: string) => ({ deviceId, groupId: deviceId, kind: 'audioinput', label: 'Reed Box', toJSON: () => ({}) })
    navigator.mediaDevices.enumerateDevices = async () => [device('a'), device('b')] as MediaDeviceInfo[]
  })
  await page.goto(`${demo.url}/connect`)
  await page.getByRole('button', { name: 'Start listening' }).click()
  await expect(page.getByRole('main').getByRole('alert')).toContainText('was not allowed to use the microphone')
  await page.getByLabel('Audio input').click()
  await expect(page.getByRole('option', { name: 'Reed Box (1 of 2)' })).toBeVisible()
  await expect(page.getByRole('option', { name: 'Reed Box (2 of 2)' })).toBeVisible()
})
