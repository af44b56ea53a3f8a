import { mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createListedSerialPort } from './listedSerialPort'

const folder = mkdtempSync(join(tmpdir(), 'zeptik-serial-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
afterEach(() => {
  delete process.env.ZEPTIK_SERIAL
})

const device = join(folder, 'ttyUSB0')
const link = join(folder, 'reed')
const other = join(folder, 'secret')
writeFileSync(device, '')
writeFileSync(other, '')
symlinkSync(device, link)

const open = (path: string) =>
  createListedSerialPort(path, 9600, false, async () => [{ path: device, name: device }]).open({
    onBytes: () => undefined,
    onClosed: () => undefined,
  })

describe('a serial port of the server', () => {
  // Neither file is a terminal, so opening one fails in any case: in what words tells whether it was tried.
  it.each([
    ['is tried when the system lists it', device, false],
    ['is tried by another name of it', link, false],
    ['is no other file', other, true],
    ['is no other file by a way around', join(folder, '.', '..', folder.split('/').pop()!, 'secret'), true],
    ['is nothing that is not there', join(folder, 'nothing'), true],
  ])('%s', async (_what, path, refused) => {
    const opened = await open(path)
    expect(opened).toMatchObject({ ok: false })
    expect(/none of the serial ports/.test(opened.ok ? '' : opened.error)).toBe(refused)
  })

  it('is a problem in words where the system does not say what there is', async () => {
    const port = createListedSerialPort(device, 9600, false, () => Promise.reject(new Error('no such program')))
    expect(await port.open({ onBytes: () => undefined, onClosed: () => undefined })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/does not say which serial ports it has: no such program/),
    })
  })

  it('may be named by whoever starts the server', async () => {
    process.env.ZEPTIK_SERIAL = `/dev/pts/9, ${other}`
    expect(await open(other)).toMatchObject({ ok: false, error: expect.not.stringMatching(/none of the serial ports/) })
  })
})
