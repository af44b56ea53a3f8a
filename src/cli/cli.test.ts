import { execFileSync, spawn, spawnSync } from 'node:child_process'
import { createSocket } from 'node:dgram'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { encodeWav, encodeWavChannels } from '@/core/audio'
import { createBandFilter, resample, whiteNoise } from '@/core/dsp'
import { simulateSlot } from '@/core/ft8'
import { encodeKiss, uiFrame } from '@/core/packet'

const folder = mkdtempSync(join(tmpdir(), 'zeptik-cli-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const file = (name: string) => join(folder, name)
const zeptik = (...args: string[]) => spawnSync(join(process.cwd(), 'bin/zeptik'), args, { encoding: 'utf8' })
const lines = (text: string) =>
  text
    .trim()
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as Record<string, unknown>)

describe('zeptik', () => {
  it('measures a recording and names what is wrong with it, each channel by itself', () => {
    const noise = createBandFilter(48_000, 300, 2700)(whiteNoise(5 * 48_000, 0.02, 3)).subarray(24_000)
    writeFileSync(file('level.wav'), encodeWavChannels([noise, new Float32Array(noise.length)], 48_000))
    const { stdout, status } = zeptik('level', '--json', file('level.wav'))
    expect(status).toBe(0)
    const [told, ...more] = lines(stdout)
    expect(more).toEqual([])
    expect(told).toMatchObject({ humHz: null, humDbfs: null, clippedFraction: 0, channels: 2, ok: false })
    expect(told!.findings).toMatchObject([{ code: 'one-channel', severity: 'warning' }])
    expect(Math.abs((told!.noiseFloorDbfsPerHz as number) - (20 * Math.log10(0.02) - 10 * Math.log10(24_000)))).toBeLessThan(0.5)
    const [low, high] = told!.passbandHz as [number, number]
    expect([Math.abs(low - 300), Math.abs(high - 2700)].every((error) => error < 60)).toBe(true)
    expect(zeptik('level', file('level.wav')).stdout).toMatch(/passband +\d+ to \d+ Hz/)
  })

  it('shows the frames of a KISS stream, good and bad, in order', () => {
    const data = uiFrame('Q5RVR-9', 'Q1POS', ['Q7HUT'], 'at the ferry')
    const stream = Buffer.concat([
      Buffer.from('cmd:'),
      encodeKiss({ port: 1, command: 0, data }),
      Buffer.from('c00132c0', 'hex'),
      Buffer.from('c00041db41c0', 'hex'),
      Buffer.from('c00001c0', 'hex'),
      Buffer.from('c00041', 'hex'),
    ])
    const run = (...args: string[]) => spawnSync(join(process.cwd(), 'bin/zeptik'), ['kiss', ...args], { input: stream, encoding: 'utf8' })
    const dataHex = Buffer.from(data).toString('hex')
    expect(lines(run('--json').stdout)).toEqual([
      {
        port: 1,
        command: 0,
        dataHex,
        ax25: {
          destination: 'Q1POS',
          source: 'Q5RVR-9',
          path: [{ call: 'Q7HUT', repeated: false }],
          role: 'command',
          control: 3,
          frame: 'UI',
          pid: 240,
          info: { text: 'at the ferry', hex: Buffer.from('at the ferry').toString('hex') },
        },
      },
      { port: 0, command: 1, dataHex: '32', ax25: null },
      { error: expect.stringMatching(/escape/), bytes: 4 },
      { port: 0, command: 0, dataHex: '01', ax25: null, error: expect.stringMatching(/cut off/) },
      { error: expect.stringMatching(/ends inside/), bytes: 2 },
    ])
    expect(run().stdout).toMatch(
      /outside of frames: "cmd:"\nport 1 {2}Q5RVR-9>Q1POS,Q7HUT {2}UI {2}"at the ferry"\nport 0 {2}txDelay {2}32\n/,
    )
    expect(zeptik('kiss', file('none.bin'))).toMatchObject({ status: 1, stderr: expect.stringMatching(/none.bin/) as string })
  })

  it('says why a file cannot be measured, and measures the least that is one', () => {
    const whole = encodeWav(whiteNoise(4800, 0.1, 1), 48_000)
    writeFileSync(file('half.wav'), whole.subarray(0, 5000))
    writeFileSync(
      file('garbage.wav'),
      whiteNoise(500, 1, 2).map((value) => 1e6 * value),
    )
    writeFileSync(file('least.wav'), encodeWav(whiteNoise(10, 0.1, 1), 48_000))
    expect(zeptik('level', file('half.wav')).stderr).toMatch(/truncated/)
    expect(zeptik('level', file('garbage.wav'))).toMatchObject({ status: 1, stderr: expect.stringMatching(/not a WAV file/) as string })
    expect(zeptik('level')).toMatchObject({ status: 2 })
    expect(lines(zeptik('level', '--json', file('least.wav')).stdout)[0]).toMatchObject({ noiseFloorDbfsPerHz: null, passbandHz: null })
  })

  it('decodes what it encodes', () => {
    const wav = file('one.wav')
    expect(zeptik('encode', '--mode', 'ft8', '--frequency', '1500', '--out', wav, 'CQ Q5RVR JN97').status).toBe(0)
    const { stdout, status } = zeptik('decode', '--mode', 'ft8', '--json', wav)
    expect(status).toBe(0)
    expect(lines(stdout)).toMatchObject([{ slot: 0, text: 'CQ Q5RVR JN97', timeOffsetS: 0, frequencyHz: 1500 }])
    expect(Object.keys(lines(stdout)[0]!)).toEqual(['slot', 'text', 'snrDb', 'timeOffsetS', 'frequencyHz'])
  })

  it('finds a message that is expected where it would not without, and marks it', () => {
    const wav = file('weak.wav')
    const slot = simulateSlot([{ text: 'Q5RVR Q2LMN R-14', snrDb: -23.5, audioOffsetHz: 1231.7, timeOffsetS: 0.3 }], 1)
    writeFileSync(wav, encodeWav(slot, 12_000))
    const decode = (...more: string[]) => lines(zeptik('decode', '--mode', 'ft8', '--json', ...more, wav).stdout)
    expect(decode()).toEqual([])
    const found = { text: 'Q5RVR Q2LMN R-14', helped: true }
    expect(decode('--own', 'q5rvr', '--other', 'Q2LMN')).toMatchObject([found])
    expect(decode('--expect', 'Q5RVR Q2LMN R-14', '--depth', 'quick')).toMatchObject([found])
  })

  it('takes a recording as consecutive slots, shifted and named as told', () => {
    const signal = (text: string, audioOffsetHz: number) => ({ text, snrDb: 0, audioOffsetHz, timeOffsetS: 0.1 })
    const both = new Float32Array(30 * 12_000)
    both.set(simulateSlot([signal('CQ Q1ABC JO31', 700)], 1))
    both.set(simulateSlot([signal('Q1ABC Q5RVR JN97', 1900)], 2), 15 * 12_000)
    writeFileSync(file('two.wav'), encodeWav(resample(both, 12_000, 44_100), 44_100))
    const told = lines(zeptik('decode', '--mode', 'ft8', '--json', '--slot-utc', '2026-06-01T12:00:00Z', file('two.wav')).stdout)
    expect(told).toMatchObject([
      { slot: 0, slotUtc: '2026-06-01T12:00:00.000Z', text: 'CQ Q1ABC JO31' },
      { slot: 1, slotUtc: '2026-06-01T12:00:15.000Z', text: 'Q1ABC Q5RVR JN97' },
    ])
    const shifted = lines(zeptik('decode', '--mode', 'ft8', '--json', '--start', '-1', file('two.wav')).stdout)
    expect(shifted[0]!.timeOffsetS).toBeCloseTo(1.1, 1)
    const table = zeptik('decode', '--mode', 'ft8', file('two.wav')).stdout.trimEnd().split('\n')
    expect(table).toHaveLength(3)
    expect(table[1]!.indexOf('CQ')).toBe(table[0]!.indexOf('message'))
  })

  it('says in one line what is wrong with a file, with exit code 1', () => {
    const good = readFileSync(file('one.wav'))
    writeFileSync(file('cut.wav'), good.subarray(0, 5000))
    writeFileSync(file('letter.wav'), 'dear operator')
    writeFileSync(file('empty.wav'), encodeWav(new Float32Array(0), 12_000))
    for (const [name, why] of [
      ['cut.wav', /truncated/],
      ['letter.wav', /not a WAV/],
      ['empty.wav', /no audio/],
      ['none.wav', /no such file/],
      ['', /folder/],
    ] as const) {
      const { status, stderr, stdout } = zeptik('decode', '--mode', 'ft8', '--json', file(name))
      expect(status).toBe(1)
      expect(stdout).toBe('')
      expect(stderr).toMatch(why)
      expect(stderr.trim().split('\n')).toHaveLength(1)
    }
  })

  it.each([
    [[]],
    [['sing']],
    [['decode', '--mode', 'ft8']],
    [['decode', 'x.wav']],
    [['decode', '--mode', 'smoke', 'x.wav']],
    [['decode', '--mode', 'ft8', '--start', 'soon', 'x.wav']],
    [['decode', '--mode', 'ft8', '--slot-utc', 'noonish', 'x.wav']],
    [['encode', '--mode', 'ft8', 'CQ Q5RVR JN97']],
    [['encode', '--mode', 'ft8', '--frequency', '99999', '--out', 'x.wav', 'CQ Q5RVR JN97']],
    [['bench', 'everything']],
    [['decode', '--mode', 'ft8', '--depth', 'bottomless', 'x.wav']],
    [['decode', '--mode', 'ft8', '--own', 'nobody at all', 'x.wav']],
    [['decode', '--mode', 'ft8', '--expect', 'no message is as long as this one', 'x.wav']],
    [['decode', '--mode', 'ft8', '--unknown', 'x.wav']],
  ])('shows its usage for %j, with exit code 2', (args) => {
    const { status, stderr } = zeptik(...args)
    expect(status).toBe(2)
    expect(stderr).toMatch(/zeptik decode --mode ft8/)
  })

  it('writes PSK31 and reads it back: an object for each stretch of each conversation', () => {
    const [one, two] = [file('psk-1000.wav'), file('psk-1500.wav')]
    const text = 'CQ CQ de Q5RVR Q5RVR pse k'
    expect(zeptik('encode', '--mode', 'psk31', '--frequency', '1000', '--out', one, text).status).toBe(0)
    expect(zeptik('encode', '--mode', 'psk31', '--frequency', '1500', '--rate', '12000', '--out', two, `${text} Zoë`).status).toBe(0)
    const [found, ...rest] = lines(zeptik('decode', '--mode', 'psk31', '--json', one).stdout)
    expect(rest).toEqual([])
    expect(found).toEqual({
      ...{ channel: 1, text, frequencyHz: expect.any(Number), startS: expect.any(Number), endS: expect.any(Number) },
      ...{ snrDb: expect.any(Number), faint: [] },
    })
    expect(lines(zeptik('decode', '--mode', 'psk31', '--json', '--plain', one).stdout)).toMatchObject([{ text }])
    expect(zeptik('decode', '--mode', 'ft8', '--plain', one).stderr).toMatch(/--plain is not for mode ft8/)
    expect(Math.abs((found as { frequencyHz: number }).frequencyHz - 1000)).toBeLessThan(0.5)
    // Several files: each finding names its own, and one that cannot be read does not stop the others.
    const { stdout, stderr, status } = zeptik('decode', '--mode', 'psk31', '--json', one, file('not-there.wav'), two)
    expect(lines(stdout)).toMatchObject([
      { file: one, text },
      { file: two, text: `${text} Zoë` },
    ])
    expect(stderr).toMatch(/not-there\.wav: there is no such file[\s\S]*1 of 3 files could not be read/)
    expect(status).toBe(1)
    expect(zeptik('encode', '--mode', 'psk31', '--out', file('no.wav'), '漢').stderr).toMatch(/"漢" has no code in PSK31/)
    expect(zeptik('decode', '--mode', 'psk31', '--own', 'Q5RVR', one)).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/--own is not for mode psk31/),
    })
  })

  it('says when --start lies beyond the end of a recording', () => {
    const { stdout, stderr, status } = zeptik('decode', '--mode', 'ft8', '--start', '100', file('psk-1000.wav'))
    expect([stdout, status]).toEqual(['', 0])
    expect(stderr).toMatch(/psk-1000\.wav: it is \d+\.\d s long, and no slot lies in it from --start 100 on/)
  })

  it('refuses a message that cannot be sent, with exit code 1', () => {
    const { status, stderr } = zeptik('encode', '--mode', 'ft8', '--out', file('no.wav'), 'THIS IS MUCH TOO LONG A TEXT')
    expect(status).toBe(1)
    expect(stderr).toMatch(/13 characters/)
  })

  it('prints its measurements', () => {
    const text = execFileSync(join(process.cwd(), 'bin/zeptik'), ['bench', 'sensitivity', '--trials', '2', '--snr', '-30,-5'], {
      encoding: 'utf8',
    })
    expect(text).toMatch(/-5\.0 +2 +2/)
    const psk31 = zeptik('bench', 'psk31', '--trials', '1', '--snr', '3', '--slots', '1').stdout
    expect(psk31).toMatch(/3\.0 +12 +12 +\d\.\d +0\.00 % +0\.00 % +0\.00 % +0\.00 % +0 +[23]\.\d/)
    expect(psk31).toMatch(/characters in 1 min of noise: 0/)
    expect(text).toMatch(/half decoded at -\d+\.\d+ dB/)
  })

  it('reads a receiver’s recording, line by line and in sum', () => {
    const nmea = file('walk.nmea')
    const made = zeptik('standin', 'gps', '--file', nmea, '--seconds', '20', '--start', '2026-06-01T12:00:00Z', '--fault', 'badChecksums')
    expect(made.status).toBe(0)
    const { stdout, status } = zeptik('clock', '--nmea', nmea, '--serial-baud', '4800', '--json')
    expect(status).toBe(0)
    const told = lines(stdout)
    const summary = told.at(-1)!
    expect(told.slice(0, -1).map((l) => l.line)).toEqual(Array.from({ length: told.length - 1 }, (_, i) => i + 1))
    expect(told[0]).toMatchObject({ ok: true, type: 'RMC', utc: '2026-06-01T12:00:00.000Z', fix: true })
    expect(summary).toMatchObject({ summary: true, utc: '2026-06-01T12:00:19.000Z', locator: 'JN97LK45', satellitesUsed: 9, trusted: true })
    expect(summary.badChecksums).toBe(Math.floor((told.length - 1) / 5))
    expect((summary.accepted as number) + (summary.rejected as number)).toBe(told.length - 1)
    expect(zeptik('clock', '--nmea', nmea).stdout).toMatch(/place +JN97LK45/)
    expect(zeptik('clock', '--nmea', file('none.nmea')).status).toBe(1)
  })

  it('finds slots in a recording about which nothing is known, and guesses nothing', () => {
    const signals = [600, 1000, 1400, 1800].map((audioOffsetHz, i) => ({
      text: `CQ Q${i}ABC JO31`,
      snrDb: 0,
      audioOffsetHz,
      timeOffsetS: 0,
    }))
    const audio = simulateSlot([], 3, { durationS: 40 })
    audio.set(simulateSlot(signals, 4), 7 * 12_000)
    audio.set(simulateSlot(signals, 5), 22 * 12_000)
    writeFileSync(file('blind.wav'), encodeWav(audio, 12_000))
    const found = lines(zeptik('clock', '--from-band', file('blind.wav'), '--json').stdout)[0]!
    expect(found).toMatchObject({ slotPhaseS: expect.closeTo(7, 1), stations: 4 })
    expect(found.uncertaintyS).toBeLessThan(0.3)
    writeFileSync(file('noise.wav'), encodeWav(simulateSlot([], 6, { durationS: 30 }), 12_000))
    const none = zeptik('clock', '--from-band', file('noise.wav'), '--json')
    expect([none.status, lines(none.stdout)[0]!.slotPhaseS]).toEqual([1, null])
    expect(none.stderr).toMatch(/slots not found: no message/)
  })

  it('runs stand-ins on real ports for as long as told, and names the faults it knows', async () => {
    const socket = createSocket('udp4').bind(0, '127.0.0.1')
    await new Promise((done) => socket.once('listening', done))
    let heard = ''
    socket.on('message', (message) => (heard += message.toString()))
    const { port } = socket.address()
    const child = spawn('bin/zeptik', ['standin', 'gps', '--udp', String(port), '--seconds', '3'])
    expect(await new Promise((done) => child.once('exit', done))).toBe(0)
    socket.close()
    expect(heard).toMatch(/^\$GPRMC,\d{6}\.000,A,4726\.\d{4},N/)
    const wrong = zeptik('standin', 'gps', '--udp', '10110', '--fault', 'gremlins')
    expect(wrong.status).toBe(2)
    expect(wrong.stderr).toMatch(/there is no fault "gremlins"; known are noFix \(no fix\)/)
    expect(zeptik('standin', 'gps', '--pty', '/nowhere/at/all', '--seconds', '1').status).toBe(1)
  })

  it.each([
    [['clock'], /either --nmea FILE or --from-band/],
    [['clock', '--nmea', 'a', '--from-band', 'b'], /either/],
    [['clock', '--nmea', 'a', '--serial-baud', 'fast'], /--serial-baud must be a number/],
    [['standin'], /gps, time, radio, tnc, line and channel are known/],
    [['standin', 'radio'], /one way to reach it/],
    [['standin', 'line'], /--to HOST:PORT/],
    [['standin', 'radio', '--tcp', '1', '--voice', 'loud'], /ascii-11, ascii-9, framed-bcd, five-byte/],
    [['standin', 'tnc', '--tcp', '1', '--starts-in', 'bed'], /kiss or command/],
    [['standin', 'tnc', '--tcp', '1', '--fault', 'x'], /lostSettings \(its memory battery is flat\)/],
    [['standin', 'toaster'], /no stand-in "toaster"/],
    [['standin', 'gps'], /one way for the receiver to talk/],
    [['standin', 'gps', '--tcp', 'high'], /HOST:PORT or PORT/],
    [['standin', 'gps', '--file', 'x', '--start', 'noon'], /--start must be a time/],
    [['standin', 'gps', '--udp', '1', '--locator', 'ZZ'], /--locator must be/],
    [['standin', 'time', '--fault', 'x'], /liesByADay/],
  ])('%j is wrong usage', (args, why) => {
    const { status, stderr } = zeptik(...args)
    expect([status, stderr]).toEqual([2, expect.stringMatching(why)])
  })
})
