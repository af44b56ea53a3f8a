import { bandWithoutMeter } from './dialOfRadio'
import { strandsOf, type StrandEvidence } from './strands'

const control = {
  state: 'talking',
  detail: 'It is open.',
  frequencyHz: 14_074_000,
  mode: 'usb',
  keyed: null,
  power: null,
  swr: null,
  alc: null,
  swrMeter: true,
} as const
const keying = { by: 'cat', state: 'ready', detail: '', leadMs: 0, tailMs: 0 } as const
const tnc = { state: 'open', detail: 'It is open.', frames: [], badFrames: 0 } as const
type Links = NonNullable<StrandEvidence['links']>
const links = (change: object = {}) => ({ control, keying, tnc, ...change }) as unknown as Links

describe('strands to the radio', () => {
  it('are audio and keying without any link', () => {
    const strands = strandsOf({ source: 'microphone' })
    expect(strands.map((s) => [s.id, s.from, s.state])).toEqual([
      ['audioIn', 'device', 'ready'],
      ['audioOut', 'device', 'ready'],
      ['keying', 'device', 'ready'],
    ])
    expect(strands[2]!.words).toBe('by VOX, with the audio')
  })

  it.each<[string, StrandEvidence, string, string, RegExp]>([
    ['nothing is listened to', { source: 'none' }, 'audioIn', 'missing', /nothing is listened to/],
    ['practice', { source: 'practice' }, 'audioIn', 'unknown', /practice band instead/],
    ['practice, output', { source: 'practice' }, 'audioOut', 'unknown', /opened with the input/],
    ['a warning', { source: 'microphone', worstFinding: { name: 'Mains hum', fault: false } }, 'audioIn', 'attention', /mains hum/],
    ['a fault', { source: 'microphone', worstFinding: { name: 'Clipping', fault: true } }, 'audioIn', 'missing', /clipping/],
    ['an output that is gone', { source: 'microphone', outputProblem: 'It is gone.' }, 'audioOut', 'missing', /gone/],
    ['keyed by control', { source: 'microphone', links: links() }, 'keying', 'ready', /over CAT control$/],
    ['keyed now', { source: 'microphone', links: links({ keying: { ...keying, state: 'keyed' } }) }, 'keying', 'ready', /keyed now/],
    [
      'not to be keyed',
      { source: 'microphone', links: links({ keying: { ...keying, by: 'rts', state: 'problem' } }) },
      'keying',
      'missing',
      /by RTS/,
    ],
    ['keyed by hand', { source: 'microphone', links: links({ keying: { ...keying, by: 'none' } }) }, 'keying', 'unknown', /by hand/],
    ['control that answers', { source: 'microphone', links: links() }, 'control', 'ready', /14\u202f074\.0 kHz/],
    [
      'control that is silent',
      { source: 'none', links: links({ control: { ...control, state: 'silent' } }) },
      'control',
      'missing',
      /does not answer/,
    ],
    ['a TNC that hears nothing', { source: 'none', links: links() }, 'tnc', 'attention', /nothing heard yet/],
    [
      'a TNC that hears',
      { source: 'none', links: links({ tnc: { ...tnc, state: 'talking', frames: [1, 2] } }) },
      'tnc',
      'ready',
      /2 frames/,
    ],
    [
      'a TNC that is gone',
      { source: 'none', links: links({ tnc: { ...tnc, state: 'problem', detail: 'Gone.' } }) },
      'tnc',
      'missing',
      /Gone/,
    ],
  ])('%s', (_, evidence, id, state, words) => {
    const strand = strandsOf(evidence).find((s) => s.id === id)!
    expect([strand.state, strand.words]).toEqual([state, expect.stringMatching(words)])
  })

  it('leave out what is not set up', () => {
    const off = links({ control: { ...control, state: 'off' }, tnc: { ...tnc, state: 'off' } })
    expect(strandsOf({ source: 'none', links: off }).map((s) => s.id)).toEqual(['audioIn', 'audioOut', 'keying'])
  })
})

describe('bandWithoutMeter', () => {
  const talking = { ...control, state: 'talking' as const }
  it.each([
    ['20m', undefined, 'microphone', 14_074_000],
    ['20m', { ...talking, swrMeter: false }, 'microphone', 14_074_000],
    ['20m', { ...talking, state: 'silent' as const }, 'microphone', 14_074_000],
    [undefined, talking, 'microphone', 14_074_000],
    [undefined, undefined, 'practice', 14_074_000],
    [undefined, undefined, 'microphone', null],
    [undefined, undefined, 'microphone', 13_000_000],
  ])('is %s', (band, line, source, dial) => expect(bandWithoutMeter(line, source, dial)).toBe(band))
})
