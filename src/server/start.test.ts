import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readConfig } from './config'
import { lockFolder } from './folderLock'

describe('readConfig', () => {
  it('has defaults that listen to this computer alone', () => {
    expect(readConfig({}, '/opt/z')).toEqual({
      ok: true,
      config: { port: 7350, host: '127.0.0.1', names: ['127.0.0.1'], dataFolder: '/opt/z/data', demo: false },
    })
    expect(readConfig({ ZEPTIK_DEMO: '1', PORT: '' }, '/opt/z')).toMatchObject({
      ok: true,
      config: { dataFolder: '/opt/z/demo-data', port: 7350 },
    })
    expect(
      readConfig({ PORT: '8080', HOST: '0.0.0.0', ZEPTIK_DATA: '/srv/log', ZEPTIK_NAMES: 'Field.example, reed.example' }, '/opt/z'),
    ).toMatchObject({
      ok: true,
      config: { port: 8080, host: '0.0.0.0', dataFolder: '/srv/log', names: ['0.0.0.0', 'field.example', 'reed.example'] },
    })
  })
  it.each([
    [{ PORT: 'http' }, /PORT must be a number.*"http"/],
    [{ PORT: '70000' }, /PORT must be 1 to 65535/],
    [{ PORT: '80.5' }, /whole number/],
    [{ HOST: 'a b' }, /HOST must be an address/],
    [{ ZEPTIK_DEMO: 'yes' }, /ZEPTIK_DEMO must be 0 or 1/],
    [{ ZEPTIK_NAMES: 'a/b' }, /ZEPTIK_NAMES must be host names/],
  ])('refuses %j', (environment, why) => {
    const read = readConfig(environment, '/opt/z')
    expect(read.ok).toBe(false)
    if (!read.ok) expect(read.problems.join()).toMatch(why)
  })
  it('names all problems at once', () => {
    const read = readConfig({ PORT: 'x', HOST: '?' }, '/')
    expect(!read.ok && read.problems).toHaveLength(2)
  })
})

describe('lockFolder', () => {
  const folder = mkdtempSync(join(tmpdir(), 'zeptik-lock-'))
  afterAll(() => rmSync(folder, { recursive: true, force: true }))

  it('is held once, and free again after release', async () => {
    const first = await lockFolder(folder)
    expect(first.ok).toBe(true)
    const second = await lockFolder(folder)
    expect(second).toMatchObject({ ok: false, error: expect.stringContaining('already running') as string })
    if (first.ok) await first.release()
    const third = await lockFolder(folder)
    expect(third.ok).toBe(true)
    if (third.ok) await third.release()
  })

  it('is let go when its holder is killed', async () => {
    const holder = spawn(process.execPath, [
      '-e',
      `const { createHash } = require('crypto'); const { realpathSync } = require('fs');
       const key = createHash('sha256').update(realpathSync(process.argv[1])).digest('hex').slice(0, 32);
       require('net').createServer().listen('\\0zeptik-' + key, () => console.log('held')); setInterval(() => {}, 1000)`,
      folder,
    ])
    await new Promise((done) => holder.stdout.once('data', done))
    expect((await lockFolder(folder)).ok).toBe(false)
    const gone = new Promise((done) => holder.once('exit', done))
    holder.kill('SIGKILL')
    await gone
    const after = await lockFolder(folder)
    expect(after.ok).toBe(true)
    if (after.ok) await after.release()
  })
})
