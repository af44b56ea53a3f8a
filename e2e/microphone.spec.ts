import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { decodeWav, encodeWav } from '../src/core/audio'
import { createGaussian, createRandom } from '../src/core/dsp'
import { chromiumLaunch } from './chromium'
import { expect, test } from './fixtures'

/** One slot made by the command line, with noise laid over it, as the fake microphone plays it. */
function makeRecording(): string {
  const folder = mkdtempSync(join(tmpdir(), 'zeptik-mic-'))
  const clean = join(folder, 'clean.wav')
  execFileSync('bin/zeptik', [
    'encode',
    '--mode',
    'ft8',
    '--frequency',
    '1310',
    '--rate',
    '44100',
    '--level',
    '0.05',
    '--out',
    clean,
    'CQ Q2LMN JO31',
  ])
  const wav = decodeWav(readFileSync(clean))
  if (!wav.ok) throw new Error(wav.error)
  const gaussian = createGaussian(createRandom(4))
  const noisy = new Float32Array(44_100 * 20)
  noisy.set(wav.value.samples, 22_050)
  for (let i = 0; i < noisy.length; i++) noisy[i]! += 0.05 * gaussian()
  const path = join(folder, 'noisy.wav')
  writeFileSync(path, encodeWav(noisy, 44_100))
  return path
}

test.use({
  launchOptions: chromiumLaunch(
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-audio-capture=${makeRecording()}%noloop`,
  ),
})

test('what the microphone hears appears on the Slots screen', async ({ page, demo }) => {
  await page.goto(`${demo.url}/connect`)
  const button = page.getByRole('button', { name: 'Start listening' })
  const heard = page.getByRole('button', { name: 'Answer Q2LMN' })
  // The recording holds its slot half a second after its start: it must begin with a slot, give or take two seconds.
  // A slow machine may open the device too late for that; then it is opened once more.
  for (let attempt = 0; attempt < 3 && !(await heard.isVisible()); attempt++) {
    await page.getByRole('link', { name: /^Connect/ }).click()
    const stop = page.getByRole('button', { name: 'Stop listening' })
    if (await stop.isVisible()) await stop.click()
    await expect(button).toBeEnabled()
    await page.waitForTimeout(15_000 - ((Date.now() + 500) % 15_000))
    await button.click()
    await expect(page.getByRole('heading', { name: /^Audio source: / })).toBeVisible()
    await expect(page.getByRole('meter', { name: 'Noise of the band in 2500 Hz' })).toHaveAttribute('aria-valuetext', /dBFS; good from/)
    await page.getByRole('link', { name: /^Slots/ }).click()
    await heard.waitFor({ timeout: 35_000 }).catch(() => undefined)
  }
  await expect(heard).toBeVisible()
  await expect(page.getByText(/worked \d{4}-\d{2}-\d{2}, Ines/)).toBeVisible()
})

test('Silence ends a transmission at once, and a transmission starts on time', async ({ page, demo }) => {
  // Notes what reaches the sound device, and when.
  await page.addInitScript(() => {
    const notes: { kind: string; atMs: number; startMs?: number; offsetS?: number }[] = []
    ;(window as unknown as { notes: typeof notes }).notes = notes
    const { start, stop } = AudioBufferSourceNode.prototype
    AudioBufferSourceNode.prototype.start = function (when = 0, offset = 0) {
      const context = this.context as AudioContext
      const stamp = context.getOutputTimestamp()
      const startMs =
        stamp.performanceTime && stamp.contextTime !== undefined
          ? stamp.performanceTime + (when - stamp.contextTime) * 1000
          : performance.now() + (when - context.currentTime) * 1000
      notes.push({ kind: 'start', atMs: performance.now(), startMs: startMs + Date.now() - performance.now(), offsetS: offset })
      start.call(this, when, offset)
    }
    AudioBufferSourceNode.prototype.stop = function (when = 0) {
      notes.push({ kind: 'stop', atMs: performance.now() })
      stop.call(this, when)
    }
    window.addEventListener('keydown', (e) => e.key === 'Escape' && notes.push({ kind: 'escape', atMs: performance.now() }), {
      capture: true,
    })
  })
  await page.goto(`${demo.url}/connect`)
  await page.getByRole('button', { name: 'Start listening' }).click()
  await expect(page.getByRole('heading', { name: /^Audio source: / })).toBeVisible()
  await page.getByRole('link', { name: /^Slots/ }).click()
  // The parity of the next slot, so that the call does not begin late in the present one.
  const next = Math.floor(Date.now() / 15_000) + 1
  await page.getByRole('button', { name: next % 2 === 0 ? 'even :00 :30' : 'odd :15 :45' }).click()
  await page.getByRole('button', { name: /^Call CQ at/ }).click()
  await page.getByLabel(/An antenna or dummy load/).check()
  await page.getByLabel(/Hands and people are clear/).check()
  // No meter is read here: the operator must have looked.
  await expect(page.getByRole('button', { name: /^Checked/ })).toBeDisabled()
  await page.getByLabel(/The SWR on 20m was looked at/).check()
  await page.getByRole('button', { name: 'Checked. Call CQ' }).click()
  await expect(page.getByText('TRANSMITTING')).toBeVisible({ timeout: 35_000 })
  await page.waitForTimeout(2000)
  await page.keyboard.press('Escape')
  await expect(page.getByText('TRANSMITTING')).toBeHidden()
  await expect(page.getByRole('region', { name: 'Exchange' })).toContainText('Silenced')
  const notes = await page.evaluate(
    () => (window as unknown as { notes: { kind: string; atMs: number; startMs: number; offsetS: number }[] }).notes,
  )
  const start = notes.find((n) => n.kind === 'start')!
  // The demo station leads in by 200 ms, so its audio begins 0.3 s into the slot; what was cut from the front counts as sent.
  const beganMs = start.startMs - start.offsetS * 1000
  expect(Math.abs(((((beganMs - 300) % 15_000) + 15_000 + 7500) % 15_000) - 7500)).toBeLessThan(20)
  const escape = notes.find((n) => n.kind === 'escape')!
  const stop = notes.find((n) => n.kind === 'stop' && n.atMs >= escape.atMs)!
  expect(stop.atMs - escape.atMs).toBeLessThan(100)
  // Nothing more goes out by itself.
  await page.waitForTimeout(31_000)
  await expect(page.getByText('TRANSMITTING')).toBeHidden()
})

test('a transmission keys the radio over its control line, and Silence unkeys it', async ({ page, demo }) => {
  const put = async (path: string, value: unknown) => {
    const answer = await fetch(demo.url + path, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(value),
    })
    expect(answer.status).toBe(200)
    return answer.json()
  }
  const before = (await (await fetch(`${demo.url}/api/links/config`)).json()) as { control: object; keying: object }
  const { radio } = (await put('/api/links/standins', { radio: { voice: 'framed-bcd', faults: [] } })) as { radio: { port: number } }
  await put('/api/links/config', {
    ...before,
    control: { ...before.control, enabled: true, dialect: 'framed-bcd', port: { kind: 'tcp', host: '127.0.0.1', port: radio.port } },
    keying: { ...before.keying, by: 'cat' },
  })
  /** What the radio itself says, asked of the server. */
  const keying = async () => {
    const reader = (await fetch(`${demo.url}/api/links/live`)).body!.getReader()
    const { value } = await reader.read()
    await reader.cancel()
    const state = JSON.parse(new TextDecoder().decode(value).split('\n\n')[0]!.slice('data: '.length)) as {
      keying: { state: string }
      control: { keyed: boolean }
    }
    return `${state.keying.state}, ${state.control.keyed}`
  }
  await expect.poll(keying).toMatch(/^ready/)
  await page.goto(`${demo.url}/connect`)
  await page.getByRole('button', { name: 'Start listening' }).click()
  await expect(page.getByRole('heading', { name: /^Audio source: / })).toBeVisible()
  await page.getByRole('link', { name: /^Levels/ }).click()
  await page.getByRole('tab', { name: 'Transmit' }).click()
  await page.getByRole('button', { name: 'FT8 signal, 10 s' }).click()
  await page.getByLabel(/An antenna or dummy load/).check()
  await page.getByLabel(/Hands and people are clear/).check()
  await page.getByRole('button', { name: /^Checked/ }).click()
  await expect.poll(keying).toBe('keyed, true')
  await page.keyboard.press('Escape')
  await expect.poll(keying, { timeout: 3000 }).toBe('ready, false')

  // A standing wave that is too high ends it by itself, and says why.
  await put('/api/links/standins', { radio: { voice: 'framed-bcd', faults: ['highSwr'] } })
  await page.getByRole('button', { name: 'FT8 signal, 10 s' }).click()
  // The limit cuts it off after some tenths of a second: looked at seldom, it would be missed.
  await expect.poll(keying, { intervals: [20] }).toBe('keyed, true')
  await expect.poll(keying, { timeout: 5000 }).toBe('ready, false')
  // On every screen, whichever is open.
  await expect(page.getByRole('region', { name: 'Messages' }).getByText(/^SWR 4\.0, above the limit of 2\.5/)).toBeVisible()

  // A page that goes away while it transmits is missed within two seconds.
  await put('/api/links/standins', { radio: { voice: 'framed-bcd', faults: [] } })
  await page.getByRole('link', { name: /^Levels/ }).click()
  await page.getByRole('tab', { name: 'Transmit' }).click()
  await page.waitForTimeout(4000)
  await page.getByRole('button', { name: 'FT8 signal, 10 s' }).click()
  await expect.poll(keying).toBe('keyed, true')
  await page.close({ runBeforeUnload: false })
  await expect.poll(keying, { timeout: 8000 }).toBe('ready, false')
  await put('/api/links/config', before)
  await put('/api/links/standins', { radio: null })
})
