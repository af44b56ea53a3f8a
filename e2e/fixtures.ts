import { expect, test as base, type Page } from '@playwright/test'
import { startServer, type TestServer } from './server'

/** Says of the network while a test has its server dead; everything else in the console is a fault. */
const NETWORK = /Failed to load resource|ERR_CONNECTION|Failed to fetch|net::|NetworkError/

interface Fixtures {
  /** Lets console errors about an unreachable server pass, in tests that make it unreachable. */
  deadServerExpected: boolean
}
interface WorkerFixtures {
  /** A server with the demo scenario. */
  demo: TestServer
  /** A server as freshly installed. */
  fresh: TestServer
}

export const test = base.extend<Fixtures, WorkerFixtures>({
  deadServerExpected: [false, { option: true }],
  demo: [
    async ({}, use) => {
      const server = await startServer({ demo: true })
      await use(server)
      await server.dispose()
    },
    { scope: 'worker' },
  ],
  fresh: [
    async ({}, use) => {
      const server = await startServer()
      await use(server)
      await server.dispose()
    },
    { scope: 'worker' },
  ],
  context: async ({ context, deadServerExpected }, use) => {
    const faults: string[] = []
    const watch = (page: Page) => {
      page.on('console', (message) => {
        if (message.type() !== 'error') return
        if (deadServerExpected && NETWORK.test(message.text())) return
        faults.push(`console: ${message.text()}`)
      })
      page.on('pageerror', (error) => faults.push(`page: ${error.message}`))
    }
    context.on('page', watch)
    await use(context)
    expect(faults).toEqual([])
  },
})

export { expect }

/** Fills in the made-up station on a fresh install. */
export async function setUpStation(page: Page): Promise<void> {
  await page.getByRole('link', { name: /^Station/ }).click()
  await page.getByLabel('Own call').fill('Q5RVR')
  await page.getByLabel('Name').fill('Rowan Ames')
  await page.getByLabel('Locator', { exact: true }).fill('JN97LK')
  await page.getByLabel('Power in W').fill('10')
  await page.getByLabel(/I hold a licence/).check()
  await page.getByRole('button', { name: 'Save the station' }).click()
  await expect(page.getByText('Saved.')).toBeVisible()
}

/** Starts the practice band at a pace. */
export async function startPractice(page: Page, pace: '2 times' | '4 times' | '8 times' | 'Real time', seed = '7'): Promise<void> {
  await page.getByRole('link', { name: /^Practise/ }).click()
  await page.getByLabel('Pace').click()
  await page.getByRole('option', { name: pace }).click()
  await page.getByLabel('Band number').fill(seed)
  await page.getByRole('button', { name: 'Start the practice band' }).click()
  await expect(page.getByRole('heading', { name: 'Slots' })).toBeVisible()
}

/** Answers the first station in the list, which is one that calls anyone, and makes the first check when it is asked for. */
export async function answerFirst(page: Page): Promise<string> {
  const first = page.locator('button[data-answer]').first()
  await expect(page.getByText('calling CQ').first()).toBeVisible({ timeout: 90_000 })
  // One that broke off is taken up again.
  const label = (await first.getAttribute('aria-label'))!
  const call = label.replace(/^(Answer|Resume) /, '')
  const check = page.getByRole('group', { name: 'Check before the first transmission' })
  const underway = page.getByRole('button', { name: 'Stop after this' })
  // A tap on a row that has just moved is not obeyed.
  await expect(async () => {
    await page.getByRole('button', { name: label, exact: true }).click({ timeout: 5000 })
    await expect(check.or(underway)).toBeVisible({ timeout: 3000 })
  }).toPass({ timeout: 60_000 })
  if (await check.isVisible()) {
    await page.getByLabel(/An antenna or dummy load/).check()
    await page.getByLabel(/Hands and people are clear/).check()
    await page.getByRole('button', { name: /^Checked/ }).click()
  }
  return call
}

/** The text of what an exchange says of itself. */
export function exchangeSentence(page: Page) {
  return page.getByRole('region', { name: 'Exchange' }).locator('h2[role=status]')
}

/** The log opens on what was on the air. */
export async function showPractice(page: Page): Promise<void> {
  await page.getByRole('combobox', { name: 'Contacts' }).click()
  await page.getByRole('option', { name: 'Practice' }).click()
}
