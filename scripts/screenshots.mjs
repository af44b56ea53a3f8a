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
/** Names on the command line: only these pictures are taken anew. */
const wanted = process.argv.slice(2)
const shoot = async (name) => {
  if (wanted.length === 0 || wanted.includes(name)) await page.screenshot({ path: join(folder, `${name}.png`) })
}
const go = async (path) => {
  await page.locator(`nav a[href="${path}"]`).first().click()
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
  await page.getByText('calling CQ').first().waitFor({ timeout: 60_000 })
  const begun = page.getByLabel(/An antenna or dummy load/).or(page.getByRole('button', { name: 'Stop after this' }))
  // A tap on a row that has just moved is not obeyed.
  for (let tries = 0; tries < 5 && !(await begun.first().isVisible()); tries++) {
    await page.locator('button[data-answer]').first().click()
    await page.waitForTimeout(900)
  }
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
  await go('/plan')
  await shoot('plan')
  await go('/plan/activation')
  await shoot('plan-activation')
  await go('/station')
  await shoot('station')
  await go('/practise')
  await shoot('practise')
  // A practice receiver over UDP sets the clock.
  await page.getByRole('button', { name: 'Start it: practice receiver' }).click()
  await go('/clock')
  await page.waitForTimeout(15_000)
  await shoot('clock')
  await go('/practise')
  await page.getByRole('button', { name: 'Stop it: practice receiver' }).click()
  await page.getByLabel('Pace').click()
  await page.getByRole('option', { name: '8 times' }).click()
  await page.getByRole('button', { name: 'Start the practice band' }).click()
  await page.waitForTimeout(20_000)
  await answer()
  await check()
  await page.getByRole('button', { name: /^Checked/ }).click()
  await page.getByText('TRANSMITTING').waitFor({ timeout: 30_000 })
  await page.waitForTimeout(900)
  await page.getByText('TRANSMITTING').waitFor({ state: 'hidden', timeout: 30_000 })
  await page.getByText('TRANSMITTING').waitFor({ timeout: 60_000 })
  await page.waitForTimeout(500)
  await page.getByText(/is complete and in the log|did not answer|working another/).waitFor({ timeout: 120_000 })
  await page.waitForTimeout(2500)
  await shoot('slots')
  await go('/reach')
  await page.waitForTimeout(1500)
  await shoot('reach')
  await go('/practise')
  await page.getByRole('button', { name: 'Start it: practice radio' }).click()
  await page.getByRole('button', { name: 'Link to it: practice radio' }).click()
  await page.getByText('It is linked').waitFor()
  await go('/connect')
  await page.getByText('Keying').first().waitFor()
  await page.waitForTimeout(1500)
  await shoot('connect')
  for (const part of ['setup', 'pins']) {
    await go(`/connect/${part}`)
    await shoot(`connect-${part}`)
  }
  await go('/connect/control')
  await page.getByText('The radio answers').waitFor()
  const control = page.getByRole('region', { name: 'Control and keying of the radio' })
  await control.getByRole('button', { name: 'Try the link, rung by rung' }).click()
  await control.getByText('The link works.').waitFor({ timeout: 60_000 })
  await control.evaluate((e) => e.scrollIntoView())
  await page.waitForTimeout(500)
  await shoot('connect-ladder')
  await go('/practise')
  await page.getByText(/^Faults of the receiver/).click()
  await page.getByRole('button', { name: 'Hum, 50 Hz mains' }).click()
  await page.getByRole('button', { name: 'Narrow filter left in' }).click()
  await page.waitForTimeout(7000)
  await go('/levels')
  await shoot('levels')
  await go('/practise')
  await page.getByText(/^Faults of the receiver/).click()
  await page.getByRole('button', { name: '✓ Hum, 50 Hz mains' }).click()
  await page.getByRole('button', { name: '✓ Narrow filter left in' }).click()
  await page.getByLabel('Pace').click()
  await page.getByRole('option', { name: 'Real time' }).click()
  await page.getByRole('button', { name: 'Restart' }).click()
  await page.waitForTimeout(1500)
  await go('/levels')
  await page.getByRole('tab', { name: 'Transmit' }).click()
  await page.getByRole('button', { name: 'Ramp, 8 s' }).click()
  await page.getByText(/Output stops following|Output follows/).waitFor({ timeout: 40_000 })
  await page.getByRole('heading', { name: 'Tests' }).evaluate((heading) => heading.scrollIntoView())
  await page.waitForTimeout(500)
  await shoot('levels-transmit')
  await go('/radio')
  await shoot('radio')
  await go('/log')
  await page
    .getByRole('button', { name: /practice/ })
    .first()
    .click({ timeout: 5000 })
    .catch(() => undefined)
  await page.waitForTimeout(800)
  await shoot('log')
  // Upright, at night. The band was begun anew, in real time: its first slots have to end.
  await chooseTheme('Night')
  await go('/slots')
  await page.getByText('calling CQ').first().waitFor({ timeout: 90_000 })
  await page.setViewportSize({ width: 800, height: 1280 })
  await page.waitForTimeout(1500)
  await shoot('slots-portrait')
  await page.setViewportSize({ width: 1280, height: 800 })
  await chooseTheme('Daylight')
  await go('/practise')
  await page.getByLabel('Mode', { exact: true }).click()
  await page.getByRole('option', { name: 'PSK31' }).click()
  await page.getByLabel('Pace').click()
  await page.getByRole('option', { name: '4 times' }).click()
  await page.getByRole('button', { name: 'Restart' }).click()
  await page.getByLabel('Set the dial').click()
  await page.getByRole('option', { name: /20m · 14/ }).click()
  await page.waitForTimeout(15_000)
  await page
    .getByRole('button', { name: /\+\d+ dB.*calling CQ.*pse k\s*$/s })
    .first()
    .click()
  await page.getByRole('button', { name: 'Answer', exact: true }).click()
  await page.getByRole('button', { name: 'Send this over' }).click()
  await page.getByText('TRANSMITTING').waitFor()
  await page.getByText('TRANSMITTING').waitFor({ state: 'hidden', timeout: 30_000 })
  await page
    .getByText(/^read /)
    .first()
    .waitFor({ timeout: 40_000 })
    .catch(() => undefined)
  await page.waitForTimeout(3000)
  await page.getByRole('button', { name: 'Report', exact: true }).click()
  await page.waitForTimeout(500)
  await shoot('ribbons')

  // Packet by the sound of this device, on the practice channel.
  await page.evaluate(() =>
    fetch('/api/profile', {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ settings: { theme: 'day', distanceUnit: 'km', modes: ['ft8', 'psk31', 'packet'] } }),
    }),
  )
  await page.goto(`${base}/practise`)
  await page.getByLabel('Mode').click()
  await page.getByRole('option', { name: 'Packet' }).click()
  await page.getByRole('button', { name: /^(Start the practice band|Restart)$/ }).click()
  await page.getByRole('button', { name: 'Modem of this device' }).click()
  await page.getByText(/^\d+ stations? heard/).waitFor({ timeout: 60_000 })
  await page.getByLabel('Station to call').fill('Q5CTL-7')
  await page.getByRole('button', { name: 'Call', exact: true }).click()
  const antenna = page.getByLabel(/An antenna or dummy load/)
  // The gates of the station and of the server may each ask for the check.
  for (let k = 0; k < 2; k++) {
    await page.waitForTimeout(1500)
    if (!(await antenna.isVisible())) continue
    await antenna.check()
    await page.getByLabel(/Hands and people are clear/).check()
    await page.getByRole('button', { name: /^Checked/ }).click()
  }
  await page.getByText('Q5CTL-7>').first().waitFor({ timeout: 120_000 })
  for (const order of ['Nodes', 'Heard']) {
    await page.getByRole('button', { name: order, exact: true }).click()
    await page.waitForTimeout(12_000)
  }
  await shoot('sessions')
  await setTheme('day')
} finally {
  await browser.close()
  server.kill('SIGKILL')
  rmSync(data, { recursive: true, force: true })
}
