// npm run bench:keying: time from the request to key until the order arrives at a radio on a real TCP port, through the server.
import { createServer } from 'node:net'
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ensureBuild, ensurePackages, root } from './setup.mjs'

ensurePackages()
ensureBuild()
const COUNT = 100
const PORT = '7392'
const data = mkdtempSync(join(tmpdir(), 'zeptik-bench-'))
const base = `http://127.0.0.1:${PORT}`

// The smallest radio that is believed: it says a frequency and notes when it is keyed.
let arrived = () => undefined
const radio = createServer((socket) => {
  socket.setNoDelay(true)
  socket.on('error', () => socket.destroy())
  socket.on('data', (bytes) => {
    for (const command of bytes.toString('latin1').split(';')) {
      if (command === 'FA') socket.write('FA014074000;')
      if (command === 'MD0') socket.write('MD02;')
      if (command === 'TX1') arrived()
    }
  })
})
await new Promise((done) => radio.listen(0, '127.0.0.1', done))

const server = spawn(process.execPath, [join(root, 'scripts/start.mjs')], {
  env: { ...process.env, PORT, ZEPTIK_DATA: data },
  stdio: ['ignore', 'ignore', 'inherit'],
})
const order = (path, method, value) =>
  fetch(base + path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(value) })
try {
  for (let i = 0; ; i++) {
    if (
      await fetch(`${base}/api/health`).then(
        (r) => r.ok,
        () => false,
      )
    )
      break
    if (i > 240) throw new Error('the server did not start')
    await new Promise((done) => setTimeout(done, 500))
  }
  const config = await (await fetch(`${base}/api/links/config`)).json()
  const set = await order('/api/links/config', 'PUT', {
    ...config,
    control: { ...config.control, enabled: true, dialect: 'ascii-9', port: { kind: 'tcp', host: '127.0.0.1', port: radio.address().port } },
    keying: { ...config.keying, by: 'cat' },
  })
  if (!set.ok) throw new Error(await set.text())
  await new Promise((done) => setTimeout(done, 1500))
  const times = []
  for (let i = 0; i < COUNT; i++) {
    const start = performance.now()
    const keyed = new Promise((done) => (arrived = () => done(performance.now() - start)))
    const answer = await order('/api/links/key', 'POST', { action: 'on', id: String(i), acknowledged: 0 })
    if (!answer.ok) throw new Error(await answer.text())
    times.push(await keyed)
    await order('/api/links/key', 'POST', { action: 'off' })
    // Not in step with the polls.
    await new Promise((done) => setTimeout(done, 37 * (i % 7)))
  }
  times.sort((a, b) => a - b)
  const at = (share) => times[Math.floor(share * (times.length - 1))].toFixed(1)
  console.log(`${COUNT} times keyed over HTTP, server and TCP: median ${at(0.5)} ms, 95 % ${at(0.95)} ms, worst ${at(1)} ms`)
} finally {
  server.kill('SIGINT')
  radio.close()
  await new Promise((done) => server.once('exit', done))
  rmSync(data, { recursive: true, force: true })
  process.exit()
}
