import { createSocket } from 'node:dgram'
import type { Page } from '@playwright/test'
import { expect, startPractice, test } from './fixtures'
import { createGpsStandin, type GpsFault } from '../src/standins'
import { locatorToPosition } from '../src/core/place'
import { runGpsStandin } from '../src/standins/node/gpsRunner'
import { freePort } from '../src/server/testing'

const position = locatorToPosition('JN97LK45')

test('a phone that sends NMEA over UDP sets the clock and gives the place, and its faults are named', async ({ page, fresh }) => {
  const port = await freePort()
  await page.goto(`${fresh.url}/clock`)
  await expect(page.getByText('No source has said anything yet')).toBeVisible()
  await page.getByLabel('NMEA over UDP, port').fill(String(port))
  await page.getByRole('button', { name: 'Open it: NMEA over UDP' }).click()
  await expect(page.getByText(`UDP port ${port}, this computer alone.`)).toBeVisible()

  let faults: ReadonlySet<GpsFault> = new Set(['threeSatellites'])
  const started = await runGpsStandin({ seed: 5, position }, { kind: 'udp', host: '127.0.0.1', port }, () => faults)
  if (!started.ok) throw new Error(started.error)
  try {
    const card = page.getByRole('region', { name: 'Receiver at 127.0.0.1' })
    await expect(card.getByText(/Doubtful: only 3 satellites/)).toBeVisible({ timeout: 15_000 })
    await expect(page.getByText('Doubtful', { exact: true })).toBeVisible({ timeout: 15_000 })
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(/nobody knows yet/)
    faults = new Set()
    await expect(card.getByText('Its time is trusted.')).toBeVisible({ timeout: 15_000 })
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^On time, ±0\.1\d s, good until \d\d:\d\d\.$/, { timeout: 75_000 })
    await expect(page.getByText('Used', { exact: true })).toBeVisible()
    await card.getByRole('button', { name: /Use JN97LK45/ }).click()
    await expect(card.getByText('The station’s locator is now JN97LK45.')).toBeVisible()
    // A flood of garbage beside it changes nothing.
    const flood = createSocket('udp4')
    const garbage = Uint8Array.from({ length: 1400 }, (_, i) => (i * 31) % 256)
    for (let i = 0; i < 300; i++) flood.send(garbage, port, '127.0.0.1')
    await expect(page.getByText(/more is sent than any receiver would/)).toBeVisible({ timeout: 10_000 })
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^On time/)
    flood.close()
    await page.getByRole('link', { name: /^Ready/ }).click()
    await expect(page.getByText(/within 0\.1\d s, good until \d\d:\d\d \(GPS\)/)).toBeVisible()
  } finally {
    started.standin.stop()
  }
})

test('a receiver on a serial port of this device: its speed is found, its time is used', async ({ page, demo }) => {
  // Two minutes of a receiver at 4800 baud, played by the page itself into a port that only understands 4800 baud.
  const standin = createGpsStandin({ seed: 6, position, serialBaud: 4800 })
  const seconds = await page.evaluate(() => Math.floor(Date.now() / 1000) * 1000 + 1000)
  const script = Array.from({ length: 120 }, (_, s) =>
    standin.burst(seconds + s * 1000, new Set()).map(({ atMs, bytes }) => [seconds + s * 1000 + atMs, [...bytes]] as const),
  ).flat()
  await page.addInitScript((pieces) => {
    class Port {
      readable: ReadableStream<Uint8Array> | null = null
      writable = null
      private timers: ReturnType<typeof setTimeout>[] = []
      async open({ baudRate }: { baudRate: number }) {
        this.readable = new ReadableStream({
          start: (controller) => {
            for (const [atMs, bytes] of pieces) {
              const inMs = atMs - Date.now()
              if (inMs < 0) continue
              this.timers.push(
                setTimeout(() => {
                  try {
                    controller.enqueue(Uint8Array.from(bytes, (byte) => (baudRate === 4800 ? byte : (byte * 37) | 0x80)))
                  } catch {
                    // Closed meanwhile.
                  }
                }, inMs),
              )
            }
          },
          cancel: () => this.timers.forEach((timer) => clearTimeout(timer)),
        })
      }
      async close() {
        this.timers.forEach((timer) => clearTimeout(timer))
        this.timers = []
        this.readable = null
      }
    }
    const serial = { requestPort: async () => new Port(), getPorts: async () => [] }
    Object.defineProperty(Navigator.prototype, 'serial', { configurable: true, get: () => serial })
  }, script)
  await page.goto(`${demo.url}/clock`)
  await page.getByRole('region', { name: 'On this device' }).getByRole('button', { name: 'Pick the port' }).click()
  await expect(page.getByText(/is open\.$/)).toBeVisible({ timeout: 20_000 })
  await expect(page.getByText('the picked port at 4800 baud is open.')).toBeVisible()
  await expect(page.getByRole('region', { name: 'Receiver on this device' }).getByText('Its time is trusted.')).toBeVisible({
    timeout: 10_000,
  })
  // What is not known of its own delay stays; the more sentences, the less of the jitter is left: on a busy machine that takes a while.
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^(On time|\d\.\d\d s (fast|slow)), ±0\.1\d s/, { timeout: 75_000 })
  await page.getByRole('button', { name: 'Let go of the port' }).click()
  await expect(page.getByRole('region', { name: 'Receiver on this device' })).toBeHidden()
})

test('time servers: the practice one is asked, and one that lies by a day is not obeyed', async ({ page, demo }) => {
  await page.goto(`${demo.url}/practise`)
  await page.getByRole('button', { name: 'Start it: practice time server' }).click()
  const where = await page.getByText(/Runs on 127\.0\.0\.1:\d+/).innerText()
  const host = /127\.0\.0\.1:\d+/.exec(where)![0]
  await page.getByRole('link', { name: /^Clock/ }).click()
  await page.getByRole('tab', { name: 'Time server' }).click()
  // What was started to practise with is asked already.
  await expect(page.getByRole('button', { name: `Remove ${host}` })).toBeVisible()
  await page.getByRole('button', { name: 'Sync now' }).click()
  await expect(page.getByText(/4 answers, the best after/)).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^(On time|\d\.\d\d s (fast|slow)), ±0\.0\d s, good until/)

  await page.getByRole('link', { name: /^Practise/ }).click()
  await page.getByRole('region', { name: 'Practice time server' }).getByLabel('a day off').check()
  await page.getByRole('link', { name: /^Clock/ }).click()
  await page.getByRole('tab', { name: 'Time server' }).click()
  await page.getByRole('button', { name: 'Sync now' }).click()
  await expect(page.getByText('Disagrees', { exact: true })).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/contradict each other/)
  await expect(page.getByText(/suddenly another time than before\. Zeptik keeps its own/)).toBeVisible()
  expect(Math.abs(Date.now() - (await stripUtc(page)))).toBeLessThan(3000)
  await page.getByRole('button', { name: `Ignore: Time server ${host}` }).click()
  await expect(page.getByText('Ignored', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: `Remove ${host}` }).click()
  await expect(page.getByText('No time server is entered yet')).toBeVisible()
})

/** UTC as the strip shows it, on today's date. */
async function stripUtc(page: Page): Promise<number> {
  const text = await page
    .locator('header')
    .getByText(/^\d\d:\d\d:\d\d$/)
    .innerText()
  return Date.parse(`${new Date().toISOString().slice(0, 10)}T${text}Z`)
}

test('a clock that is off in practice is found by the band and put right between slots', async ({ page, demo }) => {
  await page.goto(`${demo.url}/practise`)
  await page.getByLabel('Your clock').click()
  await page.getByRole('option', { name: '1.4 s fast' }).click()
  await startPractice(page, '8 times')
  await page.getByRole('link', { name: /^Clock/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^1\.\d\d s fast, ±0\.\d\d s, say \d+ stations\.$/, { timeout: 90_000 })
  await expect(page.getByText(/It is you: the middle of \d+ stations/)).toBeVisible()
  await page.getByRole('button', { name: /^Use: The band/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^(On time|0\.\d\d s (fast|slow)), ±0\.\d\d s, good until/, {
    timeout: 90_000,
  })
  await expect(page.getByText(/was moved back by 1\.\d\d s \(The band\)/)).toBeVisible()
  await expect(page.getByText(/It is not you/)).toBeVisible({ timeout: 90_000 })
  // It stays right: later slots agree with what was corrected.
  await page.waitForTimeout(8000)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^(On time|0\.\d\d s (fast|slow)), ±0\.\d\d s, good until/)
})
