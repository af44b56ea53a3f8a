import { readFileSync } from 'node:fs'
import { expect, setUpStation, test as base, showPractice } from './fixtures'
import { startServer, type TestServer } from './server'

/** As freshly installed, and nobody else's: other journeys set the shared one up. */
const test = base.extend<{ own: TestServer }>({
  own: async ({ page }, use) => {
    const server = await startServer()
    await use(server)
    // The page must not see its server die.
    await page.goto('about:blank')
    await server.dispose()
  },
})

/** Pace of the practice band: an over of ten seconds takes under three. */
const PACE = '4 times as fast'

test('a PSK31 contact from sound to log: read, answered, reported, logged and exported', async ({ page, own }) => {
  await page.goto(own.url)
  await setUpStation(page)
  await page.getByRole('link', { name: /^Practise/ }).click()
  await page.getByLabel('Mode', { exact: true }).click()
  await page.getByRole('option', { name: 'PSK31' }).click()
  await page.getByLabel('Pace').click()
  await page.getByRole('option', { name: PACE }).click()
  await page
    .getByRole('button', { name: /^Start/ })
    .first()
    .click()
  await expect(page.getByRole('heading', { name: 'Ribbons' })).toBeVisible()
  await page.getByLabel('Set the dial').click()
  await page.getByRole('option', { name: /20m · 14/ }).click()
  await expect(page.getByText('Nothing in focus')).toBeVisible()
  // A dozen conversations at once, each with its call.
  await expect(page.getByRole('listitem').filter({ hasText: /Q\d[A-Z]{2,3}/ })).toHaveCount(12, { timeout: 120_000 })

  // Somebody who has just called anybody, and is heard well; who does not answer is left for another one.
  let call = ''
  for (let attempt = 0; attempt < 5 && !call; attempt++) {
    const loud = page.getByRole('button', { name: /\+\d+ dB.*calling CQ.*pse k\s*$/s }).nth(attempt % 2)
    await expect(loud).toBeVisible({ timeout: 60_000 })
    await loud.click()
    await page.getByRole('button', { name: 'Answer', exact: true }).click()
    await page.getByRole('button', { name: 'Send this over' }).click()
    if (attempt === 0) {
      await page.getByLabel(/An antenna or dummy load/).check()
      await page.getByLabel(/Hands and people are clear/).check()
      await page.getByRole('button', { name: /^Checked/ }).click()
    }
    await expect(page.getByText('TRANSMITTING')).toBeVisible()
    await expect(page.getByText('TRANSMITTING')).toBeHidden({ timeout: 30_000 })
    const told = page.getByLabel(/^Name, read/)
    if (
      await told.waitFor({ timeout: 30_000 }).then(
        () => true,
        () => false,
      )
    )
      call = await page.getByLabel(/^Call, read/).inputValue()
    else await page.getByRole('button', { name: 'Leave it' }).click()
  }
  expect(call).toMatch(/^Q\d[A-Z]{2,3}$/)
  await expect(page.getByLabel(/^Report got, read/)).toHaveValue(/^5[579]9$/, { timeout: 30_000 })
  await expect(page.getByLabel('What was said').getByText(/kn\s*$/)).toBeVisible({ timeout: 30_000 })

  // The report goes out as a phrase that is filled in; what is typed after it joins the over.
  await page.getByLabel(/^Report given/).fill('579')
  await page.getByRole('button', { name: 'Report', exact: true }).click()
  await page.getByRole('button', { name: 'Send this over' }).click()
  await expect(page.getByText('TRANSMITTING')).toBeVisible()
  await expect(page.getByText('TRANSMITTING')).toBeHidden({ timeout: 60_000 })
  await expect(page.getByLabel('What was said').getByText(/73 73/)).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: 'Log it' }).click()
  await expect(page.getByText(/In the log since/)).toBeVisible()

  // Silence ends an over at once, and says what was cut off.
  await page.getByLabel('What to send').fill('73 73 and a long good bye to all of you on the river')
  await page.getByRole('button', { name: 'Send this over' }).click()
  await expect(page.getByText('TRANSMITTING')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByText('TRANSMITTING')).toBeHidden()
  await expect(page.getByText(/Cut off after/)).toBeVisible()

  await page.getByRole('link', { name: 'Log' }).click()
  await showPractice(page)
  // The newest stands first; the same call may have been worked in another mode.
  await expect(page.getByRole('button', { name: new RegExp(call) }).first()).toContainText('PSK31')
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: /of practice as ADIF$/ }).click()])
  const record = readFileSync(await download.path(), 'utf8')
    .split('<EOR>')
    .find((one) => one.includes(`>${call} `) && one.includes('PSK31'))!
  expect(record).toMatch(/<MODE:3>PSK .*<SUBMODE:5>PSK31 /s)
  expect(record).toMatch(/<RST_SENT:3>579 .*<RST_RCVD:3>5[579]9 /s)
})

test('twenty ribbons and more on a laptop and on a tablet, for who only listens', async ({ page, own }) => {
  await page.goto(own.url)
  await page.getByRole('link', { name: /^Practise/ }).click()
  await page.getByLabel('Mode', { exact: true }).click()
  await page.getByRole('option', { name: 'PSK31' }).click()
  await page.getByLabel('Stations').click()
  await page.getByRole('option', { name: '60' }).click()
  await page.getByLabel('Pace').click()
  await page.getByRole('option', { name: '2 times as fast' }).click()
  await page
    .getByRole('button', { name: /^Start/ })
    .first()
    .click()
  await expect(page.getByRole('heading', { name: 'Ribbons' })).toBeVisible()
  const ribbons = page.getByRole('listitem').filter({ hasText: /dB.*Q\d[A-Z]{2,3}/s })
  await expect.poll(() => ribbons.count(), { timeout: 120_000 }).toBeGreaterThanOrEqual(20)
  for (const size of [
    { width: 1280, height: 800 },
    { width: 800, height: 1280 },
  ]) {
    await page.setViewportSize(size)
    // Each stands whole within the width of the screen, one under the other.
    const seen = await ribbons.evaluateAll((rows) =>
      rows.map((row) => {
        const { x, y, width, height } = row.getBoundingClientRect()
        return { x, y, width, height }
      }),
    )
    expect(seen.length).toBeGreaterThanOrEqual(20)
    for (const box of seen) {
      expect(box.height).toBeGreaterThanOrEqual(44)
      expect(box.x + box.width).toBeLessThanOrEqual(size.width)
    }
    expect(new Set(seen.map((box) => Math.round(box.y))).size).toBe(seen.length)
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(size.width)
  }

  // Without a call nothing that sends is in the way: text, who and where, found again, and saved.
  await page.getByRole('button', { name: 'CQ first' }).click()
  await ribbons.first().getByRole('button').click()
  await expect(page.getByText(/You are listening/)).toBeVisible()
  await expect(page.getByLabel('What to send')).toBeHidden()
  await expect(page.getByRole('button', { name: 'Log it' })).toBeHidden()
  const [saved] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save text' }).click()])
  expect(readFileSync(await saved.path(), 'utf8')).toMatch(/^\d\d:\d\d:\d\d received /)
  await page.getByRole('button', { name: 'Find text' }).click()
  await page.getByLabel('Word or call').fill('cq cq')
  await expect(page.getByText(/^[1-9]\d* places? with “cq cq”/)).toBeVisible({ timeout: 60_000 })
  const [all] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Save all text' }).click()])
  expect(readFileSync(await all.path(), 'utf8')).toMatch(/Hz .* dB .*cq cq/)
})
