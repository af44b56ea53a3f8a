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
