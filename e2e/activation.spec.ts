import { readFileSync } from 'node:fs'
import { answerFirst, exchangeSentence, expect, setUpStation, startPractice, test } from './fixtures'
import { startServer, type TestServer } from './server'

// The station is set up here: a server of their own, so that none that is to be fresh knows it.
let server: TestServer
test.beforeAll(async () => {
  server = await startServer()
})
test.afterAll(() => server.dispose())

/** Fields of each record of an ADIF file. */
function readRecords(path: string): Map<string, string>[] {
  const body = readFileSync(path, 'utf8').split('<EOH>')[1]!
  return body
    .split('<EOR>')
    .filter((record) => record.trim() !== '')
    .map((record) => {
      const fields = new Map<string, string>()
      for (const [, name, length, rest] of record.matchAll(/<([A-Z_]+):(\d+)>([^<]*)/g)) fields.set(name!, rest!.slice(0, Number(length)))
      return fields
    })
}

test('a full activation on the practice band, from its goal to the file for its programme', async ({ page }) => {
  test.setTimeout(900_000)
  const goal = 2
  await page.goto(server.url)
  await setUpStation(page)
  await page.getByLabel('Tries for one step').fill('2')
  await page.getByRole('button', { name: 'Save the station' }).click()
  await expect(page.getByText('Saved.')).toBeVisible()
  await startPractice(page, '8 times', '11')
  await page.getByLabel('Set the dial').click()
  await page.getByRole('option', { name: /20m/ }).click()
  await page.getByRole('link', { name: /^Plan/ }).click()
  await page.getByRole('link', { name: 'Activation' }).click()
  await page.getByLabel('Place').fill('Sallow Reach ferry landing')
  await page.getByLabel('Programme').fill('rivers')
  await page.getByLabel('Reference').fill('sr-0042')
  await page.getByLabel('Goal').fill(String(goal))
  await page.getByRole('button', { name: 'Start for practice' }).click()
  await expect(page.getByText(`${goal} to go.`)).toBeVisible()
  await expect(page.getByText(/^Q5RVR at RIVERS SR-0042 \(Sallow Reach ferry landing\), FT8 on 14\.074 MHz/)).toBeVisible()

  const worked: string[] = []
  await page.getByRole('link', { name: /^Slots/ }).click()
  // Who can be worked, the strongest first.
  await page.getByRole('button', { name: /^Can be worked/ }).click({ timeout: 60_000 })
  await page.getByLabel('Sort by').click()
  await page.getByRole('option', { name: 'strongest' }).click()
  // Stations vanish and go to others, as on the air: then the next one is tried.
  for (let attempt = 0; attempt < 20 && worked.length < goal; attempt++) {
    const call = await answerFirst(page)
    await expect(exchangeSentence(page)).toHaveText(new RegExp(`${call}.*(complete|did not answer|working another)`), { timeout: 240_000 })
    if (/complete/.test(await exchangeSentence(page).innerText()) && !worked.includes(call)) worked.push(call)
  }
  expect(worked).toHaveLength(goal)
  // Whoever was worked is no longer among those to work.
  for (const call of worked) await expect(page.getByRole('button', { name: `Answer ${call}`, exact: true })).toHaveCount(0)

  await page.getByRole('link', { name: /^Plan/ }).click()
  await page.getByRole('link', { name: 'Activation' }).click()
  await expect(page.getByText(/^The goal was reached at \d\d:\d\d UTC\./)).toBeVisible()
  const other = worked[goal - 1]!
  await page.getByRole('textbox', { name: `Reference of ${other}` }).fill('sr-0007')
  await page.getByRole('button', { name: `Keep reference of ${other}` }).click()
  await expect(page.getByText(/1 with stations at a reference of their own/)).toBeVisible()

  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: `ADIF of all ${goal}` }).click()])
  const records = readRecords(await download.path())
  const { rows: stored } = (await (await fetch(`${server.url}/api/contacts?origin=practice`)).json()) as {
    rows: { call: string; locator: string | null }[]
  }
  expect(records.map((r) => r.get('CALL'))).toEqual(worked)
  for (const record of records) {
    const fixed = {
      MODE: 'FT8',
      BAND: '20m',
      STATION_CALLSIGN: 'Q5RVR',
      MY_GRIDSQUARE: 'JN97lk',
      MY_SIG: 'RIVERS',
      MY_SIG_INFO: 'SR-0042',
      TX_PWR: '10',
    }
    for (const [name, value] of Object.entries(fixed)) expect(`${name} ${record.get(name)}`).toBe(`${name} ${value}`)
    expect(record.get('QSO_DATE')).toMatch(/^20\d{6}$/)
    // The band ran at eight times the pace; the record says when it was practised.
    const [date, on] = [record.get('QSO_DATE')!, record.get('TIME_ON')!]
    const startedUtcMs = Date.parse(`${date.replace(/(....)(..)(..)/, '$1-$2-$3')}T${on.replace(/(..)(..)(..)/, '$1:$2:$3')}Z`)
    expect(startedUtcMs).toBeLessThan(Date.now())
    expect(startedUtcMs).toBeGreaterThan(Date.now() - 15 * 60_000)
    expect(record.get('COMMENT')).toBe('PRACTICE, not on the air')
    expect(record.get('RST_SENT')).toMatch(/^[+-]\d\d$/)
    expect(record.get('RST_RCVD')).toMatch(/^[+-]\d\d$/)
    // Who never told a locator has none, in the log as in the file.
    expect(record.get('GRIDSQUARE') ?? null).toBe(stored.find((c) => c.call === record.get('CALL'))!.locator)
    const megahertz = Number(record.get('FREQ'))
    expect(megahertz).toBeGreaterThan(14.074)
    expect(megahertz).toBeLessThan(14.077)
    expect(record.get('SIG_INFO')).toBe(record.get('CALL') === other ? 'SR-0007' : undefined)
  }

  // The map and the sums know of it.
  await page.getByRole('link', { name: /^Reach/ }).click()
  // Whoever told no locator is counted, but on no map.
  const located = stored.filter((c) => c.locator !== null).length
  await expect(page.getByText(new RegExp(`with a locator, ${located} of them worked`))).toBeVisible()
  await expect(page.getByText(`${goal} with ${goal} stations`)).toBeVisible()
})

test('a plan comes back from a calendar, and mentions a change', async ({ page }) => {
  await page.goto(`${server.url}/plan`)
  const stamp = (ms: number) => new Date(ms).toISOString().replace(/[-:]|\.\d+/g, '')
  const soon = Date.now() + 4 * 60_000
  const event = `BEGIN:VEVENT\r\nUID:race\r\nDTSTAMP:${stamp(soon)}\r\nSUMMARY:Second start\r\nDTSTART:${stamp(soon)}\r\nDTEND:${stamp(soon + 3_600_000)}\r\nEND:VEVENT`
  const text = `BEGIN:VCALENDAR\r\nVERSION:2.0\r\n${event}\r\nEND:VCALENDAR\r\n`
  await page.getByLabel('Calendar file to read').setInputFiles({ name: 'race.ics', mimeType: 'text/calendar', buffer: Buffer.from(text) })
  await expect(page.getByText('Taken from the calendar: 1 period and 0 nets.')).toBeVisible()
  await expect(page.getByText(/At \d\d:\d\d, in [34] min: FT8\./)).toBeVisible()
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Save as calendar file' }).click()])
  expect(readFileSync(await download.path(), 'utf8')).toContain(`DTSTART:${stamp(Math.floor(soon / 1000) * 1000)}`)
  await page.getByRole('button', { name: 'Noted' }).click()
  await expect(page.getByText(/in [34] min: FT8\./)).toBeHidden()
})
