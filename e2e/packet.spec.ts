import { expect, test } from './fixtures'

test('a packet session over the practice TNC: linked, called by a digipeater, typed in, and cut by Silence', async ({ page, demo }) => {
  // The practice TNC and its link, as the screens of practice and TNC set them.
  const started = await page.request.put(`${demo.url}/api/links/standins`, { data: { tnc: { faults: [] } } })
  const { tnc } = (await started.json()) as { tnc: { port: number } }
  const config = (await (await page.request.get(`${demo.url}/api/links/config`)).json()) as { tnc: object }
  const linked = { ...config, tnc: { ...config.tnc, enabled: true, port: { kind: 'tcp', host: '127.0.0.1', port: tnc.port } } }
  expect((await page.request.put(`${demo.url}/api/links/config`, { data: linked })).ok()).toBe(true)

  await page.goto(`${demo.url}/sessions`)
  await expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible()
  await expect(page.getByText(/Channel in use \d+ %/)).toBeVisible()
  await page.getByLabel('Station to call').fill('q5ctl-7')
  await page.getByLabel('By digipeaters').fill('q8top')
  await page.getByRole('button', { name: 'Call', exact: true }).click()
  await page.getByLabel(/An antenna or dummy load/).check()
  await page.getByLabel(/Hands and people are clear/).check()
  await page.getByRole('button', { name: /^Checked/ }).click()
  await expect(page.getByRole('heading', { name: 'Q5CTL-7 by Q8TOP' })).toBeVisible()
  const log = page.getByRole('log')
  await expect(log.getByText('Q5CTL-7>').first()).toBeVisible({ timeout: 120_000 })

  await page.getByLabel('Line to send').fill('i')
  await page.keyboard.press('Enter')
  await expect(log.getByText('Q5CTL-7 is a made-up node for practice.')).toBeVisible({ timeout: 120_000 })
  await expect(
    page
      .getByRole('list', { name: /^Frames/ })
      .getByText('acknowledged')
      .first(),
  ).toBeVisible()
  await expect(page.getByRole('button', { name: /Q5CTL-7.*by Q8TOP/ })).toBeVisible()

  await page.keyboard.press('Escape')
  await expect(page.getByRole('button', { name: 'Call again' })).toBeVisible()
  await expect(page.getByRole('status').getByText(/^Silenced/)).toBeVisible()
  // It is put back as it was: others share this server.
  await page.getByRole('button', { name: 'Put away' }).click()
  await page.request.put(`${demo.url}/api/links/standins`, { data: { tnc: null } })
  await expect(page.getByText('Link a TNC')).toBeVisible()
})

test('a packet session by the sound of this device: modem and practice channel, cut by Silence in the middle of a transmission', async ({
  page,
  demo,
}) => {
  const profile = (await (await page.request.get(`${demo.url}/api/profile`)).json()) as { settings: { modes: string[] } }
  await page.request.put(`${demo.url}/api/profile`, { data: { settings: { ...profile.settings, modes: ['ft8', 'psk31', 'packet'] } } })
  await page.goto(`${demo.url}/practise`)
  // With three modes in use the page is no taller than its window: the strip with Silence stays where it is.
  expect(await page.evaluate(() => document.documentElement.scrollHeight - innerHeight)).toBe(0)
  await page.getByLabel('Mode').click()
  await page.getByRole('option', { name: 'Packet' }).click()
  await page.getByRole('button', { name: 'Start the practice band' }).click()
  await expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible()
  await page.getByRole('button', { name: 'Modem of this device' }).click()
  // Somebody is read out of the sound, and stands among those heard.
  await expect(page.getByRole('button', { name: /Q7HUT-1.*direct/ })).toBeVisible({ timeout: 120_000 })

  await page.getByLabel('Station to call').fill('q5ctl-7')
  await page.getByRole('button', { name: 'Call', exact: true }).click()
  const antenna = page.getByLabel(/An antenna or dummy load/)
  const connected = page.getByRole('log').getByText('Connected to Q5CTL-7.')
  // The station's gate and the server's may each ask for the check.
  await expect(async () => {
    if (await antenna.isVisible()) {
      await antenna.check()
      await page.getByLabel(/Hands and people are clear/).check()
      await page.getByRole('button', { name: /^Checked/ }).click()
    }
    await expect(connected).toBeVisible({ timeout: 5000 })
  }).toPass({ timeout: 120_000 })
  await expect(page.getByRole('log').getByText('Q5CTL-7>').first()).toBeVisible({ timeout: 120_000 })

  await page.getByRole('button', { name: 'Monitor' }).click()
  await expect(page.getByRole('list', { name: 'Frames on the channel' }).getByText(/Q5RVR>Q5CTL-7:<SABM P>/)).toBeVisible()
  await page.getByRole('button', { name: 'Session', exact: true }).click()
  await page.getByLabel('Line to send').fill('x'.repeat(900))
  await page.keyboard.press('Enter')
  await expect(page.getByText(/Packet, \d+ frames/).first()).toBeVisible({ timeout: 60_000 })
  await page.keyboard.press('Escape')
  await expect(page.getByText(/Packet, \d+ frames/)).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Call again' })).toBeVisible()

  // What was said is kept, and found.
  await page.getByRole('button', { name: 'Kept sessions' }).click()
  await page.getByLabel('Word or call').fill('q5ctl')
  await expect(page.getByRole('button', { name: /Q5CTL-7.*direct/ }).last()).toBeVisible({ timeout: 60_000 })
  await page.request.put(`${demo.url}/api/profile`, { data: { settings: profile.settings } })
})
