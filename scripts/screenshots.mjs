// npm run screenshots: starts the demo on data of its own and takes one picture of each main view into docs/screenshots.
import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openBrowser } from './browser.mjs'
import { ensureBuild, ensurePackages, root } from './setup.mjs'

ensurePackages()
ensureBuild()
const folder = join(root, 'docs', 'screenshots')
mkdirSync(folder, { recursive: true })
const data = mkdtempSync(join(tmpdir(), 'zeptik-shots-'))
const base = 'http://127.0.0.1:7392'
const server = spawn(process.execPath, ['scripts/demo.mjs'], {
  cwd: root,
  env: { ...process.env, PORT: '7392', ZEPTIK_DATA: data },
  stdio: ['ignore', 'pipe', 'inherit'],
})
const { browser, page } = await openBrowser()
const shoot = (name) => page.screenshot({ path: join(folder, `${name}.png`) })
const go = async (path) => {
  await page.locator(`nav a[href="${path}"]`).click()
  await page.waitForTimeout(900)
}
const setTheme = (theme) =>
  page.evaluate(
    (theme) =>
      fetch('/api/profile', {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ settings: { theme, distanceUnit: 'km' } }),
      }),
    theme,
  )
const chooseTheme = async (name) => {
  await go('/settings')
  await page.getByLabel('Theme').click()
  await page.getByRole('option', { name }).click()
  await page.waitForTimeout(500)
}
const answer = async () => {
  await page.getByText('calls anyone').first().waitFor({ timeout: 60_000 })
  await page.locator('button[data-answer]').first().click()
  await page.waitForTimeout(300)
}
const check = async () => {
  await page.getByLabel(/An antenna or dummy load/).check()
  await page.getByLabel(/Hands and people are clear/).check()
}

try {
  await new Promise((done) => server.stdout.on('data', (text) => String(text).includes('open http') && done()))
  await page.goto(base)
  await page.getByRole('heading', { level: 1 }).waitFor()
  await page.waitForTimeout(1500)
  await shoot('readiness')
  await go('/station')
  await shoot('station')
  await go('/practise')
  await shoot('practise')
  await page.getByLabel('Pace').click()
  await page.getByRole('option', { name: '8 times' }).click()
  await page.getByRole('button', { name: 'Start the practice band' }).click()
  await page.waitForTimeout(20_000)
  await answer()
  await shoot('first-check')
  await check()
  await page.getByRole('button', { name: /^Checked/ }).click()
  await page.getByText('TRANSMITTING').waitFor({ timeout: 30_000 })
  await page.waitForTimeout(900)
  await page.getByText('TRANSMITTING').waitFor({ state: 'hidden', timeout: 30_000 })
  await page.getByText('TRANSMITTING').waitFor({ timeout: 60_000 })
  await page.waitForTimeout(500)
  await shoot('slots-transmitting')
  await page.getByText(/is complete and in the log|did not answer|working another/).waitFor({ timeout: 120_000 })
  await page.waitForTimeout(2500)
  await shoot('slots')
  await go('/clock')
  await shoot('clock')
  await go('/connect')
  await shoot('connect')
  await go('/log')
  await page
    .getByRole('button', { name: /practice/ })
    .first()
    .click({ timeout: 5000 })
    .catch(() => undefined)
  await page.waitForTimeout(800)
  await shoot('log')
  await chooseTheme('Night')
  await shoot('settings-night')
  await go('/slots')
  await page.waitForTimeout(1500)
  await shoot('slots-night')
  await chooseTheme('Daylight')
  await page.setViewportSize({ width: 800, height: 1280 })
  await go('/slots')
  await page.waitForTimeout(1200)
  await shoot('slots-portrait')
  await go('/')
  await shoot('readiness-portrait')
  await setTheme('day')
} finally {
  await browser.close()
  server.kill('SIGKILL')
  rmSync(data, { recursive: true, force: true })
}
