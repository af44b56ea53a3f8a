import { existsSync } from 'node:fs'
import puppeteer from 'puppeteer-core'
import { expect, test } from './fixtures'

const FIREFOX = process.env.FIREFOX ?? '/usr/bin/firefox-esr'

test.skip(!existsSync(FIREFOX), `there is no Firefox at ${FIREFOX}; FIREFOX names one`)

test('another browser: a contact on the practice band begins, and what it lacks is said where it is missed', async ({ demo }) => {
  test.setTimeout(400_000)
  const browser = await puppeteer.launch({
    browser: 'firefox',
    executablePath: FIREFOX,
    headless: true,
    defaultViewport: null,
    args: ['--width=1280', '--height=900'],
  })
  const faults: string[] = []
  // Firefox says so of every open stream when the page is left.
  const leaving = /was interrupted while the page was loading/
  const fault = (words: string) => !leaving.test(words) && faults.push(words)
  try {
    const page = await browser.newPage()
    page.on('console', (message) => message.type() === 'error' && fault(message.text()))
    page.on('pageerror', (error) => fault(String(error)))
    const seen = (text: string, timeout = 60_000) => page.waitForSelector(`::-p-text(${text})`, { timeout })
    // What is drawn anew in the moment of the click is clicked once more.
    const press = (selector: string) =>
      expect(async () => (await page.waitForSelector(selector, { timeout: 20_000, visible: true }))!.click()).toPass({ timeout: 60_000 })
    await page.goto(demo.url)
    await page.evaluate(() => localStorage.setItem('zeptik.practice', JSON.stringify({ mode: 'ft8', pace: 4, seed: '7' })))
    await page.reload()
    await press('::-p-text(Start the practice band)')
    // Decoding is slow here while other tests decode as well.
    await seen('calling CQ', 240_000)
    // A row that has just moved is not obeyed: then once more.
    await expect(async () => {
      await (await page.$('button[data-answer]'))!.click()
      await seen('Before the first transmission', 3000)
    }).toPass({ timeout: 40_000 })
    await press('::-p-text(An antenna or dummy load)')
    await press('::-p-text(Hands and people are clear)')
    await press('::-p-text(Checked.)')
    // At this pace a transmission is over in less than two seconds: what it leaves stays.
    await page.waitForSelector('[data-direction="sent"]', { timeout: 120_000 })
    await press('header button')
    await page.waitForSelector('header[data-onair="false"][data-armed="false"]', { timeout: 20_000 })
    await page.goto(`${demo.url}/clock`)
    await seen('This browser has no serial ports.')
  } finally {
    await browser.close()
  }
  expect(faults).toEqual([])
})
