// npm run journeys: how many taps, keys and seconds it takes from the first screen to what one came for. At real pace, on data of its own.
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openBrowser } from './browser.mjs'
import { ensureBuild, ensurePackages, root } from './setup.mjs'

ensurePackages()
ensureBuild()

/** Runs a journey on a fresh server. The practice band is as it is when first met: real time, 24 stations. */
async function journey(name, { demo, faults = [] }, go) {
  const data = mkdtempSync(join(tmpdir(), 'zeptik-journey-'))
  const base = 'http://127.0.0.1:7393'
  const server = spawn(process.execPath, ['scripts/start.mjs'], {
    cwd: root,
    env: { ...process.env, PORT: '7393', ZEPTIK_DATA: data, ZEPTIK_DEMO: demo ? '1' : '0' },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  await new Promise((open, fail) => {
    server.stdout.on('data', (text) => String(text).includes('open http') && open())
    server.once('exit', (code) => fail(new Error(`the server ended with ${code} before it was open: is port 7393 taken?`)))
  })
  const { browser, page } = await openBrowser()
  let taps = 0
  let fields = 0
  const tap = async (what) => {
    await what.first().click({ timeout: 120_000 })
    taps++
  }
  const fill = async (label, text) => {
    await page.getByLabel(label, { exact: true }).fill(text)
    fields++
  }
  try {
    await page.addInitScript(
      (kept) => localStorage.getItem('zeptik.practice') ?? localStorage.setItem('zeptik.practice', kept),
      JSON.stringify({ mode: 'ft8', pace: 1, seed: '7', faults }),
    )
    await page.goto(base)
    await page.getByRole('button', { name: 'Start the practice band' }).waitFor({ timeout: 60_000 })
    const begun = Date.now()
    const seconds = () => Math.round((Date.now() - begun) / 1000)
    await go({ page, tap, fill, seconds })
    console.log(`${name}: ${taps} taps, ${fields} fields, ${seconds()} s`)
  } finally {
    await browser.close()
    server.kill('SIGINT')
    await new Promise((end) => server.once('exit', end))
    rmSync(data, { recursive: true, force: true })
  }
}

async function contact({ page, tap }) {
  const check = page.getByRole('group', { name: 'Check before the first transmission' })
  await page.getByText('calling CQ').first().waitFor({ timeout: 120_000 })
  // A row that has just moved is not obeyed.
  while (!(await check.isVisible())) {
    await tap(page.locator('button[data-answer]'))
    await check.waitFor({ timeout: 2000 }).catch(() => undefined)
  }
  await tap(check.getByLabel(/An antenna or dummy load/))
  await tap(check.getByLabel(/Hands and people/))
  await tap(check.getByRole('button', { name: /^Checked/ }))
  await page.getByText(/is complete and in the log|is made; waiting/).waitFor({ timeout: 300_000 })
}

await journey('from the first screen to a contact in the log', { demo: true }, async (with_) => {
  await with_.tap(with_.page.getByRole('button', { name: 'Start the practice band' }))
  await contact(with_)
})

await journey('from an empty station', { demo: false }, async (with_) => {
  const { page, tap, fill } = with_
  await tap(page.getByRole('link', { name: /^Station/ }))
  await fill('Own call', 'Q5RVR')
  await fill('Locator', 'JN97LK')
  await fill('Power in W', '10')
  await tap(page.getByLabel(/I hold a licence/))
  await tap(page.getByRole('button', { name: 'Save the station' }))
  await page.getByText('Saved.').waitFor()
  await tap(page.getByRole('link', { name: /^Ready/ }))
  await tap(page.getByRole('button', { name: 'Start the practice band' }))
  await contact(with_)
})

await journey('a fault of the receiver, found and cured', { demo: true, faults: ['hum-50'] }, async ({ page, tap, seconds }) => {
  await tap(page.getByRole('button', { name: 'Start the practice band' }))
  await page.getByText('Mains hum').waitFor({ timeout: 60_000 })
  console.log(`  named in the strip after ${seconds()} s`)
  await tap(page.getByRole('link', { name: /^Levels/ }))
  await tap(page.getByRole('button', { name: 'Run all of it from batteries' }))
  await page.getByRole('heading', { name: 'Levels are good' }).waitFor({ timeout: 90_000 })
})
