import { createRandom } from '../dsp'
import {
  adviseChannel,
  CHANNEL_MODES,
  channelSchema,
  emptyChannel,
  megahertz,
  shiftWords,
  TONE_KINDS,
  TONES_HZ,
  type Channel,
} from './channel'
import { channelsFromCsv, channelsToCsv, mergeChannels } from './channelCsv'
import { enterSteps } from './enterSteps'
import { REGIONS, startingChannels } from './startingChannels'

let count = 0
const newId = () => `00000000-0000-4000-8000-${String(++count).padStart(12, '0')}`
const channel = (over: Partial<Channel>): Channel => ({ ...emptyChannel(newId()), name: 'Landing', ...over })

describe('channel', () => {
  it('knows 50 tones, rising', () => {
    expect(TONES_HZ).toHaveLength(50)
    expect([...TONES_HZ].sort((a, b) => a - b)).toEqual([...TONES_HZ])
  })

  it.each([
    [144_800_000, '144.800'],
    [10_147_600, '10.1476'],
    [145_012_500, '145.0125'],
    [14_070_150, '14.07015'],
    [433_000_001, '433.000001'],
  ])('%i Hz is %s MHz', (hz, words) => expect(megahertz(hz)).toBe(words))

  it('says the shift', () => {
    expect(shiftWords({ receiveHz: 145_600_000, transmitHz: 145_000_000 })).toBe('−600 kHz')
    expect(shiftWords({ receiveHz: 438_500_000, transmitHz: 446_100_000 })).toBe('+7600 kHz')
    expect(shiftWords({ receiveHz: 1e6, transmitHz: 1e6 })).toBe('simplex')
  })

  it('wants a tone that has a frequency', () => {
    expect(channelSchema.safeParse(channel({ tone: 'tone' })).error?.issues[0]?.message).toMatch(/Which tone/)
    expect(channelSchema.safeParse(channel({ tone: 'tone', toneHz: 88.5 })).success).toBe(true)
  })

  it.each<[RegExp | null, Partial<Channel>]>([
    [null, {}],
    [/no amateur band/, { transmitHz: 149_000_000 }],
    [/two bands/, { receiveHz: 433_000_000, transmitHz: 145_000_000 }],
    [/hides stations/, { tone: 'toneSquelch', toneHz: 88.5 }],
    [/VHF and UHF/, { receiveHz: 14_105_000, transmitHz: 14_105_000, airBaud: 9600, mode: 'usb' }],
    [/on FM it is 1200/, { airBaud: 300 }],
    [/runs at 300/, { receiveHz: 14_105_000, transmitHz: 14_105_000, mode: 'lsb' }],
    [/wide FM filter/, { airBaud: 9600, mode: 'fm-narrow' }],
  ])('advises %s', (words, over) => {
    const advice = adviseChannel(channel(over)).join(' ')
    if (words === null) expect(advice).toBe('')
    else expect(advice).toMatch(words)
  })
})

describe('CSV', () => {
  it('brings any list back the same', () => {
    const random = createRandom(5)
    const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!
    const letters = ['a', 'Z', '"', ',', ';', '\n', 'é', '=', "'", '7', ' ', '-']
    const words = (most: number) => Array.from({ length: 1 + Math.floor(random() * most) }, () => pick(letters)).join('')
    for (let round = 0; round < 50; round++) {
      const list = Array.from({ length: 8 }, (): Channel => {
        const tone = pick(TONE_KINDS)
        const receiveHz = 1e6 + Math.floor(random() * 1e9)
        return {
          id: newId(),
          name: `N${words(12)}x`,
          receiveHz,
          transmitHz: receiveHz + pick([0, 600_000, -7_600_000 + 8_000_000]),
          tone,
          toneHz: tone === 'none' ? null : pick(TONES_HZ),
          mode: pick(CHANNEL_MODES),
          airBaud: pick([null, 300, 1200, 9600] as const),
          purpose: words(20).trim(),
        }
      })
      const back = channelsFromCsv(channelsToCsv(list), newId)
      if (!back.ok) throw new Error(back.error)
      const same = (c: Channel) => ({ ...c, id: '' })
      expect(back.channels.map(same)).toEqual(list.map(same))
    }
  })

  it('reads other orders, semicolons, decimal commas, a byte order mark, and what is left out', () => {
    const read = channelsFromCsv('\uFEFFReceive_MHz;NAME;air_baud\n144,8;Landing;1200\n\n14.105;HF;\n', newId)
    expect(read).toMatchObject({
      ok: true,
      channels: [
        { name: 'Landing', receiveHz: 144_800_000, transmitHz: 144_800_000, tone: 'none', mode: 'fm', airBaud: 1200 },
        { name: 'HF', receiveHz: 14_105_000, airBaud: null },
      ],
    })
  })

  it.each([
    ['', /empty/],
    ['name\nx', /"receive_mhz" is missing/],
    ['name,receive_mhz\nx,abc', /^Line 2, receive_mhz: "abc"/],
    ['name,receive_mhz\nx,145\n,145', /^Line 3, name: A channel needs a name/],
    ['name,receive_mhz,tone\nx,145,loud', /^Line 2, tone: "loud" is none of/],
    ['name,receive_mhz,tone\nx,145,tone', /^Line 2, toneHz: Which tone/],
    ['name,receive_mhz,mode\nx,145,xyz', /^Line 2, mode/],
    ['name,receive_mhz,air_baud\nx,145,4800', /^Line 2, airBaud: On-air speed/],
    ['name,receive_mhz\n"x,145', /quotation mark/],
    [`name,receive_mhz\n${'x,145\n'.repeat(501)}`, /at most 500/],
    ['x'.repeat(500_001), /more than 500 kB/],
  ])('refuses a broken file with its line: case %#', (text, words) => {
    const read = channelsFromCsv(text, newId)
    expect(read.ok).toBe(false)
    if (!read.ok) expect(read.error).toMatch(words)
  })

  it('never throws on noise', () => {
    const random = createRandom(9)
    for (let i = 0; i < 300; i++) {
      const text = Array.from({ length: 200 }, () => String.fromCharCode(Math.floor(random() * 256))).join('')
      expect(channelsFromCsv(`name,receive_mhz\n${text}`, newId)).toHaveProperty('ok')
    }
  })

  it('guards spreadsheets against cells that look like formulas', () => {
    expect(channelsToCsv([channel({ name: '=SUM(A1)' })])).toContain("'=SUM(A1)")
  })

  it('replaces by name and keeps the id', () => {
    const known = channel({})
    const merged = mergeChannels([known], [channel({ name: 'LANDING', airBaud: 9600 }), channel({ name: 'Start' })])
    expect(merged).toMatchObject({ added: 1, replaced: 1, channels: [{ id: known.id, airBaud: 9600 }, { name: 'Start' }] })
  })
})

describe('starting channels', () => {
  it.each(REGIONS)('%s: all valid, in a band, without doubt', (region) => {
    const list = startingChannels(region, newId)
    expect(list.length).toBeGreaterThan(3)
    expect(new Set(list.map((c) => c.name)).size).toBe(list.length)
    for (const c of list) {
      expect(channelSchema.safeParse(c).success).toBe(true)
      expect(adviseChannel(c)).toEqual([])
    }
  })
})

describe('enterSteps', () => {
  it('says each value once, in an order that works', () => {
    const steps = enterSteps(channel({ receiveHz: 145_600_000, transmitHz: 145_000_000, tone: 'tone', toneHz: 88.5 }))
    expect(steps.join('\n')).toMatch(
      /25 kHz[\s\S]*145\.600 MHz as the receive[\s\S]*FM[\s\S]*−600 kHz[\s\S]*88\.5 Hz, sent only[\s\S]*squelch fully[\s\S]*1200 baud/,
    )
    expect(enterSteps(channel({ mode: 'usb', airBaud: null })).join('\n')).not.toMatch(/tone|squelch|tuning step/)
  })
})
