// npm run bench:log: imports 100,000 made-up contacts into a server of its own and times searches in them.
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ensureBuild, ensurePackages, root } from './setup.mjs'

ensurePackages()
ensureBuild()
const COUNT = Number(process.argv[2] ?? 100_000)
const PORT = '7391'
const data = mkdtempSync(join(tmpdir(), 'zeptik-bench-'))
const base = `http://127.0.0.1:${PORT}`

let seed = 12_345
const random = () => (seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648) / 2_147_483_648
const pick = (text) => text[Math.floor(random() * text.length)]
const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ'
const field = (name, value) => `<${name}:${value.length}>${value}`

function madeUpLog() {
  const start = Date.UTC(2015, 0, 1)
  const records = []
  for (let i = 0; i < COUNT; i++) {
    const iso = new Date(start + i * 3_600_000).toISOString().replace(/[-:T]/g, '')
    const call = `Q${pick('0123456789')}${pick(letters)}${pick(letters)}${pick(letters)}`
    const locator = pick('IJK') + pick('LMNOP') + pick('0123456789') + pick('0123456789')
    records.push(
      field('CALL', call) +
        field('QSO_DATE', iso.slice(0, 8)) +
        field('TIME_ON', iso.slice(8, 14)) +
        field('MODE', 'FT8') +
        field('BAND', pick(['20m', '40m', '15m', '10m'])) +
        field('RST_SENT', '-08') +
        field('RST_RCVD', '-11') +
        field('GRIDSQUARE', locator) +
        '<EOR>\n',
    )
  }
  return `made up<EOH>\n${records.join('')}`
}

async function timed(what, work) {
  const begun = performance.now()
  const value = await work()
  console.log(`${what.padEnd(46)} ${(performance.now() - begun).toFixed(0).padStart(7)} ms`)
  return value
}

const median = (values) => [...values].sort((a, b) => a - b)[values.length >> 1]

async function search(what, query) {
  const times = []
  let total = 0
  for (let i = 0; i < 7; i++) {
    const begun = performance.now()
    total = (await (await fetch(`${base}/api/contacts?origin=all&limit=100&${query}`)).json()).total
    times.push(performance.now() - begun)
  }
  console.log(`${what.padEnd(46)} ${median(times).toFixed(0).padStart(7)} ms, ${total} found`)
}

const server = spawn(process.execPath, ['scripts/start.mjs'], {
  cwd: root,
  env: { ...process.env, PORT, ZEPTIK_DATA: data },
  stdio: ['ignore', 'pipe', 'inherit'],
})
try {
  await new Promise((done) => server.stdout.on('data', (text) => String(text).includes('open http') && done()))
  const log = madeUpLog()
  const until = async (stage) => {
    for (;;) {
      const state = await (await fetch(`${base}/api/adif/import`)).json()
      if (state.stage === stage) return state
      if (state.stage === 'failed') throw new Error(state.error)
      await new Promise((done) => setTimeout(done, 50))
    }
  }
  const { id } = await timed(`looking into ${COUNT} contacts`, async () => {
    await fetch(`${base}/api/adif`, { method: 'POST', body: log })
    return until('preview')
  })
  const answer = await timed('storing them', async () => {
    const headers = { 'content-type': 'application/json' }
    await fetch(`${base}/api/adif/import`, { method: 'POST', headers, body: JSON.stringify({ id, action: 'store' }) })
    return until('done')
  })
  console.log(`stored: ${answer.stored}`)
  await search('newest hundred', '')
  await search('last hundred of all', `offset=${COUNT - 100}`)
  await search('by call', 'search=q5ab')
  await search('by locator, sorted by call', 'search=jn97&sort=call&direction=asc')
  await search('on one band', 'band=40m')
  await search('duplicates', 'show=duplicates')
  await timed('export of all', async () => (await fetch(`${base}/api/adif?origin=all`)).text())
} finally {
  server.kill('SIGKILL')
  rmSync(data, { recursive: true, force: true })
}
