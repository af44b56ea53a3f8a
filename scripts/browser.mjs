// Opens Debian's Chromium for screenshots.
import { chromium } from '@playwright/test'

export async function openBrowser(viewport = { width: 1280, height: 800 }) {
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      '--autoplay-policy=no-user-gesture-required',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  })
  const context = await browser.newContext({ viewport })
  const page = await context.newPage()
  return { browser, context, page }
}
