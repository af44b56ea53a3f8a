import { createSocket } from 'node:dgram'
import { connect, createServer } from 'node:net'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { defaultClockConfig, type ClockConfig, type LinkStandinRequest, type LinkState, type ServerClock } from '@/core/links'
import { readNmeaRecording } from '@/core/nmea'
import { RADIO_VOICES } from '@/standins'
import { freePort } from '../testing'
import { LinkStandins } from './linkStandins'
import { StandinKeeper } from './standinKeeper'

let folder: string
let keeper: StandinKeeper
let config: ClockConfig
let told: ServerClock['standins'][]
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'zeptik-standins-'))
  config = {
    ...defaultClockConfig,
    udp: { ...defaultClockConfig.udp, port: await freePort() },
    tcp: { ...defaultClockConfig.tcp, port: await freePort() },
  }
  told = []
  keeper = new StandinKeeper(
    folder,
    () => config,
    (state) => told.push(state),
  )
})
afterEach(() => {
  keeper.stop()
  rmSync(folder, { recursive: true, force: true })
})

/** All that comes by UDP in so many milliseconds. */
async function listen(port: number, forMs: number): Promise<Uint8Array> {
  const pieces: Buffer[] = []
  const socket = createSocket('udp4')
  socket.on('message', (message) => pieces.push(message))
  await new Promise<void>((done) => socket.bind(port, '127.0.0.1', done))
  await new Promise((done) => setTimeout(done, forMs))
  await new Promise<void>((done) => socket.close(done))
  return new Uint8Array(Buffer.concat(pieces))
}
const read = (bytes: Uint8Array) => readNmeaRecording(bytes, { notAfterUtcMs: Date.now() + 86_400_000 }, () => undefined)

describe('the practice receiver', () => {
  it('sends sentences that a receiver would, and from then on with the faults that are asked for, without a new start', async () => {
    expect(await keeper.set({ gps: { way: 'udp', faults: [] } })).toEqual({ ok: true })
    expect(told.at(-1)).toMatchObject({ gps: { way: 'udp', faults: [] }, time: null })
    const sound = read(await listen(config.udp.port, 2500))
    expect(sound.accepted).toBeGreaterThan(3)
    expect(sound).toMatchObject({ rejected: 0, trusted: true, locator: 'JN97LK45' })
    const where = told.at(-1)!.gps!.where
    expect(await keeper.set({ gps: { way: 'udp', faults: ['threeSatellites', 'no such fault'] } })).toEqual({ ok: true })
    expect(told.at(-1)!.gps).toEqual({ way: 'udp', where, faults: ['threeSatellites'] })
    expect(read(await listen(config.udp.port, 2500))).toMatchObject({ trusted: false, doubt: expect.stringMatching(/satellites/) })
  })

  it('falls silent when it is stopped, and only what is named is touched', async () => {
    await keeper.set({ gps: { way: 'udp', faults: [] }, time: { faults: [] } })
    await keeper.set({ time: null })
    expect(told.at(-1)).toMatchObject({ gps: { way: 'udp' }, time: null })
    await keeper.set({ gps: null })
    expect(told.at(-1)).toEqual({ gps: null, time: null })
    expect((await listen(config.udp.port, 1500)).length).toBe(0)
  })

  it('says what to do when nobody listens for it, and that it is gone when whoever listened hangs up', async () => {
    const refused = await keeper.set({ gps: { way: 'tcp', faults: [] } })
    expect(refused).toEqual({ ok: false, error: expect.stringMatching(/Turn on "NMEA over TCP" first/) })
    expect(told).toEqual([])
    const heard: Buffer[] = []
    const listener = createServer((socket) => {
      socket.on('error', () => undefined)
      socket.on('data', (data) => {
        heard.push(data)
        if (heard.length === 3) socket.destroy()
      })
    })
    await new Promise<void>((done) => listener.listen(config.tcp.port, '127.0.0.1', done))
    try {
      expect(await keeper.set({ gps: { way: 'tcp', faults: [] } })).toEqual({ ok: true })
      expect(told.at(-1)!.gps).toMatchObject({ way: 'tcp' })
      for (let waited = 0; told.at(-1)!.gps && waited < 100; waited++) await new Promise((done) => setTimeout(done, 100))
      expect(told.at(-1)!.gps).toBeNull()
      expect(Buffer.concat(heard).toString('latin1')).toMatch(/^\$GP\w{3},/)
    } finally {
      listener.close()
    }
  })
})

describe('the practice time server', () => {
  it('runs on a port of its own, and takes its faults while it runs', async () => {
    await keeper.set({ time: { faults: [] } })
    const { where } = told.at(-1)!.time!
    expect(where).toMatch(/^UDP 127\.0\.0\.1:\d+$/)
    await keeper.set({ time: { faults: ['liesByADay', 'nonsense'] } })
    expect(told.at(-1)!.time).toEqual({ where, faults: ['liesByADay'] })
  })
  it('is one, however often it is started at the same moment', async () => {
    await Promise.all([1, 2, 3].map(() => keeper.set({ time: { faults: [] } })))
    expect(new Set(told.map((state) => state.time!.where)).size).toBe(1)
  })
})

describe('the practice radio and TNC', () => {
  it('are one each, however often they are started at the same moment, and gone when stopped', async () => {
    const states: LinkState['standins'][] = []
    const devices = new LinkStandins((state) => states.push(state))
    const request: LinkStandinRequest = { radio: { voice: RADIO_VOICES[0], faults: [] }, tnc: { faults: [] } }
    await Promise.all([1, 2, 3].map(() => devices.set(request)))
    const ports = states.map(({ radio, tnc }) => `${radio!.port} ${tnc!.port}`)
    expect(ports).toEqual([ports[0], ports[0], ports[0]])
    await devices.set({ radio: null, tnc: null })
    expect(states.at(-1)).toEqual({ radio: null, tnc: null })
    for (const port of ports[0]!.split(' ').map(Number)) await expect(answers(port)).resolves.toBe(false)
  })
})

function answers(port: number): Promise<boolean> {
  return new Promise((done) => {
    const socket = connect(port, '127.0.0.1', () => {
      socket.destroy()
      done(true)
    })
    socket.on('error', () => done(false))
  })
}
