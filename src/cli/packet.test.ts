import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { encodeWav } from '@/core/audio'
import { createGaussian, createRandom } from '@/core/dsp'
import { PACKET_MODEMS, uiFrame } from '@/core/packet'
import { encodeLinkFrame, linkFrame } from '@/core/packet/link/linkFrame'
import { runPacketChannel } from '@/standins/node/channelRunner'

const folder = mkdtempSync(join(tmpdir(), 'zeptik-packet-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const file = (name: string) => join(folder, name)
const zeptik = (...args: string[]) => spawnSync(join(process.cwd(), 'bin/zeptik'), args, { encoding: 'utf8' })
const objects = (text: string) =>
  text
    .trim()
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as Record<string, unknown>)

describe('zeptik with recordings of packet', () => {
  it.each([
    ['packet1200', []],
    ['packet1200', ['--correction', '32', '--rate', '44100']],
    ['packet300', ['--frequency', '1234']],
    ['packet9600', ['--rate', '44100']],
  ])('writes and reads %s %j', (mode, options) => {
    const line = 'Q5RVR-9>APZ001,Q8TOP*,WIDE2-1:at the ferry'
    expect(zeptik('encode', '--mode', mode, ...options, '--out', file('one.wav'), line).status).toBe(0)
    const { stdout, status } = zeptik('decode', '--mode', mode, '--json', file('one.wav'))
    expect(status).toBe(0)
    const found = objects(stdout)
    expect(found).toHaveLength(1)
    expect(found[0]).toMatchObject({ frame: line, mended: 0, hex: expect.stringMatching(/^82a0b4606062.*03f0617420746865206665727279$/) })
    expect(zeptik('decode', '--mode', mode, file('one.wav')).stdout).toMatch(/dB {2}Q5RVR-9>APZ001,Q8TOP\*,WIDE2-1:at the ferry\n$/)
  })

  it('reads frames of a link, in the order of their times', () => {
    const addresses = { destination: 'Q5CTL-7', source: 'Q5RVR', path: [], modulo: 8 as const }
    const frames = [
      encodeLinkFrame(linkFrame({ kind: 'SABM', role: 'command', pf: true }), addresses),
      encodeLinkFrame(linkFrame({ kind: 'I', role: 'command', pf: true, ns: 3, nr: 5, info: new TextEncoder().encode('hi\r') }), addresses),
      encodeLinkFrame(linkFrame({ kind: 'RR', role: 'response', pf: true, nr: 5 }), addresses),
      uiFrame('Q5RVR', 'CQ', [], 'hello'),
    ]
    const burst = PACKET_MODEMS.packet1200.modulate(frames, { sampleRateHz: 12_000 })
    const gaussian = createGaussian(createRandom(1))
    const samples = Float32Array.from({ length: burst.length + 12_000 }, (_, i) => (burst[i - 6000] ?? 0) + 0.01 * gaussian())
    writeFileSync(file('link.wav'), encodeWav(samples, 12_000))
    const found = objects(zeptik('decode', '--mode', 'packet1200', '--json', file('link.wav')).stdout)
    expect(found.map((one) => one.frame)).toEqual([
      'Q5RVR>Q5CTL-7:<SABM P>',
      'Q5RVR>Q5CTL-7:<I P S3 R5>hi\r',
      'Q5RVR>Q5CTL-7:<RR F R5>',
      'Q5RVR>CQ:hello',
    ])
    const times = found.map((one) => one.timeS as number)
    expect([...times].sort((a, b) => a - b)).toEqual(times)
  })

  it('says why 9600 baud cannot be in a recording', () => {
    zeptik('encode', '--mode', 'packet1200', '--rate', '12000', '--out', file('narrow.wav'), 'Q5RVR>CQ:x')
    const { stderr, status } = zeptik('decode', '--mode', 'packet9600', file('narrow.wav'))
    expect(status).toBe(0)
    expect(stderr).toMatch(/Nothing passes above 4 kHz/)
  })

  it.each([
    [['encode', '--mode', 'packet1200', '--out', 'x.wav', 'hello'], 1, /"hello" is no frame/],
    [
      ['encode', '--mode', 'packet1200', '--frequency', '1500', '--out', 'x.wav', 'Q5RVR>CQ:x'],
      2,
      /--frequency is not for mode packet1200/,
    ],
    [['encode', '--mode', 'packet1200', '--correction', '17', '--out', 'x.wav', 'Q5RVR>CQ:x'], 2, /16, 32, 64/],
    [['encode', '--mode', 'psk31', '--correction', '16', '--out', 'x.wav', 'hello'], 2, /not for mode psk31/],
    [['encode', '--mode', 'packet9600', '--rate', '12000', '--out', 'x.wav', 'Q5RVR>CQ:x'], 1, /44100 or 48000/],
    [['session', '--kiss', 'nowhere', '--call', 'Q5RVR', '--to', 'Q5CTL'], 2, /--kiss must be HOST:PORT/],
    [['session', '--kiss', '127.0.0.1:1', '--call', 'Q5RVR-16', '--to', 'Q5CTL'], 2, /--call must be a call/],
    [['session', '--kiss', '127.0.0.1:1', '--call', 'Q5RVR', '--to', 'Q5CTL', '--via', 'A,B,C,D,E,F,G,H,I'], 2, /at most 8/],
    [['session', '--kiss', '127.0.0.1:1', '--call', 'Q5RVR', '--to', 'Q5CTL'], 1, /no KISS port at 127\.0\.0\.1:1/],
    [['standin', 'channel', '--node', 'nobody-here'], 2, /--node must be a call/],
    [['standin', 'channel', '--fault', 'x'], 2, /deafDigipeater \(digipeaters hear nothing\)/],
  ])('%j is refused', (args, code, words) => {
    const { status, stderr } = zeptik(...args)
    expect(status).toBe(code)
    expect(stderr).toMatch(words)
  })
})

describe('zeptik with a session', () => {
  it('types to a node through a digipeater and loss, and ends in order', async () => {
    const options = {
      host: '127.0.0.1',
      base: 0,
      pace: 40,
      airBaud: 1200,
      loss: 0.05,
      seed: 3,
      ports: 1,
      nodes: ['Q5CTL-7'],
      digipeaters: ['Q8TOP'],
    }
    const started = await runPacketChannel(options, () => new Set())
    if (!started.ok) throw new Error(started.error)
    const session = (args: string[], input: string) =>
      new Promise<{ code: number | null; told: Record<string, unknown>[] }>((done) => {
        const child = spawn('bin/zeptik', [
          'session',
          '--kiss',
          `127.0.0.1:${started.standin.port}`,
          '--call',
          'Q5RVR',
          '--pace',
          '40',
          '--json',
          ...args,
        ])
        let out = ''
        child.stdout.on('data', (data: Buffer) => (out += data.toString()))
        child.on('exit', (code) => done({ code, told: objects(out) }))
        child.stdin.end(input)
      })
    try {
      const good = await session(['--to', 'Q5CTL-7', '--via', 'Q8TOP'], 'i\nwhat is this\n')
      expect(good.code).toBe(0)
      expect(good.told[0]).toEqual({ event: 'connected', to: 'Q5CTL-7' })
      const text = good.told.flatMap((one) => (one.event === 'text' ? [one.text as string] : [])).join('')
      expect(text).toMatch(
        /^Q5CTL-7 node.*\rQ5CTL-7>\rQ5CTL-7 is a made-up node for practice\.\rQ5CTL-7>\r"what is this" is no order here.*\rQ5CTL-7>\r$/,
      )
      expect(good.told.at(-1)).toEqual({ event: 'disconnected', reason: 'Disconnected.', unacknowledgedBytes: 0 })
      const bad = await session(['--to', 'Q9NONE'], 'hello\n')
      expect(bad.code).toBe(1)
      expect(bad.told.filter(({ event }) => event === 'retry')).toHaveLength(9)
      expect(bad.told.at(-1)).toEqual({ event: 'failed', reason: 'No answer to 10 calls.', unacknowledgedBytes: 6 })
    } finally {
      started.standin.stop()
    }
  })
})

it('zeptik bench packet-fuzz survives frames and streams of any bytes', () => {
  const { status, stdout } = zeptik('bench', 'packet-fuzz', '--trials', '3000')
  expect(status).toBe(0)
  expect(stdout).toMatch(
    /^3000 pieces: [1-9]\d+ frames read, [1-9]\d* bad, [1-9]\d+ answered with a frame, \d+ letters delivered; nothing threw/,
  )
})
