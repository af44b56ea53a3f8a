import { expect, test } from './fixtures'

test('the practice radio is linked to, read, set and keyed by the ladder’s rules; what is wrong with it is found', async ({
  page,
  demo,
}) => {
  await page.goto(`${demo.url}/practise`)
  const radio = page.getByRole('region', { name: 'Practice radio' })
  await radio.getByRole('button', { name: 'Start it: practice radio' }).click()
  await radio.getByRole('button', { name: 'Link to it: practice radio' }).click()
  await expect(page.getByText('It is linked: see the Connect screen.')).toBeVisible()

  await page.getByRole('link', { name: /^Connect/ }).click()
  await page.getByRole('link', { name: 'Radio control' }).click()
  const control = page.getByRole('region', { name: 'Control and keying of the radio' })
  await expect(control).toContainText('The radio answers')
  await expect(control).toContainText(/14.074\.0 kHz/)
  await control.getByRole('button', { name: 'Try the link, rung by rung' }).click()
  await expect(control.getByText('The link works.')).toBeVisible({ timeout: 40_000 })
  await expect(control.getByRole('list', { name: 'Ladder' })).toContainText(/The radio says it is on 14.074\.0 kHz\./)

  // However far down something is, the strip with Silence stays in sight.
  await control.getByLabel('Show raw data').scrollIntoViewIfNeeded()
  expect(await page.evaluate(() => document.documentElement.scrollTop)).toBe(0)
  await expect(page.getByRole('button', { name: /^Silence/ })).toBeInViewport()

  // The dial is set on the radio, and what crosses the line can be seen.
  await expect(control).toContainText('The radio answers')
  await page.getByRole('link', { name: /^Slots/ }).click()
  await page.getByLabel('Set the dial').click()
  await page.getByRole('option', { name: /40m/ }).click()
  await expect(page.getByText('read from the radio')).toBeVisible()
  await page.getByRole('link', { name: /^Connect/ }).click()
  await page.getByRole('link', { name: 'Radio control' }).click()
  await expect(control).toContainText(/7.074\.0 kHz/)
  await control.getByLabel('Show raw data').check()
  await expect(control.getByRole('table', { name: 'Bytes on the link' })).toContainText('FA007074000;')

  // Switched off, it is silent; the ladder asks the one thing that only the operator can see.
  await page.getByRole('link', { name: /^Practise/ }).click()
  await page.getByRole('region', { name: 'Practice radio' }).getByLabel('switched off').check()
  await page.getByRole('link', { name: /^Connect/ }).click()
  await page.getByRole('link', { name: 'Radio control' }).click()
  await expect(control).toContainText('The radio does not answer', { timeout: 20_000 })
  await control.getByRole('button', { name: /^Try the link/ }).click()
  const question = control.getByRole('group', { name: 'Question of the ladder' })
  await expect(question).toBeVisible({ timeout: 40_000 })
  await question.getByRole('button', { name: 'No', exact: true }).click()
  await expect(control).toContainText('The operator sees no sign of power.')

  // A set-up that cannot work is not taken.
  await control.getByLabel('The radio is keyed').click()
  await page.getByRole('option', { name: 'By RTS of a serial port' }).click()
  await expect(control.getByRole('alert')).toHaveText('RTS and DTR are lines of a serial port: choose it')
  await expect(control.getByRole('button', { name: 'Use these settings' })).toBeDisabled()
  await control.getByRole('button', { name: 'Leave it as it was' }).click()
  await control.getByRole('switch', { name: 'CAT control' }).uncheck()
  await control.getByLabel('The radio is keyed').click()
  await page.getByRole('option', { name: 'By its VOX' }).click()
  await control.getByRole('button', { name: 'Use these settings' }).click()
  await expect(control).toContainText('Off: the dial is set by hand')
})

test('the practice TNC is linked to and shows the frames it hears', async ({ page, demo }) => {
  await page.goto(`${demo.url}/practise`)
  const standin = page.getByRole('region', { name: 'Practice TNC' })
  await standin.getByRole('button', { name: 'Start it: practice TNC' }).click()
  await standin.getByRole('button', { name: 'Link to it: practice TNC' }).click()
  await page.getByRole('link', { name: /^Connect/ }).click()
  await page.getByRole('link', { name: 'TNC', exact: true }).click()
  const tnc = page.getByRole('region', { name: 'A TNC, in KISS' })
  await expect(tnc.getByRole('table', { name: 'Frames heard' })).toContainText(/Q\d\w+(-\d+)?BEACON/, { timeout: 60_000 })
  await tnc.getByText('Timing on the air, and power-up: most never touch it').click()
  await tnc.getByLabel('Key-up, ms').fill('40')
  await expect(tnc).toContainText('shorter than most radios need')
  await tnc.getByRole('button', { name: 'Leave it as it was' }).click()
  await tnc.getByRole('switch', { name: 'TNC' }).uncheck()
  await tnc.getByRole('button', { name: 'Use these settings' }).click()
  await expect(tnc).toContainText('Off')
})
