import { spawn } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readConfig } from './config'
import { lockFolder, lockKey } from './folderLock'

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
      readConfig(
        {
          PORT: '8080',
          HOST: '0.0.0.0',
          ZEPTIK_DATA: '/srv/log',
          ZEPTIK_NAMES: 'Field.example, reed.example',
          ZEPTIK_PASS: 'ferry landing',
        },
        '/opt/z',
      ),
    ).toMatchObject({
      ok: true,
      config: {
        port: 8080,
        host: '0.0.0.0',
        dataFolder: '/srv/log',
        names: ['0.0.0.0', 'field.example', 'reed.example'],
        passPhrase: 'ferry landing',
      },
    })
  })
  it.each([
    [{ PORT: 'http' }, /PORT must be a number.*"http"/],
    [{ PORT: '70000' }, /PORT must be 1 to 65535/],
    [{ PORT: '80.5' }, /whole number/],
    [{ HOST: 'a b' }, /HOST must be an address/],
    [{ ZEPTIK_DEMO: 'yes' }, /ZEPTIK_DEMO must be 0 or 1/],
    [{ ZEPTIK_NAMES: 'a/b' }, /ZEPTIK_NAMES must be host names/],
    [{ HOST: '0.0.0.0' }, /can key a transmitter: choose a pass phrase/],
    [{ HOST: '::' }, /ZEPTIK_PASS/],
    [{ HOST: '0.0.0.0', ZEPTIK_PASS: 'short' }, /^ZEPTIK_PASS must have 8 characters or more$/],
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
      `require('net').createServer().listen('\\0zeptik-' + process.argv[1], () => console.log('held')); setInterval(() => {}, 1000)`,
      lockKey(folder),
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

  it('is the same by whatever path the folder is reached', async () => {
    const other = `${folder}-link`
    symlinkSync(folder, other)
    try {
      expect(lockKey(other)).toBe(lockKey(folder))
    } finally {
      rmSync(other)
    }
  })

  it('holds where names of sockets do not reach: by the socket in the folder alone', async () => {
    // Another container has other names, but the same folder.
    const holder = spawn(process.execPath, [
      '-e',
      `require('net').createServer((s) => s.destroy()).listen(process.argv[1] + '/lock.sock', () => console.log('held')); setInterval(() => {}, 1000)`,
      folder,
    ])
    await new Promise((done) => holder.stdout.once('data', done))
    expect(await lockFolder(folder)).toMatchObject({ ok: false, error: expect.stringContaining('already running') as string })
    const gone = new Promise((done) => holder.once('exit', done))
    holder.kill('SIGKILL')
    await gone
    // It is left behind by a killed process, and then in nobody's way.
    expect(existsSync(join(folder, 'lock.sock'))).toBe(true)
    const after = await lockFolder(folder)
    expect(after.ok).toBe(true)
    if (after.ok) await after.release()
  })

  it('holds a folder whose name is longer than that of a socket may be', async () => {
    const deep = join(folder, 'a'.repeat(90), 'b'.repeat(90))
    mkdirSync(deep, { recursive: true })
    const first = await lockFolder(deep)
    expect(first.ok).toBe(true)
    expect(existsSync(join(deep, 'lock.sock'))).toBe(process.platform === 'linux')
    expect((await lockFolder(deep)).ok).toBe(false)
    if (first.ok) await first.release()
  })
})
