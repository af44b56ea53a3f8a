import type { Psk31Channel, Psk31Text } from '@/core/psk31'
import { Conversations, draftFrom } from './conversations'
import { emptyDraft, type TranscriptLine } from './state'

const start = Date.UTC(2026, 5, 1, 12)
const utcOf = (atS: number) => start + atS * 1000
const channel = (n: number, frequencyHz: number): Psk31Channel => ({ channel: n, frequencyHz, snrDb: 3.4, doing: 'text' })
/** Text of a channel, ten characters a second from a moment on. */
const texts = (n: number, frequencyHz: number, text: string, fromS: number): Psk31Text[] =>
  [...text].map((character, i) => ({ channel: n, frequencyHz, snrDb: 3.4, character, sure: 1, back: 0, atS: fromS + i / 10 }))

describe('conversations', () => {
  it('stand by frequency, with who speaks to whom, and whose turn it is', () => {
    const all = new Conversations()
    const heard = [
      ...texts(1, 1500, 'x7 cq cq de Q2LMN Q2LMN pse k', 0),
      ...texts(2, 700, 'rx\nQ5RVR de Q7XYZ kn', 0),
      ...texts(3, 2000, 'eQ5ONT de Q4ILF', 0),
    ]
    all.take(heard, [channel(1, 1500), channel(2, 700), channel(3, 2000)], { utcOf, nowUtcMs: start + 4000 })
    expect(all.view('Q5RVR')).toMatchObject([
      { channel: 2, frequencyHz: 700, from: 'Q7XYZ', to: 'Q5RVR', toMe: true, cq: false, turn: 'called' },
      {
        channel: 1,
        frequencyHz: 1500,
        from: 'Q2LMN',
        toMe: false,
        cq: true,
        turn: 'anybody',
        tail: 'x7 cq cq de Q2LMN Q2LMN pse k',
        snrDb: 3,
      },
      // What was cut at its beginning is no call.
      { channel: 3, from: 'Q4ILF' },
    ])
    expect(all.view('Q5RVR')[2]).not.toHaveProperty('to')
    expect(all.view('')[0]!.toMe).toBe(false)
    expect([all.at(1510, 20), all.at(1530, 20), all.callIn(2), all.frequencyOf(9)]).toEqual([1, undefined, 'Q7XYZ', undefined])
  })

  it('break their lines where somebody paused, and are forgotten two minutes after the end', () => {
    const all = new Conversations()
    all.take(texts(1, 900, 'cq', 0), [channel(1, 900)], { utcOf, nowUtcMs: start })
    all.take(texts(1, 900, 'de Q2LMN', 6), [channel(1, 900)], { utcOf, nowUtcMs: start + 7000 })
    expect(all.lines(1).map(({ text, mine }) => [text, mine])).toEqual([
      ['cq', false],
      ['de Q2LMN', false],
    ])
    all.take([], [], { utcOf, nowUtcMs: start + 60_000 })
    expect(all.view('')).toMatchObject([{ doing: 'gone' }])
    all.take([], [], { utcOf, nowUtcMs: start + 130_000, kept: [1] })
    expect(all.lines(1)).toHaveLength(2)
    all.take([], [], { utcOf, nowUtcMs: start + 130_000 })
    expect(all.view('')).toEqual([])
  })
})

describe('text that is read anew', () => {
  const at = (character: string, atS: number, over: Partial<Psk31Text> = {}): Psk31Text => ({
    ...texts(1, 900, character, atS)[0]!,
    ...over,
  })
  const around = { utcOf, nowUtcMs: start + 9000 }

  it('takes the place of what is taken back, in the line and at the time that it had, and says what is faint', () => {
    const all = new Conversations()
    all.take([...texts(1, 900, 'cq  de', 0), ...texts(1, 900, 'kx', 6)], [channel(1, 900)], around)
    // The whole second line, and the end of the first, are read otherwise; of a line that is empty for the moment nothing is shown.
    all.take([at('k', 6.2, { character: '', back: 2 })], [channel(1, 900)], around)
    expect(all.lines(1).map(({ text }) => text)).toEqual(['cq  de'])
    all.take([at('s', 6, { sure: 0.3 }), at('k', 6.1, { sure: 0.2 })], [channel(1, 900)], around)
    expect(all.lines(1)).toEqual([
      { utcMs: utcOf(0), mine: false, text: 'cq  de' },
      { utcMs: utcOf(6), mine: false, text: 'sk', faint: [[0, 2]] },
    ])
    expect(all.view('')[0]).toMatchObject({ tail: 'cq desk', tailFaint: [[5, 7]] })
    all.take([at('E', 0.5, { back: 3 })], [channel(1, 900)], around)
    expect(all.lines(1).map(({ text }) => text)).toEqual(['cq  dE'])
    // More than there is.
    all.take([at('z', 1, { back: 99 })], [channel(1, 900)], around)
    expect(all.view('')[0]).toMatchObject({ tail: 'z', tailFaint: [] })
  })
})

describe('what goes into the log', () => {
  const line = (text: string, mine = false): TranscriptLine => ({ utcMs: start, mine, text })
  const lines = [
    line('Q2LMN Q2LMN de Q5RVR Q5RVR k', true),
    line('Q5RVR de Q2LMN = ga tnx fer call = ur rst 579 579 = name Isa Isa = qth Salt Ferry = loc JO31 = hw? btu Q5RVR de Q2LMN kn'),
  ]
  it('is what the other one told, of himself and of us', () => {
    const told = { call: 'Q2LMN', name: 'Isa', place: 'Salt Ferry', locator: 'JO31', reportReceived: '579' }
    expect(draftFrom(emptyDraft, [], lines, 'Q5RVR')).toEqual({ ...emptyDraft, ...told })
  })
  it('is left as the operator wrote it', () => {
    const own = { ...emptyDraft, name: 'Isabel', call: 'Q2LMN/P' }
    expect(draftFrom(own, ['name', 'call'], lines, 'Q5RVR')).toMatchObject({ name: 'Isabel', call: 'Q2LMN/P' })
  })
  it('keeps two who work each other apart: what the one told is not the other’s', () => {
    const a = line('Q9ZZZ de Q2LMN = ur rst 559 = name Isa = loc JO31 kn')
    const first = draftFrom(emptyDraft, [], [a], 'Q5RVR')
    expect(first).toMatchObject({ call: 'Q2LMN', name: 'Isa', locator: 'JO31' })
    const both = draftFrom({ ...first, reportSent: '579' }, [], [a, line('Q2LMN de Q9ZZZ = r r tnx')], 'Q5RVR')
    expect(both).toEqual({ ...emptyDraft, call: 'Q9ZZZ', reportSent: '579' })
    // A line that does not say whose it is goes on with the one before.
    const on = draftFrom(both, [], [a, line('Q2LMN de Q9ZZZ = r r tnx'), line('name Ola')], 'Q5RVR')
    expect(on).toMatchObject({ call: 'Q9ZZZ', name: 'Ola', locator: '' })
  })
  it('takes no report that was meant for somebody else, and nothing that we said', () => {
    const others = [line('Q9ZZZ de Q2LMN = ur rst 559 = name Isa'), line('Q2LMN de Q5RVR name Rowan rst 599', true)]
    expect(draftFrom(emptyDraft, [], others, 'Q5RVR')).toEqual({ ...emptyDraft, call: 'Q2LMN', name: 'Isa' })
  })
})
