import { createServer, get } from 'node:http'
import { answerFirst, exchangeSentence, expect, showPractice, startPractice, test } from './fixtures'
import { freePort } from '../src/server/testing'
import { launch, startServer } from './server'

test('a denied microphone is explained', async ({ page, demo }) => {
  await page.goto(`${demo.url}/connect`)
  await page.getByRole('button', { name: 'Start listening' }).click()
  await expect(page.getByText(/not allowed to use the microphone|No audio input was found/).first()).toBeVisible()
  await page.getByRole('link', { name: /^Ready/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Not yet: (The browser was not allowed|No audio input)/)
})

test('what is no recording is refused with a reason', async ({ page, demo }) => {
  await page.goto(`${demo.url}/connect`)
  await page
    .getByLabel('Recording to open')
    .setInputFiles({ name: 'letter.wav', mimeType: 'audio/wav', buffer: Buffer.from('dear operator') })
  await expect(page.getByText(/letter\.wav: this is not a WAV file/)).toBeVisible()
})

test('a second tab looks on, and can take the station over', async ({ page, context, demo }) => {
  await page.goto(demo.url)
  await startPractice(page, '8 times')
  const second = await context.newPage()
  await second.goto(`${demo.url}/slots`)
  await expect(second.getByText('Another screen runs the station.')).toBeVisible()
  // Silence holds from a tab that only looks on, too.
  await page.bringToFront()
  await answerFirst(page)
  await expect(exchangeSentence(page)).toHaveText(/^With /)
  await second.bringToFront()
  await second.getByRole('button', { name: /^Silence/ }).click()
  await expect(exchangeSentence(page)).toHaveText(/^Silenced/)
  await second.getByRole('button', { name: 'Take the station over' }).click()
  await expect(second.getByText('Another screen runs the station.')).toBeHidden()
  await expect(page.getByText('Another screen runs the station.')).toBeVisible()
  await second.close()
})

test.describe('with a server that dies', () => {
  test.use({ deadServerExpected: true })

  test('a contact made while the server is dead waits, and is stored once when it is back', async ({ page }) => {
    const server = await startServer({ demo: true })
    try {
      await page.goto(server.url)
      // The log screen is visited first, so that its code is there when the server is not.
      await page.getByRole('link', { name: 'Log' }).click()
      await expect(page.getByText('8 contacts with 8 stations')).toBeVisible()
      await startPractice(page, '8 times')
      let call = ''
      for (let attempt = 0; attempt < 4; attempt++) {
        call = await answerFirst(page)
        if (attempt === 0) await server.kill()
        await expect(exchangeSentence(page)).toHaveText(/complete|did not answer|working another/, { timeout: 120_000 })
        if (/complete/.test(await exchangeSentence(page).innerText())) break
      }
      await expect(page.getByText('Log server not answering')).toBeVisible()
      await expect(page.getByText('1 contact kept in this device')).toBeVisible()
      await server.restart()
      await expect(page.getByText('1 contact kept in this device')).toBeHidden({ timeout: 40_000 })
      // Killed again right after it said that the contact is stored, the server still has it.
      await server.kill()
      await server.restart()
      await page.goto(`${server.url}/log`)
      await expect(page.getByText('8 contacts with 8 stations')).toBeVisible()
      await showPractice(page)
      await expect(page.getByText('1 contact with 1 station')).toBeVisible()
      await page.getByLabel('Search').fill(call)
      await expect(page.getByText('1 contact with 1 station')).toBeVisible()
    } finally {
      await server.dispose()
    }
  })
})

test('a second server on the same data is refused, and a taken port is named', async ({ demo }) => {
  const second = launch({ PORT: String(await freePort()), ZEPTIK_DATA: demo.dataFolder })
  expect(await second.ended).toBe(1)
  expect(second.output()).toMatch(/another Zeptik is already running on the data folder/)

  const port = await freePort()
  const squatter = createServer().listen(port, '127.0.0.1')
  const third = launch({ PORT: String(port), ZEPTIK_DATA: `${demo.dataFolder}-other` })
  expect(await third.ended).toBe(1)
  expect(third.output()).toMatch(new RegExp(`port ${port} on 127.0.0.1 is taken`))
  squatter.close()

  const fourth = launch({ PORT: 'eighty' })
  expect(await fourth.ended).toBe(1)
  expect(fourth.output()).toMatch(/PORT must be a number/)
})

test('the demo starts twice in a row on its own data, and Ctrl-C ends it cleanly', async () => {
  const server = await startServer({ demo: true })
  expect(await server.interrupt()).toBe(0)
  await server.restart()
  const profile = (await (await fetch(`${server.url}/api/profile`)).json()) as { station: { call: string } }
  expect(profile.station.call).toBe('Q5RVR')
  await server.dispose()
})

test('the server refuses what it should not take', async ({ demo }) => {
  const post = (path: string, body: string, headers: Record<string, string> = {}) =>
    fetch(demo.url + path, { method: 'POST', body, headers: { 'content-type': 'application/json', ...headers } })
  expect((await post('/api/contacts', 'not json')).status).toBe(400)
  expect((await post('/api/contacts', '[{"call":"Q1ABC"}]')).status).toBe(422)
  expect((await post('/api/contacts', `["${'x'.repeat(2_100_000)}"]`)).status).toBe(413)
  expect((await post('/api/contacts', '[]', { origin: 'http://elsewhere.example' })).status).toBe(403)
  // No other page may hold one of these within itself, where it could lead a finger astray.
  const page = await fetch(`${demo.url}/slots`)
  expect(page.headers.get('content-security-policy')).toMatch(/frame-ancestors 'none'/)
  expect(page.headers.get('x-frame-options')).toBe('DENY')
  // Nor does it answer to a name that somebody else let point here.
  const named = (name: string) =>
    new Promise<number | undefined>((done) =>
      get({ host: '127.0.0.1', port: demo.port, path: '/api/health', headers: { host: name } }, (r) => (r.resume(), done(r.statusCode))),
    )
  expect(await named(`elsewhere.example:${demo.port}`)).toBe(403)
  expect(await named(`localhost:${demo.port}`)).toBe(200)
  // Not even a stream is opened for another site: it would take a lent port away.
  const relay = (headers: Record<string, string>) => fetch(`${demo.url}/api/links/relay?by=serial`, { headers })
  expect((await relay({ origin: 'http://elsewhere.example' })).status).toBe(403)
  expect((await relay({ 'sec-fetch-site': 'cross-site' })).status).toBe(403)
  expect((await fetch(`${demo.url}/api/contacts/not-an-id`)).status).toBe(404)
  expect((await fetch(`${demo.url}/api/contacts?limit=100000`)).status).toBe(422)
})
