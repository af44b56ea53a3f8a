import { readFileSync } from 'node:fs'
import type { AxeResults } from 'axe-core'
import type { Locator } from '@playwright/test'
import { SETTING_PLACES } from '../src/ui/settings/settingPlaces'
import { answerFirst, exchangeSentence, expect, startPractice, test } from './fixtures'

const axe = readFileSync('node_modules/axe-core/axe.min.js', 'utf8')
/** In an order in which each is linked from the one before, with what is done there most: it is in sight without scrolling. */
const SCREENS: readonly (readonly [path: string, action?: RegExp])[] = [
  ['/', /^Go to the slots$/],
  ['/plan'],
  ['/plan/activation'],
  ['/plan/power'],
  ['/plan/exposure'],
  ['/station', /^Save the station$/],
  ['/connect', /^Stop listening$/],
  ['/connect/control'],
  ['/connect/tnc'],
  ['/connect/setup'],
  ['/connect/pins'],
  ['/connect/network'],
  ['/connect/channels'],
  ['/clock'],
  ['/levels'],
  ['/radio'],
  ['/slots', /^Call CQ/],
  ['/ribbons', /^Bring PSK31 to the front$/],
  ['/sessions'],
  ['/reach'],
  ['/log', /^Export/],
  ['/practise', /^Restart$/],
  ['/settings'],
]
/** A laptop, a tablet upright, a telephone, and a laptop at twice the size. */
const SIZES = [
  [1280, 800],
  [800, 1280],
  [390, 844],
  [640, 400],
] as const

/** Whatever sticks out sideways, or is too small for a finger. */
const measure = () => {
  const main = document.querySelector('main')!
  const small = [...document.querySelectorAll<HTMLElement>('main button, nav button, nav a, header button')].filter((e) => {
    const { width, height } = e.getBoundingClientRect()
    return width > 0 && height > 0 && height < 44
  })
  return {
    page: document.documentElement.scrollWidth - window.innerWidth,
    main: main.scrollWidth - main.clientWidth,
    small: small.map((e) => `${e.textContent} ${e.getBoundingClientRect().height}`),
  }
}

for (const theme of ['day', 'night'] as const) {
  test(`every screen can be used in four sizes and without eyes, ${theme} theme`, async ({ page, demo }) => {
    // With packet in use, its screen stands among the stages too.
    const settings = { theme, distanceUnit: 'km', modes: ['ft8', 'psk31', 'packet'] }
    await fetch(`${demo.url}/api/profile`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ settings }),
    })
    await page.goto(demo.url)
    await startPractice(page, '8 times')
    await expect(page.locator('button[data-answer]').first()).toBeVisible({ timeout: 60_000 })
    const titles = new Set<string>()
    for (const [path, action] of SCREENS) {
      await page.setViewportSize({ width: 1280, height: 800 })
      await page
        .locator(`nav a[href="${path}"]`)
        .or(page.locator(`main a[href="${path}"]`))
        .first()
        .click()
      await expect(page.locator(`a[href="${path}"][aria-current="page"]`).first()).toBeVisible()
      await expect(page.locator('html')).toHaveAttribute('data-theme', theme)
      await page.waitForTimeout(400)
      titles.add(await page.title())
      for (const [width, height] of SIZES) {
        await page.setViewportSize({ width, height })
        await expect
          .poll(() => page.evaluate(measure), { message: `${path} at ${width} x ${height}` })
          .toEqual({ page: 0, main: 0, small: [] })
        if (action)
          await expect(
            page
              .getByRole('button', { name: action })
              .or(page.getByRole('link', { name: action }))
              .first(),
          ).toBeInViewport()
        await expect(page.getByRole('button', { name: /Silence/ })).toBeInViewport()
      }
      // What the settings' search names is there.
      for (const { label } of SETTING_PLACES.filter((place) => place.path === path))
        await expect.soft(page.getByLabel(label).first(), `${label} on ${path}`).toBeAttached()
      // By day as a laptop shows it, by night as a telephone does.
      await page.setViewportSize(theme === 'day' ? { width: 1280, height: 800 } : { width: 390, height: 844 })
      await page.evaluate(axe)
      const { violations } = await page.evaluate(() => (window as unknown as { axe: { run: () => Promise<AxeResults> } }).axe.run())
      const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical')
      expect(serious.map((v) => `${path} ${v.id}: ${v.nodes.map((n) => `${n.html} ${n.any[0]?.message ?? ''}`).join(' | ')}`)).toEqual([])
    }
    expect(titles.size).toBe(SCREENS.length)
    await fetch(`${demo.url}/api/profile`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ settings: { ...settings, theme: 'day', modes: ['ft8', 'psk31'] } }),
    })
  })
}

test('focus can be seen, help is a key away, and colours of the system’s choice leave edges', async ({ page, demo }) => {
  await page.goto(`${demo.url}/practise`)
  await page.keyboard.press('Tab')
  await expect(page.getByRole('link', { name: 'Skip to the screen' })).toBeInViewport()
  await page.keyboard.press('Enter')
  await expect(page.locator('main')).toBeFocused()
  const start = page.getByRole('button', { name: 'Start the practice band' })
  await expect(start).toBeEnabled()
  // The first button after the fields of the form.
  for (let i = 0; i < 20 && !(await start.evaluate((e) => e === document.activeElement)); i++) await page.keyboard.press('Tab')
  await expect(start).toBeFocused()
  await expect(start).toHaveCSS('outline-style', 'solid')
  await expect(start).toHaveCSS('outline-width', '3px')
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Help: Practise' })).toContainText('nothing is transmitted')
  await page.getByRole('button', { name: 'Close' }).click()
  await page.getByLabel('Band number').fill('12')
  await page.getByLabel('Band number').press('?')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.emulateMedia({ forcedColors: 'active' })
  await expect(start).toHaveCSS('border-style', 'solid')
  await expect(page.getByRole('button', { name: /Silence/ })).toHaveCSS('border-style', 'solid')
})

test('by keyboard alone: from the first screen to a practice contact in the log in at most 25 keys', async ({ page, demo }) => {
  test.setTimeout(400_000)
  const options = { mode: 'ft8', pace: 8, seed: '7', stations: 24, audible: false, clockErrorMs: 0, faults: [] }
  await page.addInitScript((kept) => localStorage.setItem('zeptik.practice', kept), JSON.stringify(options))
  await page.goto(demo.url)
  let keys = 0
  const press = async (key: string) => {
    keys++
    await page.keyboard.press(key)
  }
  const tabTo = async (what: Locator) => {
    await expect(what.first()).toBeEnabled({ timeout: 60_000 })
    for (let i = 0; i < 20; i++) {
      await press('Tab')
      if (await what.evaluateAll((all) => all.includes(document.activeElement as HTMLElement))) return
    }
    throw new Error('never reached by Tab')
  }
  const skip = async () => {
    await press('Tab')
    await expect(page.getByRole('link', { name: 'Skip to the screen' })).toBeFocused()
    await press('Enter')
    await expect(page.getByRole('main')).toBeFocused()
  }
  const start = page.getByRole('button', { name: 'Start the practice band' })
  await expect(start).toBeEnabled()
  await skip()
  await tabTo(start)
  await press('Enter')
  await expect(page.getByRole('heading', { name: 'Slots' })).toBeVisible()
  const rows = page.locator('button[data-answer]')
  await expect(page.getByText('calling CQ').first()).toBeVisible({ timeout: 90_000 })
  // The next Tab goes on in the screen: what was pressed stood in it too.
  await tabTo(rows)
  // A row that had just moved is not obeyed.
  const check = page.getByRole('group', { name: 'Check before the first transmission' })
  await expect(async () => {
    await press('Enter')
    await expect(check).toBeVisible({ timeout: 3000 })
  }).toPass({ timeout: 30_000 })
  await expect(check.getByRole('checkbox').first()).toBeFocused()
  await press('Space')
  await press('Tab')
  await press('Space')
  await press('Tab')
  await press('Enter')
  await expect(exchangeSentence(page)).toHaveText(/^With |complete/)
  test.info().annotations.push({ type: 'keys', description: String(keys) })
  console.log(`keys from the first screen to an exchange under way: ${keys}`)
  expect(keys).toBeLessThanOrEqual(25)
  // Whoever does not answer is followed by the next: with Enter on the row that is in focus.
  for (let attempt = 0; attempt < 8; attempt++) {
    await expect(exchangeSentence(page)).toHaveText(/complete|did not answer|working another/, { timeout: 120_000 })
    if (/complete/.test(await exchangeSentence(page).innerText())) break
    await answerFirst(page)
  }
  await expect(exchangeSentence(page)).toHaveText(/is complete and in the log/)
})
