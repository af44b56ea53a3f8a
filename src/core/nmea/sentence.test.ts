import fc from 'fast-check'
import { NmeaStream } from './nmeaStream'
import { resolveUtc } from './resolveUtc'
import { frameSentence, nmeaChecksum, parseSentence, type NmeaSentence } from './sentence'
import { correctRollover, ROLLOVER_MS } from './weekRollover'

const bytes = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0))
const read = (body: string): NmeaSentence => {
  const parsed = parseSentence(frameSentence(body))
  if (!parsed.ok) throw new Error(parsed.reason)
  return parsed.sentence
}

describe('sentences', () => {
  it('carry the exclusive or of their characters', () => {
    expect(nmeaChecksum('GPGLL,,,,,,V')).toBe(0x06)
    expect(nmeaChecksum('A')).toBe(0x41)
  })

  it.each<[string, Partial<NmeaSentence>]>([
    [
      'GPRMC,120001.00,A,4726.2320,N,01857.3780,E,0.02,0.0,010626,,,A',
      {
        type: 'RMC',
        talker: 'GP',
        time: { timeOfDayMs: 43_201_000, dateUtcMs: Date.UTC(2026, 5, 1) },
        fix: true,
        latitude: 47.4372,
        longitude: 18.9563,
      },
    ],
    ['GNRMC,235959,V,,,,,,,311299,,,N', { talker: 'GN', time: { timeOfDayMs: 86_399_000, dateUtcMs: Date.UTC(1999, 11, 31) }, fix: false }],
    ['GPRMC,,V,,,,,,,,,,N', { type: 'RMC', fix: false }],
    [
      'GPGGA,120001.500,3330.0000,S,07030.0000,W,1,09,1.1,104.3,M,43.0,M,,',
      {
        type: 'GGA',
        time: { timeOfDayMs: 43_201_500 },
        latitude: -33.5,
        longitude: -70.5,
        fix: true,
        satellites: 9,
        hdop: 1.1,
        altitudeM: 104.3,
      },
    ],
    ['GPGGA,120001,,,,,0,00,,,M,,M,,', { fix: false, satellites: 0 }],
    ['GPGGA,120001,4726.2320,N,01857.3780,E,6,00,,,M,,M,,', { fix: false }],
    ['GPZDA,235960.00,31,12,2016,00,00', { time: { timeOfDayMs: 86_400_000, dateUtcMs: Date.UTC(2016, 11, 31) } }],
    ['GPZDA,120001,,,,,', { time: { timeOfDayMs: 43_201_000 } }],
    ['GPGSA,A,3,02,05,07,11,,,,,,,,,2.0,1.1,1.7', { fix: true, fixDimensions: 3, satellites: 4, usedSatellites: [2, 5, 7, 11], hdop: 1.1 }],
    ['GPGSA,A,1,,,,,,,,,,,,,,,', { fix: false, satellites: 0 }],
    [
      'GPGSV,3,1,10,02,45,123,38,05,10,000,,07,,,21',
      {
        satellitesInView: 10,
        part: { number: 1, of: 3 },
        described: [
          { id: 2, elevationDeg: 45, azimuthDeg: 123, snrDbHz: 38 },
          { id: 5, elevationDeg: 10, azimuthDeg: 0, snrDbHz: null },
          { id: 7, elevationDeg: null, azimuthDeg: null, snrDbHz: 21 },
        ],
      },
    ],
    [
      'GLGLL,4726.2320,N,01857.3780,E,120001.00,A,A',
      { talker: 'GL', type: 'GLL', latitude: 47.4372, fix: true, time: { timeOfDayMs: 43_201_000 } },
    ],
  ])('%s', (body, expected) => {
    const sentence = read(body)
    for (const [key, value] of Object.entries(expected)) {
      const got = sentence[key as keyof NmeaSentence]
      if (typeof value === 'number') expect(got).toBeCloseTo(value, 6)
      else expect(got).toEqual(value)
    }
  })

  it.each([
    ['', 'empty', /empty/],
    ['hello', 'format', /no sentence/],
    ['$GPRMC,120001', 'noChecksum', /checksum is missing/],
    ['$GPGLL,,,,,,V*07', 'checksum', /is 07 and should be 06/],
    ['$GPGLL,,,,,,V*0', 'format', /cut short/],
    [frameSentence('GPVTG,,T,,M,0.1,N'), 'unknown', /GPVTG is not used/],
    [frameSentence('PRIVATE,1'), 'unknown', /not used/],
    [`$${'A'.repeat(130)}*00`, 'tooLong', /longer than 120/],
    ['$GP\u0083RMC\u00ff,12', 'format', /wrong serial speed/],
    [frameSentence('GPRMC,250000,A,,,,,,,010626'), 'field', /time cannot be "250000"/],
    [frameSentence('GPGLL,,,,,126000,V'), 'field', /time cannot be "126000"/],
    ['$GPRMC,120001,A,4726.2320,N,01857.3780,E,0.0,0.0,010626', 'noChecksum', /whole: this receiver may send none/],
  ])('%s is refused', (line, fault, reason) => {
    const parsed = parseSentence(line)
    expect(parsed).toMatchObject({ ok: false, fault })
    expect(!parsed.ok && parsed.reason).toMatch(reason)
  })

  it.each<[string, Partial<NmeaSentence>, RegExp]>([
    ['GPRMC,120001,A,,,,,,,310226', { fix: true, time: { timeOfDayMs: 43_201_000 } }, /date cannot be 2026-02-31/],
    ['GPRMC,120001,V,8960.0000,N,36000.0000,E,,,010626,,,N', { fix: false }, /position cannot be "8960.0000".*"36000.0000"/],
    ['GPGGA,120001,9130.0,N,01857.3,E,1,09,,,M,,M,,', { satellites: 9 }, /position cannot be/],
    ['GPGGA,120001,4726.2,X,01857.3,E,1,09,,,M,,M,,', { satellites: 9 }, /instead of N or S/],
    ['GPGGA,120001,,,,,1,many,,,M,,M,,', { fix: true }, /number of satellites cannot be "many"/],
    ['GPGGA,120001,,,,,x,04,,,M,,M,,', { fix: false, satellites: 4 }, /fix quality cannot be "x"/],
    ['GPZDA,120001,00,00,0000,00,00', { time: { timeOfDayMs: 43_201_000 } }, /day cannot be "00"/],
  ])('%s counts without the field that cannot be', (body, expected, words) => {
    const sentence = read(body)
    expect(sentence).toMatchObject(expected)
    expect(sentence.latitude).toBeUndefined()
    expect(sentence.overlooked!.join(' ')).toMatch(words)
  })

  it.each([
    ['GPGGA,120001,4726.2320,N,01857.3780,E,8,09,1.1,104.3,M,43.0,M,,', 'simulation'],
    ['GPGGA,120001,4726.2320,N,01857.3780,E,7,00,,,M,,M,,', 'hand'],
    ['GPRMC,120001,A,4726.2320,N,01857.3780,E,0.0,0.0,010626,,,E', 'estimate'],
    ['GPGLL,4726.2320,N,01857.3780,E,120001,A,S', 'simulation'],
  ])('%s is no fix from satellites but made by %s', (body, madeBy) => expect(read(body)).toMatchObject({ fix: false, madeBy }))

  it('without a checksum are taken when that is asked for, if they are whole', () => {
    const whole = '$GPRMC,120001,A,4726.2320,N,01857.3780,E,0.0,0.0,010626'
    expect(parseSentence(whole, { acceptUnchecked: true })).toMatchObject({ ok: true, sentence: { unchecked: true, fix: true } })
    expect(parseSentence(whole.slice(0, -8), { acceptUnchecked: true })).toMatchObject({ ok: false, fault: 'noChecksum' })
    expect(parseSentence(`${whole}*00`, { acceptUnchecked: true })).toMatchObject({ ok: false, fault: 'checksum' })
    expect(read(whole.slice(1)).unchecked).toBeUndefined()
  })

  it('are found behind noise and behind one that was cut off', () => {
    expect(parseSentence(`\u0007noise$GPRMC,12${frameSentence('GPGLL,,,,,,V')}`).ok).toBe(true)
  })

  it('never throw, whatever the fields hold', () => {
    const field = fc.oneof(fc.string({ maxLength: 12 }), fc.constantFrom('', '120000', '-1', '1e9', '4726.2320', 'N', 'A', '010626', '999'))
    fc.assert(
      fc.property(fc.constantFrom('GGA', 'RMC', 'ZDA', 'GSA', 'GSV', 'GLL', 'XXX'), fc.array(field, { maxLength: 22 }), (type, fields) => {
        const parsed = parseSentence(frameSentence(`GP${type},${fields.join(',')}`))
        if (!parsed.ok) expect(parsed.reason.length).toBeGreaterThan(3)
      }),
      { seed: 21, numRuns: 3000 },
    )
  })
})

describe('the stream', () => {
  const lines = [
    frameSentence('GPRMC,120001,V,,,,,,,010626,,,N'),
    frameSentence('GPGLL,,,,,,V'),
    frameSentence('GPZDA,120001,01,06,2026,00,00'),
  ]
  const whole = bytes(lines.map((line) => `${line}\r\n`).join(''))

  it('gives the same lines however the reads split and merge', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 60 }), (sizes) => {
        const stream = new NmeaStream()
        const found: string[] = []
        for (let at = 0, i = 0; at < whole.length; i++) {
          const size = sizes[i % sizes.length]!
          found.push(...stream.push(whole.subarray(at, at + size)).map((l) => l.text))
          at += size
        }
        expect(found).toEqual(lines)
      }),
      { seed: 4, numRuns: 200 },
    )
  })

  it('knows where each line stood', () => {
    const stream = new NmeaStream()
    const [first, second] = [...stream.push(whole.subarray(0, 10)), ...stream.push(whole.subarray(10))]
    expect(first).toMatchObject({ firstByte: 0, endByte: lines[0]!.length })
    expect(second!.firstByte).toBe(lines[0]!.length + 2)
    expect(stream.bytes).toBe(whole.length)
  })

  it('is bounded by garbage without line ends, and goes on after it', () => {
    const stream = new NmeaStream()
    const noise = stream.push(new Uint8Array(100_000).fill(0x41))
    expect(Math.max(...noise.map((l) => l.text.length))).toBeLessThanOrEqual(240)
    expect(stream.push(bytes(`${lines[1]}\r\n`)).at(-1)!.text).toBe(lines[1])
  })
})

describe('dates', () => {
  const june = Date.UTC(2026, 5, 1)
  const earliest = Date.UTC(2024, 0, 1)
  it.each([
    [june, june, 0],
    [june - ROLLOVER_MS, june, 1],
    [june - 2 * ROLLOVER_MS, june, 2],
  ])('of %i is taken for %i', (sent, utcMs, rollovers) => expect(correctRollover(sent, earliest)).toEqual({ utcMs, rollovers }))
  it('are not corrected into the future of a recording', () => {
    expect(correctRollover(Date.UTC(1994, 2, 23), earliest, Date.UTC(2026, 10, 1))).toBeUndefined()
  })
  it('are put to a time of day also across midnight', () => {
    expect(resolveUtc(500, june + 86_399_800)).toBe(june + 86_400_500)
    expect(resolveUtc(86_399_500, june + 200)).toBe(june - 500)
    expect(resolveUtc(43_200_000, june + 40_000_000)).toBe(june + 43_200_000)
  })
})
