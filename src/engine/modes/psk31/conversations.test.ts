import type { Psk31Channel, Psk31Text } from '@/core/psk31'
import { Conversations } from './conversations'

const start = Date.UTC(2026, 5, 1, 12)
const later = start + 60_000
const utcOf = (atS: number) => start + atS * 1000
const channel = (n: number, frequencyHz: number): Psk31Channel => ({
  channel: n,
  frequencyHz,
  snrDb: 3.4,
  doing: 'text',
  steadiness: 1,
  baud: 31.25,
})
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
    expect(all.view('Q5RVR', later)).toMatchObject([
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
      { channel: 3 },
    ])
    // And a call that has only begun is none yet.
    expect(all.view('Q5RVR', later)[2]).not.toHaveProperty('from')
    all.take(texts(3, 2000, ' ', 4), [channel(1, 1500), channel(2, 700), channel(3, 2000)], { utcOf, nowUtcMs: start + 4500 })
    expect(all.view('Q5RVR', later)[2]).toMatchObject({ from: 'Q4ILF' })
    expect(all.view('Q5RVR', later)[2]).not.toHaveProperty('to')
    expect(all.view('', later)[0]!.toMe).toBe(false)
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
    expect(all.view('', later)).toMatchObject([{ doing: 'gone' }])
    all.take([], [], { utcOf, nowUtcMs: start + 130_000, kept: [1] })
    expect(all.lines(1)).toHaveLength(2)
    all.take([], [], { utcOf, nowUtcMs: start + 130_000 })
    expect(all.view('', later)).toEqual([])
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
      { utcMs: utcOf(0), mine: false, text: 'cq  de', sure: [1, 1, 1, 1, 1, 1] },
      { utcMs: utcOf(6), mine: false, text: 'sk', sure: [0.3, 0.2], goesOn: true },
    ])
    expect(all.view('', later)[0]).toMatchObject({ tail: 'cq desk', tailFaint: [[5, 7]] })
    all.take([at('E', 0.5, { back: 3 })], [channel(1, 900)], around)
    expect(all.lines(1).map(({ text }) => text)).toEqual(['cq  dE'])
    // More than there is.
    all.take([at('z', 1, { back: 99 })], [channel(1, 900)], around)
    expect(all.view('', later)[0]).toMatchObject({ tail: 'z', tailFaint: [] })
  })
})

describe('what is told of a conversation beside its text', () => {
  it('is who speaks, as far as it was told, and stays of the one who told it', () => {
    const all = new Conversations()
    const told = 'Q9ZZZ de Q2LMN = name Isa Isa = qth Salt Ferry = loc JO31 kn '
    all.take(texts(1, 900, told, 0), [channel(1, 900)], { utcOf, nowUtcMs: start + 7000 })
    expect(all.view('Q5RVR', later)[0]).toMatchObject({ from: 'Q2LMN', told: { name: 'Isa', place: 'Salt Ferry', locator: 'JO31' } })
    all.take(texts(1, 900, 'Q2LMN de Q9ZZZ = r r ', 12), [channel(1, 900)], { utcOf, nowUtcMs: start + 15_000 })
    expect(all.view('Q5RVR', later)[0]).toMatchObject({ from: 'Q9ZZZ', told: {} })
  })
  it('is read every two seconds at most, also of a conversation that goes on for long', () => {
    const all = new Conversations()
    const take = (text: string, fromS: number) =>
      all.take(texts(1, 900, text, fromS), [channel(1, 900)], { utcOf, nowUtcMs: start + 1000 * fromS })
    take(`${'and so on and on '.repeat(300)}Q9ZZZ de Q2LMN = `, 0)
    expect(all.view('', start)[0]!.told).toEqual({})
    take('name Isa Isa = ', 600)
    expect(all.view('', start + 1900)[0]!.told).toEqual({})
    expect(all.view('', start + 2000)[0]!.told).toEqual({ name: 'Isa' })
  })
  it('is of the signal that is there now', () => {
    const all = new Conversations()
    const linearity = { productsDb: -17, atMost: false, withinDb: 1 }
    all.take(texts(1, 900, 'cq', 0), [{ ...channel(1, 900), linearity, driftHzS: 0.1 }], { utcOf, nowUtcMs: start })
    expect(all.signalOf(1)).toEqual({ steadiness: 1, linearity, driftHzS: 0.1, snrDb: 3.4 })
    // What is no longer heard is told of as it was; another one on its frequency is not.
    all.take([], [], { utcOf, nowUtcMs: start })
    expect(all.signalOf(1)).toMatchObject({ linearity })
    all.take([], [channel(1, 900)], { utcOf, nowUtcMs: start })
    expect(all.signalOf(1)).toEqual({ steadiness: 1, snrDb: 3.4 })
    expect(all.signalOf(7)).toBeUndefined()
  })
  it('is nothing while only spaces were read', () => {
    const all = new Conversations()
    all.take(texts(1, 900, '   ', 0), [channel(1, 900)], { utcOf, nowUtcMs: start })
    expect(all.view('', later)).toEqual([])
  })
  it('tells how much of it the waveform carries', () => {
    const all = new Conversations()
    const weak = texts(1, 900, 'abcd', 0).map((one, k) => ({ ...one, sure: k === 0 ? 0.2 : 0.9 }))
    all.take(weak, [channel(1, 900)], { utcOf, nowUtcMs: start })
    expect([all.surenessOf(1), all.surenessOf(7)]).toEqual([0.75, 1])
  })
})
