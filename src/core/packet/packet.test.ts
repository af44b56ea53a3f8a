import fc from 'fast-check'
import { createRandom } from '../dsp'
import {
  adviseParameters,
  costNow,
  costOfParameters,
  encodeAx25,
  encodeKiss,
  FEND,
  FESC,
  frameLine,
  kindOf,
  KissDecoder,
  leaveKiss,
  parameterFrames,
  parseAx25,
  textOf,
  uiFrame,
  usualKissParameters,
  type KissEvent,
} from '.'

const bytesOf = (hex: string) => Uint8Array.from(hex.split(' ').map((b) => parseInt(b, 16)))
const frames = (events: KissEvent[]) => events.flatMap((e) => (e.type === 'frame' ? [e.frame] : []))
const bad = (events: KissEvent[]) => events.flatMap((e) => (e.type === 'bad' ? [e.error] : []))

describe('KISS', () => {
  it.each([
    // The examples of the protocol's own description: "TEST" on port 0, "Hello" on port 5, a frame of both special bytes.
    ['C0 00 54 45 53 54 C0', 0, 0, '54 45 53 54'],
    ['C0 50 48 65 6C 6C 6F C0', 5, 0, '48 65 6C 6C 6F'],
    ['C0 00 DB DC DB DD C0', 0, 0, 'C0 DB'],
    ['C0 01 32 C0', 0, 1, '32'],
    ['C0 DB DC 41 C0', 12, 0, '41'],
  ])('%s', (hex, port, command, data) => {
    const frame = { port, command, data: bytesOf(data) }
    expect(frames(new KissDecoder().push(bytesOf(hex)))).toEqual([frame])
    expect(encodeKiss(frame)).toEqual(bytesOf(hex))
  })

  it('leaves KISS with one byte for all ports', () => {
    expect(leaveKiss()).toEqual(bytesOf('C0 FF C0'))
    expect(frames(new KissDecoder().push(leaveKiss()))).toMatchObject([{ port: 15, command: 15 }])
  })

  it('takes any frame in any pieces, with shared frame ends and noise before', () => {
    const frame = fc.record({ port: fc.nat(15), command: fc.nat(15), data: fc.uint8Array({ maxLength: 400 }) })
    fc.assert(
      fc.property(fc.array(frame, { maxLength: 6 }), fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1 }), (sent, cuts) => {
        const joined = sent.flatMap((f, i) => [...encodeKiss(f)].slice(i > 0 ? 1 : 0))
        const stream = Uint8Array.from([0x0d, 0x41, ...joined])
        const decoder = new KissDecoder()
        const events: KissEvent[] = []
        for (let at = 0, i = 0; at < stream.length; i++) {
          const next = at + cuts[i % cuts.length]!
          events.push(...decoder.push(stream.subarray(at, next)))
          at = next
        }
        expect(frames(events)).toEqual(sent)
        expect(bad(events)).toEqual([])
        expect(events.flatMap((e) => (e.type === 'outside' ? [...e.bytes] : [])).slice(0, 2)).toEqual([0x0d, 0x41])
      }),
    )
  })

  it.each([
    ['C0 00 41 DB 41 C0', /escape is followed by 41/],
    ['C0 00 41 DB C0', /ends inside an escape/],
  ])('does not hand on a frame that lost a byte: %s', (hex, error) => {
    const decoder = new KissDecoder()
    expect(bad(decoder.push(bytesOf(hex)))).toEqual([expect.stringMatching(error)])
    expect(frames(decoder.push(bytesOf('00 42 C0')))).toEqual([{ port: 0, command: 0, data: bytesOf('42') }])
  })

  it('bounds a frame that never ends, and says when the stream ends within one', () => {
    const decoder = new KissDecoder(100)
    expect(decoder.push(Uint8Array.of(FEND))).toEqual([])
    for (let i = 0; i < 50; i++) expect(decoder.push(new Uint8Array(1000).fill(0x55))).toEqual([])
    expect(decoder.push(Uint8Array.of(FEND))).toEqual([{ type: 'bad', error: 'longer than 100 bytes', bytes: 50_000 }])
    const whole = new Uint8Array(101).fill(0x10)
    expect(frames(decoder.push(Uint8Array.of(...whole, FEND)))).toHaveLength(1)
    decoder.push(bytesOf('00 41'))
    expect(decoder.finish()).toEqual([{ type: 'bad', error: 'the stream ends inside a frame', bytes: 2 }])
    expect(decoder.finish()).toEqual([])
  })

  it('survives ten million random bytes, and what it hands on is bounded', () => {
    const random = createRandom(11)
    const decoder = new KissDecoder()
    const chunk = new Uint8Array(10_000)
    let good = 0
    let longest = 0
    for (let i = 0; i < 1000; i++) {
      for (let k = 0; k < chunk.length; k++) chunk[k] = random() * 256
      // Every fourth chunk has no frame ends at all, so frames grow over their bound.
      if (i % 4 === 3) for (let k = 0; k < chunk.length; k++) if (chunk[k] === FEND || chunk[k] === FESC) chunk[k] = 0
      for (const event of decoder.push(chunk)) {
        if (event.type !== 'frame') continue
        good++
        longest = Math.max(longest, event.frame.data.length)
        parseAx25(event.frame.data)
      }
    }
    expect(good).toBeGreaterThan(10_000)
    expect(longest).toBeLessThanOrEqual(4096)
  })

  it('refuses a port that is none', () => {
    expect(() => encodeKiss({ port: 16, command: 0, data: new Uint8Array() })).toThrow(/port 16/)
  })
})

describe('parameters of a TNC', () => {
  it('go out in tens of milliseconds and 256ths', () => {
    expect(parameterFrames({ txDelayMs: 300, persistence: 0.25, slotTimeMs: 100, txTailMs: 20, fullDuplex: false }, 1)).toEqual([
      bytesOf('C0 11 1E C0'),
      bytesOf('C0 12 3F C0'),
      bytesOf('C0 13 0A C0'),
      bytesOf('C0 14 02 C0'),
      bytesOf('C0 15 00 C0'),
    ])
  })

  it('cost airtime and collisions', () => {
    const at1200 = costOfParameters(usualKissParameters, 1200)
    // (128 + 20) bytes of 8 bits with stuffing at 1200 bits a second, and 0.32 s around them.
    expect(at1200.frameS).toBeCloseTo(1.0026 + 0.32, 3)
    expect(at1200.meanWaitMs).toBeCloseTo(300)
    expect(at1200.collisionChance).toBeCloseTo(1 - 0.75 ** 2)
    expect(costOfParameters(usualKissParameters, 9600).overheadShare).toBeGreaterThan(0.7)
    expect(costOfParameters({ ...usualKissParameters, fullDuplex: true }, 1200)).toMatchObject({ meanWaitMs: 0, collisionChance: 1 })
  })

  it.each([
    [{}, 1200, []],
    [{ txDelayMs: 50 }, 1200, [/start of each frame is lost/]],
    [{ txDelayMs: 900 }, 1200, [/48 % of the air/]],
    [{ fullDuplex: true }, 1200, [/does not listen before/]],
    [{ persistence: 0.9 }, 1200, [/collide with 99 %/]],
    [{ persistence: 0.02 }, 1200, [/waits 4.9 s/]],
    [{ txTailMs: 300 }, 300, [/20 to 50 ms/]],
  ])('%j at %d baud', (change, airBaud, expected) => {
    const advice = adviseParameters({ ...usualKissParameters, ...change }, airBaud)
    expect(advice).toEqual(expected.map((e) => expect.stringMatching(e)))
  })
})

describe('what parameters cost on a channel as it is used', () => {
  const at = (persistence: number, othersShare: number) => costNow({ ...usualKissParameters, persistence }, 1200, othersShare)

  it('is their own wait on a free channel, where nobody collides', () => {
    const { frameS, meanWaitMs } = costOfParameters(usualKissParameters, 1200)
    expect(at(0.25, 0)).toEqual({ outAfterS: expect.closeTo(frameS + meanWaitMs / 1000), collisionChance: 0 })
  })

  it.each([0.1, 0.5, 0.9])('grows with the use of the channel, and persistence trades waits for collisions, at %d', (share) => {
    for (const persistence of [0.1, 0.25, 1]) {
      expect(at(persistence, share).outAfterS).toBeGreaterThan(at(persistence, share / 2).outAfterS)
      expect(at(persistence, share).collisionChance).toBeGreaterThan(at(persistence, share / 2).collisionChance)
    }
    expect(at(0.5, share).outAfterS).toBeLessThan(at(0.25, share).outAfterS)
    expect(at(0.5, share).collisionChance).toBeGreaterThan(at(0.25, share).collisionChance)
  })

  it('stays finite on a channel that is never free, and takes no turn in full duplex', () => {
    expect(at(0.25, 1).outAfterS).toBeLessThan(60)
    expect(at(0.25, 7)).toEqual(at(0.25, 1))
    expect(costNow({ ...usualKissParameters, fullDuplex: true }, 1200, 0.4).collisionChance).toBe(0.4)
  })
})

describe('AX.25 frames', () => {
  // Addresses by the rules of the protocol: characters shifted up by one, SSID 7 in bits 1 to 4, the last bit at the end.
  const ui = bytesOf('A2 64 82 84 86 40 E0 A2 66 86 88 8A 8C 6F 03 F0 68 69')

  it('are read: addresses, command bits, control, PID and what is carried', () => {
    const parsed = parseAx25(ui)
    expect(parsed).toEqual({
      ok: true,
      value: {
        destination: 'Q2ABC',
        source: 'Q3CDEF-7',
        path: [],
        role: 'command',
        control: 3,
        kind: 'UI',
        pid: 0xf0,
        info: bytesOf('68 69'),
      },
    })
    expect(uiFrame('Q3CDEF-7', 'Q2ABC', [], 'hi')).toEqual(ui)
  })

  it('say which hops have repeated them', () => {
    const bytes = encodeAx25({
      source: 'Q5RVR-9',
      destination: 'Q1POS',
      path: [
        { call: 'Q7HUT', repeated: true },
        { call: 'Q8TOP-2', repeated: false },
      ],
      control: 3,
      pid: 0xf0,
      info: new Uint8Array(),
    })
    const parsed = parseAx25(bytes)
    if (!parsed.ok) throw new Error(parsed.error)
    expect(parsed.value.path).toEqual([
      { call: 'Q7HUT', repeated: true },
      { call: 'Q8TOP-2', repeated: false },
    ])
    expect(frameLine(parsed.value)).toBe('Q5RVR-9>Q1POS,Q7HUT*,Q8TOP-2')
  })

  it.each([
    [0x00, 'I'],
    [0x72, 'I'],
    [0x01, 'RR'],
    [0xf5, 'RNR'],
    [0x09, 'REJ'],
    [0x0d, 'SREJ'],
    [0x3f, 'SABM'],
    [0x7f, 'SABME'],
    [0x53, 'DISC'],
    [0x1f, 'DM'],
    [0x73, 'UA'],
    [0x97, 'FRMR'],
    [0x13, 'UI'],
    [0xbf, 'XID'],
    [0xf3, 'TEST'],
    [0x07, '?'],
  ])('control %d is %s', (control, kind) => expect(kindOf(control)).toBe(kind))

  it.each([
    ['', /destination is cut off at byte 0/],
    ['A2 64 82 84 86 40 E0 A2 66 86', /source is cut off at byte 10/],
    ['A2 64 82 84 86 40 E1', /no source/],
    ['A2 64 82 84 86 40 E0 A2 66 86 88 8A 8C 6F', /no control byte/],
    ['A2 64 82 84 86 40 E0 A2 66 86 88 8A 8C 6F 03', /kind UI without a PID/],
    ['A2 65 82 84 86 40 E0', /ends within its call, at byte 1/],
    ['42 64 82 84 86 40 E0', /"!2ABC " is no call/],
    [Array.from({ length: 11 }, () => 'A2 64 82 84 86 40 E0').join(' '), /more than 8 digipeaters/],
  ])('what is none is explained: %s', (hex, error) => {
    expect(parseAx25(hex === '' ? new Uint8Array() : bytesOf(hex))).toEqual({ ok: false, error: expect.stringMatching(error) })
  })

  it('come back as they were written', () => {
    const call = fc.stringMatching(/^[A-Z0-9]{1,6}(-([1-9]|1[0-5]))?$/)
    const hop = fc.record({ call, repeated: fc.boolean() })
    fc.assert(
      fc.property(call, call, fc.array(hop, { maxLength: 8 }), fc.uint8Array({ maxLength: 256 }), (source, destination, path, info) => {
        const parsed = parseAx25(encodeAx25({ source, destination, path, control: 3, pid: 0xf0, info }))
        expect(parsed).toEqual({ ok: true, value: expect.objectContaining({ source, destination, path, info }) })
      }),
    )
    expect(() => uiFrame('Q3CDEFG', 'Q2ABC', [], '')).toThrow(/no address/)
    expect(() => uiFrame('Q3CD-16', 'Q2ABC', [], '')).toThrow(/no address/)
  })

  it('carry text in whatever it was written', () => {
    expect(textOf(new TextEncoder().encode('Grüße'))).toBe('Grüße')
    expect(textOf(bytesOf('47 72 FC DF'))).toBe('Grüß')
  })
})
