import { readFileSync } from 'node:fs'
import type { AxeResults } from 'axe-core'
import { expect, startPractice, test } from './fixtures'

const axe = readFileSync('node_modules/axe-core/axe.min.js', 'utf8')
/** In an order in which each is linked from the one before. */
const SCREENS = [
  ...[
    '/',
    '/plan',
    '/plan/activation',
    '/plan/power',
    '/plan/exposure',
    '/station',
    '/connect',
    '/connect/setup',
    '/connect/pins',
    '/connect/network',
    '/connect/channels',
    '/clock',
  ],
  ...['/levels', '/radio', '/slots', '/ribbons', '/reach', '/log', '/practise', '/settings'],
]

for (const theme of ['day', 'night'] as const) {
  test(`no serious accessibility finding on any screen, ${theme} theme`, async ({ page, demo }) => {
    const settings = { theme, distanceUnit: 'km' }
    await fetch(`${demo.url}/api/profile`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ settings }),
    })
    await page.goto(demo.url)
    await startPractice(page, '8 times')
    await expect(page.locator('button[data-answer]').first()).toBeVisible({ timeout: 60_000 })
    for (const path of SCREENS) {
      await page.locator(`nav a[href="${path}"]`).first().click()
      await expect(page.locator(`nav a[href="${path}"]`).first()).toHaveAttribute('aria-current', 'page')
      await expect(page.locator('html')).toHaveAttribute('data-theme', theme)
      await page.waitForTimeout(600)
      await page.evaluate(axe)
      const { violations } = await page.evaluate(() => (window as unknown as { axe: { run: () => Promise<AxeResults> } }).axe.run())
      const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical')
      expect(serious.map((v) => `${path} ${v.id}: ${v.nodes.map((n) => `${n.html} ${n.any[0]?.message ?? ''}`).join(' | ')}`)).toEqual([])
      // Nothing sticks out sideways at the size of a tablet.
      expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true)
    }
    await fetch(`${demo.url}/api/profile`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ settings: { ...settings, theme: 'day' } }),
    })
  })
}

test('the work can be done by keyboard alone', async ({ page, demo }) => {
  await page.goto(demo.url)
  await startPractice(page, '8 times')
  const rows = page.locator('button[data-answer]')
  await expect(rows.nth(1)).toBeVisible({ timeout: 60_000 })
  await rows.first().focus()
  await page.keyboard.press('ArrowDown')
  await expect(rows.nth(1)).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('group', { name: 'Check before the first transmission' })).toBeVisible()
})
