// npm run soak -- [--hours 24] [--minutes 150] [--kills 20] [--reloads 20] [--seed 1]
// Operates the practice band through the real screens for simulated hours at thirty times the pace, with the server killed and the
// tab loaded anew at random moments, and tells what became of contacts, memory and taps. Real time limits it to --minutes.
import { spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { PGlite } from '@electric-sql/pglite'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'
import { openBrowser } from './browser.mjs'
import { ensureBuild, ensurePackages, root } from './setup.mjs'

const { values } = parseArgs({
  options: Object.fromEntries(['hours', 'minutes', 'kills', 'reloads', 'seed'].map((name) => [name, { type: 'string' }])),
})
const option = (name, fallback) => {
  const value = Number(values[name] ?? fallback)
  if (!(value >= 0)) throw new Error(`--${name} is a number, not "${values[name]}"`)
  return value
}
const hours = option('hours', 24)
const limitMs = option('minutes', 150) * 60_000
// A day has twenty of each; an exchange must have the time to come to its end between two.
const kills = option('kills', Math.max(2, Math.round((20 * hours) / 24)))
const reloads = option('reloads', Math.max(2, Math.round((20 * hours) / 24)))
let state = option('seed', 1) + 1
/** Uniform numbers from a seed, so that a run can be told apart from another by it. */
const random = () => (state = (state * 48271) % 2147483647) / 2147483647

ensurePackages()
ensureBuild()
const data = mkdtempSync(join(tmpdir(), 'zeptik-soak-'))
const port = 7394
const base = `http://127.0.0.1:${port}`
let server
const startServer = async () => {
  server = spawn(process.execPath, ['scripts/start.mjs'], {
    cwd: root,
    env: { ...process.env, PORT: String(port), ZEPTIK_DATA: data },
    stdio: ['ignore', 'pipe', 'ignore'],
  })
  await new Promise((done) => server.stdout.on('data', (text) => String(text).includes('open http') && done()))
}
const killServer = () =>
  new Promise((done) => {
    server.once('exit', done)
    server.kill('SIGKILL')
  })
const residentMiB = (pid) => {
  try {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024
  } catch {
    return 0
  }
}

await startServer()
const { browser, page } = await openBrowser()
const devtools = await browser.newBrowserCDPSession()
const faults = []
page.on('pageerror', (error) => faults.push(error.message))
const rendererMiB = async () => {
  const { processInfo } = await devtools.send('SystemInfo.getProcessInfo')
  return Math.max(0, ...processInfo.filter((p) => p.type === 'renderer').map((p) => residentMiB(p.id)))
}

const begin = async () => {
  await page.goto(`${base}/practise`)
  await page.getByLabel('Pace').click()
  await page.getByRole('option', { name: '30 times' }).click()
  await page.getByLabel('Stations').click()
  await page.getByRole('option', { name: '40', exact: true }).click()
  await page.getByLabel('Band number').fill(String(1 + Math.floor(random() * 1e6)))
  await page.getByRole('button', { name: 'Start the practice band' }).click()
  await page.getByRole('heading', { name: 'Slots', exact: true }).waitFor()
}

/** One turn of the operator, in the page: who calls us, or calls CQ, is answered. Also reads what the screen says. */
const turn = () =>
  page.evaluate(async () => {
    const exchange = document.querySelector('section[aria-label="Exchange"]')
    const told = exchange?.querySelector('[role="status"]')?.textContent ?? ''
    const time = document.querySelector('header [class*="time"]')?.textContent ?? ''
    const [h, m, s] = time.split(':').map(Number)
    const busy = [...(exchange?.querySelectorAll('button') ?? [])].some((b) => b.textContent === 'Stop after this')
    let tapMs
    let did
    const check = exchange?.querySelectorAll('input[type=checkbox]') ?? []
    if (check.length > 0) {
      check.forEach((box) => !box.checked && box.click())
      await new Promise((done) => setTimeout(done, 50))
      ;[...exchange.querySelectorAll('button')].find((b) => b.textContent.startsWith('Checked'))?.click()
    } else if (!busy) {
      // The list stands still for seconds, which are minutes here: who can be answered is read in the rows, as an operator reads.
      const rows = [...document.querySelectorAll('button[data-answer]:not([disabled])')]
      const says = (words) => rows.find((b) => words.test(b.parentElement.textContent))
      const button = says(/calls you|answers you/) ?? says(/calling CQ(?!.*worked)/) ?? rows[0]
      if (button) {
        did = button.getAttribute('aria-label')
        button.click()
      }
    } else {
      // A tap that changes only the screen: from the tap to the next frame drawn after it.
      const filters = [...document.querySelectorAll('[role=group] button[aria-pressed]')]
      const other = filters.find((b) => b.getAttribute('aria-pressed') === 'false')
      if (other) {
        const start = performance.now()
        other.click()
        await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))
        tapMs = performance.now() - start
      }
    }
    return { told, utcS: h * 3600 + m * 60 + s, tapMs, did, heap: performance.memory?.usedJSHeapSize }
  })

const samples = []
const taps = []
/** Contacts that the screen said are made, in order; one sentence counts once. */
const completed = []
let simulatedS = 0
let last
let lastTold = ''
let killed = 0
let reloaded = 0
const started = Date.now()
const due = (done, planned) => done < planned && simulatedS / 3600 >= ((done + 0.5 + 0.4 * (random() - 0.5)) * hours) / planned
const sample = async (heap) =>
  samples.push({ hour: simulatedS / 3600, tab: await rendererMiB(), heap: (heap ?? 0) / 2 ** 20, server: residentMiB(server.pid) })

try {
  const { station } = await (await fetch(`${base}/api/profile`)).json()
  const profile = {
    ...station,
    ...{
      call: 'Q5RVR',
      locator: 'JN97LK',
      licenceConfirmedUtcMs: Date.now(),
      dialFrequencyHz: 14_074_000,
      powerW: 10,
      modes: { ...station.modes, ft8: { ...station.modes.ft8, maxTries: 3, depth: 'quick' } },
    },
  }
  await fetch(`${base}/api/profile`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ station: profile }),
  })
  await begin()
  while (simulatedS < hours * 3600 && Date.now() - started < limitMs) {
    await page.waitForTimeout(150)
    const now = await turn()
    if (Number.isFinite(now.utcS)) {
      // The simulated day wraps at midnight; a world that began anew steps back.
      const step = last === undefined ? 0 : (now.utcS - last + 86_400) % 86_400
      if (step < 600) simulatedS += step
      last = now.utcS
    }
    if (now.tapMs !== undefined) {
      taps.push(now.tapMs)
      if (now.tapMs >= 100)
        console.log(
          `slow tap at ${(simulatedS / 3600).toFixed(2)} h: ${now.tapMs.toFixed(0)} ms, heap ${(now.heap / 2 ** 20).toFixed(0)} MiB`,
        )
    }
    if (now.told !== lastTold) {
      const made = /^Contact with (\S+) is complete/.exec(now.told)
      if (made) completed.push(made[1])
      lastTold = now.told
    }
    if (simulatedS / 3600 >= samples.length * (hours / 24)) {
      await sample(now.heap)
      console.log(
        `${(simulatedS / 3600).toFixed(1)} h, ${((Date.now() - started) / 60_000).toFixed(1)} min: ${completed.length} contacts, tab ${samples.at(-1).tab.toFixed(0)} MiB, server ${samples.at(-1).server.toFixed(0)} MiB, ${killed} kills, ${reloaded} reloads`,
      )
    }
    if (due(killed, kills)) {
      killed++
      await killServer()
      await page.waitForTimeout(500 + 3000 * random())
      await startServer()
    }
    if (due(reloaded, reloads)) {
      reloaded++
      last = undefined
      lastTold = ''
      await begin()
    }
  }
  // What waits in the browser goes out; then the log must hold every contact that the screen spoke of.
  await page.waitForTimeout(20_000)
  const { total: logged } = await (await fetch(`${base}/api/contacts?origin=practice&limit=1`)).json()
  const stored = new Map()
  for (let offset = 0; ; offset += 500) {
    const { rows } = await (await fetch(`${base}/api/contacts?origin=practice&limit=500&offset=${offset}`)).json()
    for (const { call } of rows) stored.set(call, (stored.get(call) ?? 0) + 1)
    if (rows.length < 500) break
  }
  const spoken = new Map()
  for (const call of completed) spoken.set(call, (spoken.get(call) ?? 0) + 1)
  const lost = [...spoken].filter(([call, n]) => (stored.get(call) ?? 0) < n)
  // Counted in the database itself, as the killed server left it.
  await killServer()
  const database = await PGlite.create({ extensions: { pg_trgm }, dataDir: join(data, 'database') })
  const { rows: kept } = await database.query(`select count(*)::int as n from heard where source = 'practice'`)
  await database.close()
  taps.sort((a, b) => a - b)
  const at = (share) => taps[Math.min(taps.length - 1, Math.floor(share * taps.length))]?.toFixed(0)
  const third = Math.max(1, Math.floor(samples.length / 3))
  const mean = (list, key) => (list.reduce((sum, s) => sum + s[key], 0) / list.length).toFixed(0)
  console.log(
    `\n${(simulatedS / 3600).toFixed(1)} simulated hours in ${((Date.now() - started) / 60_000).toFixed(0)} minutes; server killed ${killed} times, tab loaded anew ${reloaded} times`,
  )
  console.log(
    `contacts: the screen spoke of ${completed.length}, the log holds ${logged}; lost: ${lost.length === 0 ? 'none' : lost.map(([call]) => call).join(', ')}`,
  )
  console.log(`decodes kept: ${kept[0].n}`)
  for (const key of ['tab', 'heap', 'server'])
    console.log(
      `memory, MiB, ${key}: first third ${mean(samples.slice(0, third), key)}, last third ${mean(samples.slice(-third), key)}, most ${Math.max(...samples.map((s) => s[key])).toFixed(0)}`,
    )
  console.log(
    `taps: ${taps.length}, median ${at(0.5)} ms, 95 % ${at(0.95)} ms, 99 % ${at(0.99)} ms, worst ${taps.at(-1)?.toFixed(0)} ms, ${taps.filter((ms) => ms >= 100).length} of 100 ms or more; to the second frame after`,
  )
  console.log(`errors in the page: ${faults.length}${faults.length > 0 ? `, first: ${faults[0]}` : ''}`)
  if (lost.length > 0) process.exitCode = 1
} finally {
  await browser.close()
  server.kill('SIGKILL')
  rmSync(data, { recursive: true, force: true })
}
