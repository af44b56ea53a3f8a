// npm run torture [-- kills [seed]]: kills a server of its own at random moments of writing, importing, keying and starting, and counts
// what was lost, what was stored twice, and for how long the radio was keyed without a right. Then the largest import runs beside
// a keyed radio.
import { spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs'
import { randomUUID } from 'node:crypto'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { ensureBuild, ensurePackages, root } from './setup.mjs'

ensurePackages()
ensureBuild()
const KILLS = Number(process.argv[2] ?? 100)
let seed = Number(process.argv[3] ?? 1)
const PORT = '7394'
const IMPORTED = 2000
const LARGEST = 30_000
const WATCHDOG_MS = 2000
const data = mkdtempSync(join(tmpdir(), 'zeptik-torture-'))
const base = `http://127.0.0.1:${PORT}`
const random = () => (seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648) / 2_147_483_648
const later = (ms) => new Promise((done) => setTimeout(done, ms))
const began = Date.now()

// The radio lives through everything.
const radio = spawn(process.execPath, [join(root, 'scripts/torture/radio.mjs')], { stdio: ['ignore', 'pipe', 'inherit'] })
let keyedSince
/** Instants at which nobody had a right to key it any more; undefined while somebody has. */
let rightEndedMs = -Infinity
const overtimes = []
let radioPort
createInterface({ input: radio.stdout }).on('line', (line) => {
  const [what, n] = line.split(' ')
  if (what === 'port') radioPort = Number(n)
  if (what === 'keyed') keyedSince = Number(n)
  if (what === 'unkeyed') {
    overtimes.push(Math.max(0, Number(n) - Math.max(rightEndedMs ?? Number(n), keyedSince)))
    keyedSince = undefined
  }
})
while (radioPort === undefined) await later(10)

let server
let ended
function start() {
  server = spawn(process.execPath, [join(root, 'scripts/start.mjs')], {
    env: { ...process.env, PORT, ZEPTIK_DATA: data },
    stdio: ['ignore', 'ignore', process.env.TORTURE_LOUD ? 'inherit' : 'ignore'],
  })
  ended = new Promise((done) => server.once('exit', done))
}
/** Processes that a process has started. */
function childrenOf(pid) {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .flatMap((name) => {
      try {
        const stat = readFileSync(`/proc/${name}/stat`, 'utf8')
        return Number(stat.slice(stat.lastIndexOf(')') + 4).split(' ')[0]) === pid ? [Number(name)] : []
      } catch {
        return []
      }
    })
}
const call = async (path, method = 'GET', body) => {
  const json = body !== undefined && typeof body !== 'string'
  const ask = () =>
    fetch(base + path, {
      method,
      ...(json && { headers: { 'content-type': 'application/json' } }),
      ...(body !== undefined && { body: json ? JSON.stringify(body) : body }),
    })
  // A connection to a server that was killed may be taken for one to the next; asking twice changes nothing.
  const response = await ask().catch((error) => (method === 'GET' ? ask() : Promise.reject(error)))
  if (!response.ok) throw new Error(`${path}: ${response.status} ${await response.text()}`)
  return response.json()
}
async function untilUp() {
  for (let i = 0; i < 1200; i++) {
    const up = await call('/api/health').then(
      () => true,
      () => false,
    )
    if (up) return
    await later(50)
  }
  throw new Error('the server did not start')
}
const field = (name, value) => `<${name}:${value.length}>${value}`
function adif(count, year) {
  const records = Array.from({ length: count }, (_, i) => {
    const iso = new Date(Date.UTC(year, 0, 1) + 180_000 * i + 30_000).toISOString().replace(/[-:T]/g, '')
    return `${field('CALL', `Q${i % 10}T${String.fromCharCode(65 + (i % 26))}${String.fromCharCode(65 + ((i >> 5) % 26))}`)}${field('QSO_DATE', iso.slice(0, 8))}${field('TIME_ON', iso.slice(8, 14))}${field('MODE', 'FT8')}${field('BAND', '20m')}<EOR>\n`
  })
  return `made up<EOH>\n${records.join('')}`
}
const contact = () => {
  const startedUtcMs = Date.now()
  return {
    ...{ id: randomUUID(), revision: 1, call: 'Q2LMN', mode: 'FT8', submode: null, band: '20m', startedUtcMs, endedUtcMs: startedUtcMs },
    ...{ origin: 'air', dialFrequencyHz: 14_074_000, audioOffsetHz: 1200, reportSent: '-08', reportReceived: '-10', locator: 'JO31' },
    ...{ ownCall: 'Q5RVR', ownLocator: 'JN97', powerW: 5, name: null, place: null, comment: null, ownProgramme: null, ownReference: null },
    ...{ otherProgramme: null, otherReference: null, clockUncertaintyMs: 20, evidence: [], extra: {}, deletedUtcMs: null },
  }
}
/** Keys until it is told to stop, with a sign of life twice a second. */
async function keep(going) {
  const id = randomUUID()
  const { alarm } = await firstState()
  rightEndedMs = undefined
  try {
    await call('/api/links/key', 'POST', { action: 'on', id, acknowledged: alarm?.sequence ?? 0 })
    for (let i = 0; going() && i < 20; i++) {
      await later(500)
      if (going()) await call('/api/links/key', 'POST', { action: 'alive', id })
    }
    if (!going()) return
    rightEndedMs = Date.now()
    await call('/api/links/key', 'POST', { action: 'off' })
  } catch {
    rightEndedMs ??= Date.now()
  }
}
/** Keys without ever saying that anybody is there. @returns how much longer than it may be it was keyed */
async function unkeyedAfterMs() {
  const { alarm } = await firstState()
  const count = overtimes.length
  rightEndedMs = Infinity
  const began = Date.now()
  await call('/api/links/key', 'POST', { action: 'on', id: randomUUID(), acknowledged: alarm?.sequence ?? 0 })
  rightEndedMs = began + WATCHDOG_MS
  while (overtimes.length === count) await later(5)
  // The limit over all holders wants a pause now and then.
  await later(1200)
  return overtimes.at(-1)
}
async function firstState() {
  const leave = new AbortController()
  const response = await fetch(`${base}/api/links/live`, { signal: leave.signal })
  const reader = response.body.getReader()
  let text = ''
  while (!text.includes('\n\n')) text += Buffer.from((await reader.read()).value).toString()
  leave.abort()
  return JSON.parse(text.slice(text.indexOf('{')))
}
async function importFile(text, going = () => true) {
  await call('/api/adif?name=torture', 'POST', text)
  let told = false
  while (going()) {
    const state = await call('/api/adif/import')
    if (state === null || ['done', 'failed', 'stopped'].includes(state.stage)) return state
    if (state.stage === 'preview' && !told) {
      told = true
      await call('/api/adif/import', 'POST', { id: state.id, action: 'store' })
    }
    await later(20)
  }
}
const quietly = (work) => work.catch(() => undefined)

const acknowledged = new Set()
const rounds = { writing: 0, importing: 0, keying: 0, starting: 0, links: 0, both: 0 }
const file = adif(IMPORTED, 2016)
try {
  start()
  await untilUp()
  const config = await call('/api/links/config')
  await call('/api/links/config', 'PUT', {
    ...config,
    control: { ...config.control, enabled: true, dialect: 'ascii-9', port: { kind: 'tcp', host: '127.0.0.1', port: radioPort } },
    keying: { ...config.keying, by: 'cat' },
  })
  for (let n = 1; n <= KILLS; n++) {
    const whileStarting = random() < 0.15
    if (whileStarting) rounds.starting++
    else await untilUp()
    let over = false
    const going = () => !over
    const work = []
    if (!whileStarting) {
      const what = random()
      if (what < 0.7) {
        rounds.writing++
        work.push(
          quietly(
            (async () => {
              while (going()) {
                const made = Array.from({ length: 1 + Math.floor(3 * random()) }, contact)
                await call('/api/contacts', 'POST', made)
                made.forEach(({ id }) => acknowledged.add(id))
              }
            })(),
          ),
        )
      }
      if (what > 0.4) {
        rounds.importing++
        work.push(quietly(importFile(file, going)))
      }
      if (random() < 0.7) {
        rounds.keying++
        // The control line is up a moment after the server.
        work.push(quietly(later(600).then(() => keep(going))))
      }
    }
    await later(whileStarting ? 3000 * random() : 200 + 3500 * random())
    const kind = random()
    const links = childrenOf(server.pid)
    if (kind < 0.1 && links.length > 0 && !whileStarting) {
      // The part that holds the ports alone: the server goes on and starts it anew.
      rounds.links++
      for (const pid of links) process.kill(pid, 'SIGKILL')
      rightEndedMs ??= Date.now()
      await later(1500)
      over = true
      await Promise.all(work)
      continue
    }
    over = true
    if (kind < 0.3) {
      rounds.both++
      for (const pid of links) process.kill(pid, 'SIGKILL')
    }
    server.kill('SIGKILL')
    rightEndedMs ??= Date.now()
    await ended
    await Promise.all(work)
    await later(300)
    start()
    if (n % 10 === 0) console.log(`${n} of ${KILLS} kills; ${acknowledged.size} contacts acknowledged; ${overtimes.length} times unkeyed`)
  }
  await untilUp()
  // What a killed import left out is added, and nothing of it twice.
  await importFile(file)
  const again = await importFile(file)
  const total = (await call('/api/contacts?origin=all&limit=1')).total
  const held = new Set()
  for (let offset = 0; offset < total; offset += 500)
    for (const { id } of (await call(`/api/contacts?origin=all&limit=500&sort=startedUtcMs&direction=asc&offset=${offset}`)).rows)
      held.add(id)
  const lost = [...acknowledged].filter((id) => !held.has(id)).length

  // The largest import beside a keyed radio, of which nobody says that it is alive any more.
  // The server tells of its last one to two minutes: those of the start must be over.
  await later(125_000)
  const idle = []
  for (let i = 0; i < 5; i++) idle.push(await unkeyedAfterMs())
  const before = await call('/api/health')
  const importing = importFile(adif(LARGEST, 2017))
  await later(1500)
  const busy = []
  for (let i = 0; i < 5; i++) busy.push(await unkeyedAfterMs())
  const state = await importing
  const after = await call('/api/health')
  const keyed = overtimes.slice(0, -10).sort((a, b) => a - b)
  const at = (share) => keyed[Math.floor(share * (keyed.length - 1))] ?? 0
  console.log(`
${KILLS} kills in ${((Date.now() - began) / 60_000).toFixed(0)} min: ${Object.entries(rounds)
    .map(([name, times]) => `${name} ${times}`)
    .join(', ')}
contacts acknowledged: ${acknowledged.size}; lost: ${lost}
contacts of the imported file: ${total - [...held].filter((id) => acknowledged.has(id)).length} beyond those (${IMPORTED} in the file; the rest was stored and killed before its answer); new at the last import of it: ${again.ready}
unkeyed ${keyed.length} times; keyed without a right: median ${at(0.5)} ms, 95 % ${at(0.95)} ms, longest ${at(1)} ms
without a word for ${WATCHDOG_MS / 1000} s: unkeyed after ${idle.join(', ')} ms more; while ${state.stored} contacts were imported: ${busy.join(', ')} ms
longest stall of the server while importing: ${after.longestStallMs} ms (${before.longestStallMs} ms in the minutes before)`)
  if (lost > 0 || again.ready > 0 || keyedSince !== undefined) process.exitCode = 1
} finally {
  server.kill('SIGKILL')
  await later(1500)
  radio.kill('SIGKILL')
  rmSync(data, { recursive: true, force: true })
}
