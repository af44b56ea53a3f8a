import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { encodeWav } from '@/core/audio'
import { resample } from '@/core/dsp'
import { simulateSlot } from '@/core/ft8'

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
  it('decodes what it encodes', () => {
    const wav = file('one.wav')
    expect(zeptik('encode', '--mode', 'ft8', '--frequency', '1500', '--out', wav, 'CQ Q5RVR JN97').status).toBe(0)
    const { stdout, status } = zeptik('decode', '--mode', 'ft8', '--json', wav)
    expect(status).toBe(0)
    expect(lines(stdout)).toMatchObject([{ slot: 0, text: 'CQ Q5RVR JN97', timeOffsetS: 0, frequencyHz: 1500 }])
    expect(Object.keys(lines(stdout)[0]!)).toEqual(['slot', 'text', 'snrDb', 'timeOffsetS', 'frequencyHz'])
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
    [['decode', '--mode', 'ft8', '--unknown', 'x.wav']],
  ])('shows its usage for %j, with exit code 2', (args) => {
    const { status, stderr } = zeptik(...args)
    expect(status).toBe(2)
    expect(stderr).toMatch(/zeptik decode --mode ft8/)
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
    expect(text).toMatch(/half decoded at -\d+\.\d+ dB/)
  })
})
