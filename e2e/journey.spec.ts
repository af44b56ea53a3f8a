import { readFileSync } from 'node:fs'
import { answerFirst, exchangeSentence, expect, setUpStation, showPractice, startPractice, test } from './fixtures'
import { startServer } from './server'

/** Records of an ADIF file, without its head (which holds the time of export). */
const records = (path: string) => readFileSync(path, 'utf8').split('<EOH>')[1]!.trim()

test('from a fresh install to a contact in the log and an ADIF file that imports back the same', async ({ page, fresh }) => {
  await page.goto(fresh.url)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Not yet: nothing is being listened to.')
  await expect(page.getByText('no own call is set')).toBeVisible()
  await setUpStation(page)

  await startPractice(page, '8 times')
  await page.getByLabel('Set the dial').click()
  await page.getByRole('option', { name: /20m/ }).click()
  await page.getByRole('link', { name: /^Ready/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Yes, you can operate in practice.')
  await page.getByRole('link', { name: /^Slots/ }).click()

  // Stations vanish now and then, as on the air: another one is tried then.
  let call = ''
  for (let attempt = 0; attempt < 4; attempt++) {
    call = await answerFirst(page)
    await expect(exchangeSentence(page)).toHaveText(/complete|did not answer|working another/, { timeout: 120_000 })
    if (/complete/.test(await exchangeSentence(page).innerText())) break
  }
  await expect(exchangeSentence(page)).toHaveText(`Contact with ${call} is complete and in the log.`)

  await page.getByRole('link', { name: 'Log' }).click()
  // Practice is not among what was on the air, nor in its file.
  await expect(page.getByText('0 contacts with 0 stations')).toBeVisible()
  await showPractice(page)
  const row = page.getByRole('button', { name: new RegExp(call) })
  await expect(row).toContainText('practice')
  await expect(row).toContainText('20m')
  await expect(row).toContainText(/[A-R]{2}\d{2}/)
  await row.click()
  await expect(page.getByText(`${call} Q5RVR JN97`)).toBeVisible()

  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: /^Export 1 of practice/ }).click()])
  expect(download.suggestedFilename()).toMatch(/^zeptik-practice-/)
  const path = await download.path()
  expect(records(path)).toMatch(new RegExp(`<CALL:${call.length}>${call} `))
  expect(records(path)).toMatch(/<COMMENT:24>PRACTICE, not on the air .*<APP_ZEPTIK_ORIGIN:8>practice/)
  expect(records(path)).toMatch(/<GRIDSQUARE:4>[A-R]{2}\d{2} .*<STATION_CALLSIGN:5>Q5RVR <MY_GRIDSQUARE:6>JN97lk/)

  const other = await startServer()
  try {
    await page.goto(`${other.url}/log`)
    await page
      .getByLabel('ADIF file to import')
      .setInputFiles({ name: 'from-the-field.adi', mimeType: 'text/plain', buffer: readFileSync(path) })
    await expect(page.getByText(/1 record read: 1 new, 0 already in the log, 0 with a problem/)).toBeVisible()
    await page.getByRole('button', { name: 'Import 1' }).click()
    await expect(page.getByText('1 contact stored.')).toBeVisible()
    await showPractice(page)
    const [again] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: /^Export 1 of practice/ }).click()])
    expect(records(await again.path())).toBe(records(path))
  } finally {
    // The page must not see its server die: that is another test.
    await page.goto('about:blank')
    await other.dispose()
  }
})

test('a log can be searched, filled in, and a deletion undone', async ({ page, demo }) => {
  await page.goto(`${demo.url}/log`)
  await expect(page.getByText('8 contacts with 8 stations')).toBeVisible()
  await page.getByLabel('Show').click()
  await page.getByRole('option', { name: 'Something missing' }).click()
  await page.getByRole('button', { name: /Q4FEN/ }).click()
  await page.getByLabel('Locator', { exact: true }).fill('IM77')
  await page.getByRole('button', { name: 'Save changes' }).click()
  await expect(page.getByText('No contact fits this search.')).toBeVisible()
  await expect(page.getByText(/locator was empty/)).toBeVisible()

  await page.getByLabel('Show').click()
  await page.getByRole('option', { name: 'Everything' }).click()
  await page.getByLabel('Search').fill('oskar')
  await page.getByRole('button', { name: /Q6RUS/ }).click()
  await page.getByRole('button', { name: 'Delete' }).click()
  await expect(page.getByText(/^Deleted: the contact with Q6RUS/)).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('button', { name: /Q6RUS/ })).toBeVisible()
})

test('a broken ADIF file is explained and imports nothing', async ({ page, demo }) => {
  await page.goto(`${demo.url}/log`)
  const text = 'head <EOH>\n<CALL:5>Q1ABC <QSO_DATE:8>20260631 <TIME_ON:4>1200 <MODE:3>FT8 <EOR>\n<CALL:50>Q2'
  await page.getByLabel('ADIF file to import').setInputFiles({ name: 'broken.adi', mimeType: 'text/plain', buffer: Buffer.from(text) })
  await expect(page.getByText(/line 2, QSO_DATE/)).toBeVisible()
  await expect(page.getByText(/line 3, CALL: 50 characters are announced/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Import 0' })).toBeDisabled()
  await page.getByRole('button', { name: 'Cancel' }).click()
  await expect(page.getByText('8 contacts with 8 stations')).toBeVisible()
})
