import { createRandom } from '@/core/dsp'
import {
  BUILT_IN_DIALECTS,
  catAnswers,
  catDialectSchema,
  compileDialect,
  createCatSession,
  dryRun,
  reduceCat,
  scaleMeter,
  type CatAction,
  type CatRequest,
  type CatState,
} from '@/core/links/cat'
import { RadioStandin, RADIO_VOICES, type RadioFault, type RadioVoice } from './radioStandin'

/** A radio and a conversation with it, on a line of whatever speed, in simulated time. */
class Line {
  nowMs = 0
  state: CatState
  readonly radio: RadioStandin
  readonly faults = new Set<RadioFault>()
  readonly actions: { atMs: number; action: CatAction }[] = []
  private coming: { atMs: number; bytes: Uint8Array }[] = []
  /** What a bad line does to bytes on either way. */
  spoil: (bytes: Uint8Array) => Uint8Array = (bytes) => bytes

  constructor(
    voice: RadioVoice,
    private readonly serialBaud = 9600,
    dialect: string = voice,
  ) {
    this.radio = new RadioStandin({ voice, serialBaud: 9600, monotonicMs: () => this.nowMs }, () => this.faults)
    this.state = createCatSession(compileDialect(BUILT_IN_DIALECTS.find((d) => d.id === dialect)!), 0)
  }

  run(ms: number): this {
    const end = this.nowMs + ms
    for (; this.nowMs < end; this.nowMs += 10) {
      const due = this.coming.filter((c) => c.atMs <= this.nowMs)
      this.coming = this.coming.filter((c) => c.atMs > this.nowMs)
      // In pieces, as a serial line brings them.
      for (const { bytes } of due) for (const byte of bytes) this.send({ type: 'bytes', bytes: Uint8Array.of(byte), nowMs: this.nowMs })
      this.send({ type: 'tick', nowMs: this.nowMs })
    }
    return this
  }

  ask(request: CatRequest): this {
    this.send({ type: 'request', request, nowMs: this.nowMs })
    return this
  }

  done = () => this.actions.flatMap(({ action }) => (action.type === 'done' ? [action] : []))

  private send(event: Parameters<typeof reduceCat>[1]): void {
    const [state, actions] = reduceCat(this.state, event)
    this.state = state
    for (const action of actions) {
      this.actions.push({ atMs: this.nowMs, action })
      if (action.type === 'write')
        for (const { delayMs, bytes } of this.radio.receive(this.spoil(action.bytes), this.serialBaud))
          this.coming.push({ atMs: this.nowMs + delayMs, bytes: this.spoil(bytes) })
    }
  }
}

describe.each(RADIO_VOICES)('a radio that speaks %s', (voice) => {
  it('is read, set and keyed, and its meters are read while it is keyed', () => {
    const line = new Line(voice).run(1500)
    expect(line.state.readings).toMatchObject({ frequencyHz: 14_074_000, mode: 'usb' })
    expect(catAnswers(line.state)).toBe(true)
    line.ask({ command: 'setFrequency', frequencyHz: 7_047_500 }).ask({ command: 'setMode', mode: 'fm' }).run(1500)
    expect(line.radio).toMatchObject({ frequencyHz: 7_047_500, mode: 'fm' })
    expect(line.state.readings).toMatchObject({ frequencyHz: 7_047_500, mode: 'fm' })
    line.radio.swr = 3.5
    line.ask({ command: 'keyOn' }).run(1000)
    expect(line.radio.keyed).toBe(true)
    expect(line.state.readings.keyed).toBe(true)
    expect(line.state.readings.swr).toBeGreaterThan(2.5)
    expect(line.state.readings.power).toBeCloseTo(0.5, 1)
    line.ask({ command: 'keyOff' }).run(200)
    expect(line.radio.keyed).toBe(false)
    expect(line.state.readings).toMatchObject({ keyed: false, swr: null, power: null })
    line.ask({ command: 'readKeyed' }).run(200)
    expect(line.done().map((d) => d.error)).toEqual([undefined, undefined, undefined, undefined, undefined])
  })

  it('tells an SWR that is bearable from one that is not', () => {
    for (const [swr, high] of [
      [1.2, false],
      [2, false],
      [3.5, true],
    ] as const) {
      const line = new Line(voice)
      line.radio.swr = swr
      line.ask({ command: 'keyOn' }).run(600)
      expect(line.state.readings.swr! > 2.5).toBe(high)
      if (voice !== 'five-byte') expect(Math.abs(line.state.readings.swr! - swr)).toBeLessThan(0.4)
    }
  })

  it('is understood again after a line that dropped, turned and invented bytes, and each order has had one end', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const random = createRandom(seed)
      const line = new Line(voice).run(600)
      line.spoil = (bytes) => {
        const spoilt: number[] = []
        for (const byte of bytes) {
          if (random() < 0.1) continue
          spoilt.push(random() < 0.1 ? byte ^ (1 << Math.floor(random() * 8)) : byte)
          if (random() < 0.05) spoilt.push(Math.floor(random() * 256))
        }
        return Uint8Array.from(spoilt)
      }
      let asked = 0
      for (let n = 0; n < 25; n++) {
        const frequencyHz = 7_000_000 + 1000 * Math.floor(random() * 200)
        const requests: CatRequest[] = [
          { command: 'setFrequency', frequencyHz },
          { command: 'setMode', mode: 'fm' },
          { command: 'readKeyed' },
        ]
        line.ask(requests[n % 3]!).run(200 * random())
        asked++
        expect(line.state.buffer.length).toBeLessThanOrEqual(512)
        const { swr, power, frequencyHz: read } = line.state.readings
        expect(read === null || (Number.isFinite(read) && read >= 0)).toBe(true)
        for (const meter of [swr, power]) expect(meter === null || Number.isFinite(meter)).toBe(true)
      }
      line.spoil = (bytes) => bytes
      line.run(12_000).ask({ command: 'setFrequency', frequencyHz: 14_074_000 }).ask({ command: 'setMode', mode: 'usb' }).run(2500)
      expect(line.state.readings).toMatchObject({ frequencyHz: 14_074_000, mode: 'usb' })
      expect(line.radio).toMatchObject({ frequencyHz: 14_074_000, mode: 'usb' })
      expect(catAnswers(line.state)).toBe(true)
      expect(line.done()).toHaveLength(asked + 2)
    }
  })

  it('is keyed at once, whatever was asked before', () => {
    for (let phase = 0; phase < 500; phase += 70) {
      const line = new Line(voice).run(1000 + phase)
      const before = line.actions.length
      line.ask({ command: 'keyOn' })
      expect(line.actions.slice(before).map((a) => a.action.type)).toContain('write')
      expect(line.radio.keyed).toBe(true)
      line.run(400)
      expect(catAnswers(line.state)).toBe(true)
      expect(line.state.readings.frequencyHz).toBe(14_074_000)
    }
  })

  it.each([['off'], ['slow'], ['garbled']] as const)('does not answer when it is %s, and is heard again after', (fault) => {
    const line = new Line(voice).run(1000)
    line.faults.add(fault)
    line.run(4000)
    expect(catAnswers(line.state)).toBe(false)
    line.ask({ command: 'setFrequency', frequencyHz: 7_074_000 }).run(500)
    line.faults.clear()
    line.run(4000)
    expect(catAnswers(line.state)).toBe(true)
    expect(line.state.readings.frequencyHz).toBe(line.radio.frequencyHz)
  })

  it('is understood with every third answer lost', () => {
    const line = new Line(voice)
    line.faults.add('drops')
    line.run(6000)
    expect(catAnswers(line.state)).toBe(true)
    expect(line.state.readings).toMatchObject({ frequencyHz: 14_074_000, mode: 'usb' })
  })

  it('is not understood at another speed', () => {
    const line = new Line(voice, 4800).run(5000)
    expect(line.state.readings.frequencyHz).toBeNull()
  })
})

describe('a radio', () => {
  it('that refuses is heard to refuse', () => {
    for (const voice of ['ascii-11', 'ascii-9', 'framed-bcd'] as const) {
      const line = new Line(voice)
      line.faults.add('refuses')
      line.ask({ command: 'readKeyed' }).run(400)
      expect(line.done()[0]!.error).toBe('The radio refused it.')
    }
  })

  it('at another address, or of another dialect, answers nothing that is understood', () => {
    const elsewhere = new Line('framed-bcd')
    elsewhere.faults.add('otherAddress')
    expect(catAnswers(elsewhere.run(3000).state)).toBe(false)
    const other = new Line('ascii-9', 9600, 'ascii-11').run(3000)
    expect(other.state.readings.frequencyHz).toBeNull()
  })

  it('says by itself that its dial was turned, and does not hear its own words on a one-wire bus', () => {
    const dialect = compileDialect(BUILT_IN_DIALECTS.find((d) => d.id === 'framed-bcd')!)
    const push = (hex: string) =>
      reduceCat(createCatSession(dialect, 0), {
        type: 'bytes',
        bytes: Uint8Array.from(Buffer.from(hex.replaceAll(' ', ''), 'hex')),
        nowMs: 5,
      })
    const [echo] = push('FE FE 70 E0 03 FD')
    expect(echo).toMatchObject({ lastReplyMs: null, buffer: [], readings: { frequencyHz: null } })
    const [turned, actions] = push('FE FE FE E0 70 03 00 40 07 07 00 FD')
    expect(turned.readings.frequencyHz).toBe(7_074_000)
    expect(actions).toEqual([{ type: 'read', command: 'readFrequency' }])
  })

  it('whose dialect lacks a command says so', () => {
    const line = new Line('five-byte').ask({ command: 'readAlc' })
    expect(line.done()[0]!.error).toMatch(/has no command/)
  })

  it('cannot be sent what does not fit', () => {
    const line = new Line('ascii-9').ask({ command: 'setFrequency', frequencyHz: 2_400_000_000 }).ask({ command: 'setMode', mode: 'am' })
    expect(line.done()[0]!.error).toMatch(/does not fit/)
  })
})

describe('dialects', () => {
  const base = {
    id: 'mine',
    name: 'Mine',
    structure: 'ascii',
    terminator: '\r',
    serialBauds: [9600],
    modes: { usb: 'U', fm: 'F' },
    commands: { readFrequency: { send: 'F?\r', reply: 'F{frequency:8*10}\r' } },
  }

  it('show what they would send, byte for byte', () => {
    const lines = dryRun(BUILT_IN_DIALECTS.find((d) => d.id === 'framed-bcd')!)
    expect(lines.find((l) => l.command === 'setFrequency')).toEqual({
      command: 'setFrequency',
      sends: 'FE FE 70 E0 05 00 40 07 14 00 FD',
      expects: 'FE FE E0 70 FB FD',
    })
    expect(dryRun(BUILT_IN_DIALECTS.find((d) => d.id === 'five-byte')!).find((l) => l.command === 'setFrequency')!.sends).toBe(
      '01 40 74 00 01',
    )
    expect(dryRun(BUILT_IN_DIALECTS.find((d) => d.id === 'ascii-11')!)[0]).toEqual({
      command: 'readFrequency',
      sends: 'FA;',
      expects: 'FA00014074000;',
    })
  })

  it('may carry checksums', () => {
    const dialect = catDialectSchema.parse({
      ...base,
      structure: 'fixed',
      terminator: undefined,
      modes: { usb: '01' },
      commands: { readFrequency: { send: '03 {sum8}', reply: '{frequency:bcd-be:4} {xor8}' } },
    })
    expect(dryRun(dialect)[0]).toMatchObject({ sends: '03 03', expects: '14 07 40 00 53' })
    const session = reduceCat(createCatSession(compileDialect(dialect), 0), { type: 'tick', nowMs: 1 })[0]
    const wrong = reduceCat(session, { type: 'bytes', bytes: Uint8Array.of(0x14, 0x07, 0x40, 0, 0x54), nowMs: 2 })[0]
    expect(wrong.readings.frequencyHz).toBeNull()
    const right = reduceCat(session, { type: 'bytes', bytes: Uint8Array.of(0x14, 0x07, 0x40, 0, 0x53), nowMs: 2 })[0]
    expect(right.readings.frequencyHz).toBe(14_074_000)
  })

  it.each([
    [{ terminator: undefined }, /needs its terminator/],
    [{ structure: 'framed' }, /needs preamble and end/],
    [{ commands: { readFrequency: { send: 'F?' } } }, /how a radio is recognised/],
    [{ commands: { ...base.commands, keyOn: { send: 'T' } } }, /Keying needs both/],
    [{ commands: { readFrequency: { send: 'F?', reply: 'F{frequenzy:8}' } } }, /no field of this name/],
    [{ commands: { readFrequency: { send: 'F?', reply: 'F{frequency}' } } }, /length of 1 to 32/],
    [{ commands: { readFrequency: { send: '{radio}', reply: 'F{frequency:8}' } } }, /no radio address/],
    [{ modes: { usb: 'U', fm: 'FM' }, commands: { readFrequency: { send: 'x', reply: '{frequency:8}{mode}' } } }, /different lengths/],
    [{ commands: { readFrequency: { send: 'F', reply: '{frequency:bits:4-2}' } } }, /bits are written/],
    [{ commands: { readFrequency: { send: 'F', reply: '{frequency:8*0}' } } }, /above 0/],
    [{ structure: 'fixed', commands: { readFrequency: { send: 'F?', reply: '{frequency:bcd-be:4}' } } }, /"F\?" is not two hex digits/],
    [
      {
        meters: {
          swr: [
            [0, 1],
            [0, 2],
          ],
        },
      },
      /must rise/,
    ],
    [{ modes: { wide: '1' } }, /Unrecognized key: "wide"/],
  ])('that are wrong are explained: %j', (change, error) => {
    const parsed = catDialectSchema.safeParse({ ...base, ...change })
    expect(parsed.error?.issues.map((i) => `${i.path.join('.')}: ${i.message}`).join('\n')).toMatch(error)
  })

  it('read meters along straight lines, and stop at their ends', () => {
    const scale = [
      [0, 1],
      [48, 1.5],
      [120, 3],
    ] as const
    expect([-5, 0, 24, 84, 120, 255].map((raw) => scaleMeter(scale, raw))).toEqual([1, 1, 1.25, 2.25, 3, 3])
    expect(scaleMeter(undefined, 3)).toBeUndefined()
  })
})
