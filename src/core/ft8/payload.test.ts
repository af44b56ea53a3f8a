import fc from 'fast-check'
import { createBitWriter } from './bits'
import { isStandardCall, packHashedCall, packStandardCall, packToken } from './callField'
import { callToBase38, createCallMemory, hashCall } from './callHash'
import { packMessage, unpackMessage } from './payload'

function pack(text: string): { type: string; payload: Uint8Array } {
  const packed = packMessage(text)
  if (!packed.ok) throw new Error(packed.error)
  return packed
}

const letter = fc.constantFrom(...'ABCDEFGHIJKLMNOPQRSTUVWXYZ')
const digit = fc.constantFrom(...'0123456789')
/** Made-up calls: Q, a digit, one to three letters. */
const madeUp = fc.tuple(digit, fc.array(letter, { minLength: 1, maxLength: 3 })).map(([d, s]) => `Q${d}${s.join('')}`)
const locator = fc
  .tuple(fc.constantFrom(...'ABCDEFGHIJKLMNOPQR'), fc.constantFrom(...'ABCDEFGHIJKLMNOPQR'), digit, digit)
  .map((p) => p.join(''))
const report = fc.integer({ min: -30, max: 30 }).map((n) => `${n < 0 ? '-' : '+'}${String(Math.abs(n)).padStart(2, '0')}`)
const info = fc.oneof(
  locator.filter((l) => l !== 'RR73'),
  report,
  report.map((r) => `R${r}`),
  fc.constantFrom('RRR', 'RR73', '73', ''),
)
const suffix = fc.constantFrom(['', ''], ['/R', ''], ['', '/R'], ['/P', ''], ['', '/P'], ['/P', '/P'])

describe('packMessage', () => {
  it('packs the worked example of the protocol description', () => {
    const { payload, type } = pack('CQ K1ABC FN42')
    expect(type).toBe('1')
    expect(payload.join('')).toBe('00000000000000000000000000100000010011011110111100011010100010100001100110001')
  })

  it.each([
    ['CQ Q5RVR JN97', '1'],
    ['CQ RIVR Q5RVR JN97', '1'],
    ['CQ 007 Q5RVR JN97', '1'],
    ['QRZ Q5RVR', '1'],
    ['DE Q5RVR JN97', '1'],
    ['Q1ABC Q5RVR JN97', '1'],
    ['Q1ABC Q5RVR R JN97', '1'],
    ['Q1ABC Q5RVR -12', '1'],
    ['Q1ABC Q5RVR R+03', '1'],
    ['Q1ABC Q5RVR RRR', '1'],
    ['Q1ABC Q5RVR RR73', '1'],
    ['Q1ABC Q5RVR 73', '1'],
    ['Q1ABC Q5RVR', '1'],
    ['Q1ABC/R Q5RVR JN97', '1'],
    ['Q1ABC Q5RVR/P JN97', '2'],
    ['CQ Q0/Q5RVR', '4'],
    ['<Q1ABC> Q0/Q5RVR', '4'],
    ['<Q1ABC> Q0/Q5RVR RR73', '4'],
    ['Q0/Q5RVR <Q1ABC> 73', '4'],
    ['<Q0/Q5RVR> Q1ABC -07', '1'],
    ['HELLO RIVER', '0.0'],
    ['TNX 73 + GL', '0.0'],
    ['T:0123456789ABCDEF01', '0.5'],
  ])('%s goes as type %s and comes back the same', (text, type) => {
    const packed = pack(text)
    expect(packed.type).toBe(type)
    const memory = createCallMemory(20, ['Q1ABC', 'Q0/Q5RVR'])
    expect(unpackMessage(packed.payload, memory)?.text).toBe(text)
  })

  it('brings back any standard message', () => {
    fc.assert(
      fc.property(madeUp, madeUp, info, suffix, (to, from, words, [s1, s2]) => {
        const text = [to + s1, from + s2, words].filter(Boolean).join(' ')
        const message = unpackMessage(pack(text).payload, createCallMemory())
        expect(message?.text).toBe(text)
        expect(message).toMatchObject({ kind: 'standard', to: to + s1, from: from + s2 })
      }),
      { seed: 5, numRuns: 400 },
    )
  })

  it('brings back any free text of up to 13 characters', () => {
    const text = fc
      .array(fc.constantFrom(...' 0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ+-./?'), { minLength: 1, maxLength: 13 })
      .map((c) => c.join('').replace(/\s+/g, ' ').trim())
      .filter((t) => t !== '')
    fc.assert(
      fc.property(text, (t) => {
        const packed = pack(t)
        if (packed.type === '0.0') expect(unpackMessage(packed.payload, createCallMemory())?.text).toBe(t)
        else expect(unpackMessage(packed.payload, createCallMemory())?.text).toBe(t.replace(/^(\S+) CQ$/, '$1 CQ'))
      }),
      { seed: 6, numRuns: 400 },
    )
  })

  it.each([
    ['THIS TEXT IS MUCH TOO LONG', /13 characters/],
    ['', /empty/],
    ['GRÜSSE', /cannot hold "Ü"/],
    ['T:FFFFFFFFFFFFFFFFFF', /0 to 7/],
  ])('refuses %p and says why', (text, why) => {
    const packed = packMessage(text)
    expect(packed.ok).toBe(false)
    if (!packed.ok) expect(packed.error).toMatch(why)
  })
})

describe('unpackMessage', () => {
  it('never throws, whatever the bits', () => {
    const memory = createCallMemory()
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 1 }), { minLength: 77, maxLength: 77 }), (bits) => {
        const message = unpackMessage(bits, memory)
        if (message) expect(message.text.length).toBeGreaterThan(0)
      }),
      { seed: 7, numRuns: 3000 },
    )
  })

  it('shows a hashed call once it has been heard in full, and <...> before', () => {
    const memory = createCallMemory()
    const hashed = pack('<Q0/Q5RVR> Q1ABC -07').payload
    expect(unpackMessage(hashed, memory)?.text).toBe('<...> Q1ABC -07')
    unpackMessage(pack('CQ Q0/Q5RVR').payload, memory)
    expect(unpackMessage(hashed, memory)?.text).toBe('<Q0/Q5RVR> Q1ABC -07')
  })

  it('shows the types that are only heard', () => {
    const memory = createCallMemory(20, ['Q5RVR', 'Q1ABC'])
    const q1 = packStandardCall('Q1ABC')
    const q2 = packStandardCall('Q2DEF')
    const handover = createBitWriter(77).put(q1, 28).put(q2, 28).put(hashCall('Q5RVR', 10), 10).put(12, 5).put(1, 3).put(0, 3).bits
    expect(unpackMessage(handover, memory)?.text).toBe('Q1ABC RR73; Q2DEF <Q5RVR> -06')
    const fieldDay = createBitWriter(77).put(q1, 28).put(q2, 28).put(1, 1).put(2, 4).put(0, 3).put(11, 7).put(3, 3).put(0, 3).bits
    expect(unpackMessage(fieldDay, memory)?.text).toBe('Q1ABC Q2DEF R 3A #11')
    const serial = createBitWriter(77).put(1, 1).put(q1, 28).put(q2, 28).put(1, 1).put(5, 3).put(13, 13).put(3, 3).bits
    expect(unpackMessage(serial, memory)?.text).toBe('TU; Q1ABC Q2DEF R 579 0013')
    const vhf = createBitWriter(77)
      .put(hashCall('Q1ABC', 12), 12)
      .put(hashCall('Q5RVR', 22), 22)
      .put(0, 1)
      .put(5, 3)
      .put(7, 11)
      .put(0, 25)
      .put(5, 3).bits
    expect(unpackMessage(vhf, memory)?.text).toBe('<Q1ABC> <Q5RVR> 570007 AA00AA')
  })

  it('takes reserved types for nothing', () => {
    for (const i3 of [6, 7]) expect(unpackMessage(createBitWriter(77).put(5n, 74).put(i3, 3).bits, createCallMemory())).toBeUndefined()
  })
})

describe('calls', () => {
  it.each([
    ['Q5RVR', true],
    ['3DA0XY', true],
    ['3XA1BC', true],
    ['QA1BC', false],
    ['Q0/Q5RVR', false],
    ['Q5RVRX1', false],
  ])('%s fits the standard field: %s', (call, fits) => expect(isStandardCall(call)).toBe(fits))

  it('re-maps the two national forms', () => {
    for (const call of ['3DA0XY', '3XA1BC'])
      expect(unpackMessage(pack(`CQ ${call} JN97`).payload, createCallMemory())?.text).toBe(`CQ ${call} JN97`)
  })

  it('places the general calls as published', () => {
    expect([packToken('DE'), packToken('QRZ'), packToken('CQ'), packToken('CQ 000'), packToken('CQ A')]).toEqual([0, 1, 2, 3, 1004])
    expect(packToken('CQ ABCDE')).toBeUndefined()
    expect(packHashedCall('Q5RVR')).toBeGreaterThanOrEqual(2_063_592)
    expect(packHashedCall('Q5RVR')).toBeLessThan(6_257_896)
    expect(packStandardCall('Q5RVR')).toBeGreaterThanOrEqual(6_257_896)
  })

  it('hashes are the high bits of one product', () => {
    fc.assert(
      fc.property(madeUp, (call) => {
        expect(hashCall(call, 12)).toBe(hashCall(call, 22) >> 10)
        expect(hashCall(call, 10)).toBe(hashCall(call, 22) >> 12)
      }),
      { seed: 8 },
    )
    expect(() => callToBase38('Q5-VR', 'left')).toThrow(RangeError)
  })

  it('the memory forgets the oldest first', () => {
    const memory = createCallMemory(2, ['Q1AA', 'Q2BB', 'Q1AA', 'Q3CC'])
    expect(memory.calls).toEqual(['Q1AA', 'Q3CC'])
    expect(memory.recall(hashCall('Q2BB', 22), 22)).toBeUndefined()
    expect(memory.recall(hashCall('Q1AA', 10), 10)).toBe('Q1AA')
  })
})
