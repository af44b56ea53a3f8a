import fc from 'fast-check'
import { createRandom } from '../dsp/random'
import type { ClockReading } from '../time/clockReading'
import { GpsReceiver } from './gpsReceiver'
import { readNmeaRecording, type NmeaLineReport } from './nmeaRecording'
import { frameSentence } from './sentence'
import { ROLLOVER_MS } from './weekRollover'

const noon = Date.UTC(2026, 5, 1, 12)
const bytes = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0))
const two = (n: number) => String(n).padStart(2, '0')

interface Talk {
  satellites?: number
  fix?: boolean
  dated?: boolean
  talker?: string
  latitude?: string
}
function burst(utcMs: number, { satellites = 8, fix = true, dated = true, talker = 'GP', latitude = '4726.2320' }: Talk = {}): string {
  const d = new Date(utcMs)
  const time = `${two(d.getUTCHours())}${two(d.getUTCMinutes())}${two(d.getUTCSeconds())}.00`
  const date = dated ? `${two(d.getUTCDate())}${two(d.getUTCMonth() + 1)}${two(d.getUTCFullYear() % 100)}` : ''
  const place = fix ? `${latitude},N,01857.3780,E` : ',,,'
  return [
    `${talker}GGA,${time},${place},${fix ? 1 : 0},${two(satellites)},1.0,100.0,M,40.0,M,,`,
    `${talker}GSA,A,${!fix ? 1 : satellites < 4 ? 2 : 3},${Array.from({ length: 12 }, (_, i) => (fix && i < satellites ? two(i + 1) : '')).join(',')},1.8,1.0,1.5`,
    `${talker}RMC,${time},${fix ? 'A' : 'V'},${place},0.0,0.0,${date},,,${fix ? 'A' : 'N'}`,
  ]
    .map((body) => `${frameSentence(body)}\r\n`)
    .join('')
}

/** Feeds bursts second by second; the monotonic clock is true time less `noon`. */
function listen(
  receiver: GpsReceiver,
  seconds: number,
  talk: (s: number) => string | undefined,
  { serialBaud = 9600, delayMs = 0, jitterMs = 0, piece = 20, fromS = 0 } = {},
): ClockReading[] {
  const random = createRandom(5)
  const readings: ClockReading[] = []
  for (let s = fromS; s < fromS + seconds; s++) {
    const text = talk(s)
    if (text === undefined) continue
    const sent = bytes(text)
    let before = 0
    for (let at = 0; at < sent.length; at += piece) {
      const part = sent.subarray(at, at + piece)
      before = Math.max(before, s * 1000 + delayMs + ((at + part.length) * 10_000) / serialBaud + jitterMs * random())
      readings.push(...receiver.push(part, before))
    }
  }
  return readings
}
const error = (reading: ClockReading) => reading.utcMs - reading.monotonicMs - noon
const serial = (over = {}) => new GpsReceiver({ source: 'gps:serial', label: 'Receiver', serialBaud: 9600, ...over })

describe('a receiver on a serial line', () => {
  it('tells time to some milliseconds through the jitter of the port', () => {
    const readings = listen(serial(), 120, (s) => burst(noon + s * 1000), { jitterMs: 60 })
    expect(readings.length).toBeGreaterThan(10)
    const last = readings.at(-1)!
    expect(Math.abs(error(last))).toBeLessThan(6)
    expect(Math.abs(error(last))).toBeLessThan(last.randomMs + last.biasMs)
    expect(last).toMatchObject({ kind: 'gps', biasMs: 100 })
    expect(last.doubt).toBeUndefined()
    // The first one, from three bursts, owns up to what it cannot know yet.
    expect(readings[0]!.randomMs).toBeGreaterThan(15)
  })

  it('takes its own delay into account when it is entered', () => {
    const late = listen(serial(), 40, (s) => burst(noon + s * 1000), { delayMs: 130 }).at(-1)!
    expect(error(late)).toBeCloseTo(-130, -1)
    const known = listen(serial({ receiverDelayMs: 130 }), 40, (s) => burst(noon + s * 1000), { delayMs: 130 }).at(-1)!
    expect(Math.abs(error(known))).toBeLessThan(5)
    expect(known.biasMs).toBe(10)
  })

  it('notices that bytes come faster than the line could carry them', () => {
    const receiver = new GpsReceiver({ source: 'gps:serial', label: 'Receiver', serialBaud: 4800 })
    const last = listen(receiver, 60, (s) => burst(noon + s * 1000), { serialBaud: 4_000_000 }).at(-1)!
    expect(Math.abs(error(last))).toBeLessThan(5)
    expect(receiver.status(60_000).remarks.join()).toMatch(/faster than the serial speed/)
  })

  it('counts a satellite once, however often and in whatever order its list comes', () => {
    const twice = (s: number) => {
      const [position, list, minimum] = burst(noon + s * 1000, { satellites: 3 }).split(/(?<=\r\n)/)
      // The list of the next second overtakes what it belongs to.
      return [position, list, minimum, list].join('')
    }
    const readings = listen(serial(), 30, twice)
    expect(readings.length).toBeGreaterThan(1)
    for (const { doubt } of readings) expect(doubt).toMatch(/only 3 satellites/)
  })

  it('tells the satellites of two systems apart that go by the same numbers', () => {
    const list = (system: string) => `${frameSentence(`GNGSA,A,3,01,02,,,,,,,,,,,1.8,1.0,1.5,${system}`)}\r\n`
    const talk = (systems: readonly string[]) => (s: number) => {
      const [position, , minimum] = burst(noon + s * 1000, { satellites: 2, talker: 'GN' }).split(/(?<=\r\n)/)
      return [position, ...systems.map(list), minimum].join('')
    }
    expect(listen(serial(), 15, talk(['1', '3'])).at(-1)!.doubt).toBeUndefined()
    expect(listen(serial(), 15, talk(['1', '1'])).at(-1)!.doubt).toMatch(/only 2 satellites/)
  })

  it('needs four satellites to be trusted, and a fix', () => {
    const three = serial()
    expect(listen(three, 15, (s) => burst(noon + s * 1000, { satellites: 3 })).at(-1)!.doubt).toMatch(/only 3 satellites/)
    expect(three.status(15_000)).toMatchObject({ trusted: false, satellitesUsed: 3, fix: true })
    const none = serial()
    expect(listen(none, 15, (s) => burst(noon + s * 1000, { fix: false, satellites: 0 })).at(-1)!.doubt).toMatch(/no fix yet/)
    const untold = serial()
    const rmc = (s: number) => burst(noon + s * 1000).split('\r\n')[2] + '\r\n'
    expect(listen(untold, 15, rmc).at(-1)!.doubt).toMatch(/does not tell how many/)
  })

  it('gives place and locator', () => {
    const receiver = serial()
    listen(receiver, 3, (s) => burst(noon + s * 1000))
    expect(receiver.status(3000)).toMatchObject({ locator: 'JN97LK44', position: { altitudeM: 100 } })
    expect(receiver.status(3000).position!.latitudeDeg).toBeCloseTo(47.4372, 6)
  })

  it('recognises the 1024-week rollover, corrects it and says so', () => {
    const receiver = serial()
    const last = listen(receiver, 20, (s) => burst(noon + s * 1000 - ROLLOVER_MS)).at(-1)!
    expect(Math.abs(error(last))).toBeLessThan(5)
    expect(receiver.status(20_000).remarks.join()).toMatch(/1 × 1024 weeks/)
  })

  it('goes through midnight and the turn of the year', () => {
    const midnight = Date.UTC(2026, 11, 31, 23, 59, 40)
    const readings = listen(serial(), 40, (s) => burst(midnight + s * 1000, { dated: s !== 20 }))
    for (const r of readings) expect(Math.abs(r.utcMs - r.monotonicMs - midnight)).toBeLessThan(5)
  })

  it('says when the leap seconds were learned, and starts anew', () => {
    const receiver = serial()
    const readings = listen(receiver, 60, (s) => burst(noon + s * 1000 + (s < 30 ? 2000 : 0)))
    expect(Math.abs(error(readings[0]!) - 2000)).toBeLessThan(10)
    expect(Math.abs(error(readings.at(-1)!))).toBeLessThan(10)
    expect(receiver.status(60_000).remarks.join()).toMatch(/jumped by -2 s.*leap seconds/)
  })

  it('does not call it leap seconds when a receiver without a fix was a second off', () => {
    const receiver = serial()
    const talk = (s: number) => (s < 20 ? burst(noon + s * 1000) : burst(noon + s * 1000 + (s < 26 ? 1000 : 0), { fix: s >= 26 }))
    listen(receiver, 60, talk)
    expect(receiver.status(60_000)).toMatchObject({ trusted: true, remarks: [] })
  })

  it('doubts a link on which two receivers talk', () => {
    const receiver = serial()
    const readings = listen(receiver, 30, (s) => burst(noon + s * 1000) + burst(noon + s * 1000 - 37_000, { latitude: '4926.2320' }), {
      serialBaud: 19_200,
    })
    expect(receiver.status(30_000).doubt).toMatch(/two receivers/)
    for (const r of readings) expect(r.doubt).toMatch(/two receivers/)
  })

  const sentences = (s: number, zdaMs: number) => {
    const at = new Date(noon + s * 1000 + zdaMs)
    const time = `${two(at.getUTCHours())}${two(at.getUTCMinutes())}${two(at.getUTCSeconds())}.00`
    return `${frameSentence(`GPZDA,${time},01,06,2026,00,00`)}\r\n`
  }
  it.each([2000, -2000, 37_000])(
    'is one receiver when its ZDA names a time %i ms from the fix’s own, and is kept to the fix’s',
    (zdaMs) => {
      const receiver = serial()
      const readings = listen(receiver, 40, (s) => burst(noon + s * 1000) + sentences(s, zdaMs))
      for (const r of readings) expect(r.doubt).toBeUndefined()
      expect(Math.abs(error(readings.at(-1)!))).toBeLessThan(5)
      const { trusted, remarks, utcMs } = receiver.status(40_000)
      expect({ trusted, utcMs }).toEqual({ trusted: true, utcMs: noon + 39_000 })
      expect(remarks).toEqual([expect.stringMatching(`GPZDA names a time ${Math.abs(zdaMs) / 1000} s (later|earlier) than RMC`)])
    },
  )
  it('is not taken in by a ZDA that runs ahead by a whole fix', () => {
    const readings = listen(serial(), 40, (s) => burst(noon + s * 1000) + sentences(s, 1000))
    for (const r of readings) expect(Math.abs(error(r))).toBeLessThan(20)
  })
  it('takes the date from a ZDA where RMC has none, but not its time', () => {
    const readings = listen(serial(), 40, (s) => burst(noon + s * 1000, { dated: false }) + sentences(s, 2000))
    expect(Math.abs(error(readings.at(-1)!))).toBeLessThan(5)
  })
  it('doubts sentences that agree among themselves but not with RMC', () => {
    const receiver = serial()
    const talk = (s: number) => {
      const [position, list] = burst(noon + s * 1000 + 3000).split(/(?<=\r\n)/)
      return `${burst(noon + s * 1000).split(/(?<=\r\n)/)[2]}${position}${list}${sentences(s, 3000)}`
    }
    expect(listen(receiver, 30, talk).at(-1)!.doubt).toMatch(/contradict one another: GPGGA and GPZDA/)
  })

  it.each([
    // fixes a second, speed, sentences of a fix
    [10, 38_400, 2],
    [8, 38_400, 2],
    [10, 115_200, 3],
    [5, 115_200, 3],
  ])('keeps bursts apart at %i Hz and %i baud, however short the pauses', (fixHz, serialBaud, count) => {
    const receiver = serial({ serialBaud })
    const readings: ClockReading[] = []
    for (let k = 0; k < 40 * fixHz; k++) {
      const utcMs = noon + (k * 1000) / fixHz
      const text = burst(Math.floor(utcMs / 1000) * 1000)
        .split(/(?<=\r\n)/)
        .filter((_, i) => count === 3 || i !== 1)
        .map((line) =>
          frameSentence(
            line.slice(1, -5).replace(
              '.00,',
              `.${String(utcMs % 1000)
                .padStart(3, '0')
                .slice(0, 2)},`,
            ),
          ),
        )
        .join('\r\n')
      const sent = bytes(`${text}\r\n`)
      for (let at = 0; at < sent.length; at += 32) {
        const end = Math.min(sent.length, at + 32)
        readings.push(...receiver.push(sent.subarray(at, end), (k * 1000) / fixHz + (end * 10_000) / serialBaud))
      }
    }
    expect(readings.length).toBeGreaterThanOrEqual(3)
    for (const r of readings) expect(Math.abs(error(r))).toBeLessThan(10)
  })

  it('reads the time though a burst fills its second nearly, and says so when it overfills it', () => {
    const filler = (count: number) => `${frameSentence('GPTXT,01,01,02,made-up words')}\r\n`.repeat(count)
    const nearly = serial()
    const readings = listen(nearly, 40, (s) => burst(noon + s * 1000) + filler(20), { jitterMs: 10 })
    expect(readings.at(-1)!.doubt).toBeUndefined()
    for (const r of readings) expect(Math.abs(error(r))).toBeLessThan(20)
    const over = serial()
    let line = 0
    const late: ClockReading[] = []
    for (let s = 0; s < 40; s++) {
      const sent = bytes(burst(noon + s * 1000) + filler(24))
      line = Math.max(line, s * 1000)
      for (let at = 0; at < sent.length; at += 20) {
        const part = sent.subarray(at, at + 20)
        late.push(...over.push(part, (line += (part.length * 10_000) / 9600)))
      }
    }
    expect(late.length).toBeGreaterThan(0)
    for (const r of late) expect(r.doubt).toMatch(/pause|higher serial speed/)
    expect(over.status(line).doubt).toMatch(/higher serial speed/)
  })

  it('is not made early by this computer standing still across the pause between bursts', () => {
    for (const [fromMs, forMs] of [
      [20_700, 450],
      [20_200, 1000],
      [19_950, 90],
      [20_100, 5000],
    ]) {
      const receiver = serial()
      const readings: ClockReading[] = []
      let waiting: number[] = []
      for (let s = 0; s < 60; s++) {
        const sent = bytes(burst(noon + s * 1000))
        for (let at = 0; at < sent.length; at += 16) {
          const part = sent.subarray(at, at + 16)
          const atMs = s * 1000 + ((at + part.length) * 10_000) / 9600
          waiting.push(...part)
          if (atMs >= fromMs! && atMs < fromMs! + forMs!) continue
          readings.push(...receiver.push(Uint8Array.from(waiting), waiting.length > 16 ? Math.max(atMs, fromMs! + forMs!) : atMs))
          waiting = []
        }
      }
      for (const r of readings) expect(Math.abs(error(r))).toBeLessThan(30)
      expect(receiver.status(60_000)).toMatchObject({ trusted: true, remarks: [] })
    }
  })

  it.each([
    [{ fix: true, satellites: 0 }, /says that it uses no satellite/],
    [{ fix: true, satellites: 1 }, /only 1 satellite is used/],
    [{ fix: false, satellites: 0 }, /no fix yet/],
  ])('says of %j what is missing', (talk, words) => {
    expect(listen(serial(), 15, (s) => burst(noon + s * 1000, talk)).at(-1)!.doubt).toMatch(words)
  })
  it('says that a receiver makes its place up, and that a date is missing', () => {
    const receiver = serial()
    const made = (s: number) => burst(noon + s * 1000).replace(/\*[0-9A-F]{2}/g, '')
    const talk = (s: number) => {
      const [position] = made(s).split('\r\n')
      return `${frameSentence(position!.slice(1).replace(',E,1,', ',E,8,'))}\r\n`
    }
    listen(receiver, 5, talk)
    expect(receiver.status(5000).doubt).toMatch(/simulation mode.*switch that off/)
    const undated = serial()
    listen(undated, 5, (s) => `${frameSentence(`GPGLL,4726.2320,N,01857.3780,E,1200${two(s)}.00,A,A`)}\r\n`)
    expect(undated.status(5000).doubt).toMatch(/time of day has come, but no date/)
  })

  it('recovers from garbage, half sentences and silence', () => {
    const receiver = serial()
    listen(receiver, 20, (s) => burst(noon + s * 1000))
    receiver.push(bytes('$GPRMC,1200'), 20_050)
    receiver.push(
      Uint8Array.from({ length: 5000 }, (_, i) => (i * 73) % 256),
      20_400,
    )
    const after = listen(receiver, 60, (s) => burst(noon + s * 1000), { fromS: 40 })
    expect(Math.abs(error(after.at(-1)!))).toBeLessThan(5)
    expect(receiver.status(100_000).rejected).toBeGreaterThan(1)
  })

  it('suspects the serial speed when bytes make no sentences', () => {
    const receiver = serial()
    const random = createRandom(2)
    for (let s = 0; s < 5; s++)
      receiver.push(
        Uint8Array.from({ length: 200 }, () => (random() < 0.05 ? 10 : 128 + 127 * random())),
        s * 1000,
      )
    expect(receiver.status(5000).remarks.join()).toMatch(/wrong serial speed/)
    expect(receiver.status(5000).latestReason).toBeTruthy()
  })

  it('never throws and stays small on ten megabytes of noise', () => {
    const receiver = serial()
    const random = createRandom(9)
    const block = Uint8Array.from({ length: 50_000 }, () => (random() < 0.02 ? 0x24 : 256 * random()))
    for (let i = 0; i < 40; i++) receiver.push(block, i * 50)
    expect(receiver.status(2000).satellites.length).toBeLessThanOrEqual(64)
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (raw) => void serial().push(raw, 0)),
      { seed: 6, numRuns: 200 },
    )
  })
})

describe('a phone over the network', () => {
  it('is less exact, and says so', () => {
    const phone = new GpsReceiver({ source: 'gps:udp', label: 'Phone' })
    const readings: ClockReading[] = []
    for (let s = 0; s < 60; s++)
      for (const line of burst(noon + s * 1000)
        .split('\r\n')
        .filter(Boolean))
        readings.push(...phone.push(bytes(`${line}\r\n`), s * 1000 + 20 + ((s * 13) % 40)))
    expect(Math.abs(error(readings.at(-1)!) + 20)).toBeLessThan(5)
    expect(readings.at(-1)!.biasMs).toBe(160)
  })
})

describe('a recording', () => {
  const record = (text: string, notAfterUtcMs = noon + 86_400_000) => {
    const reports: NmeaLineReport[] = []
    const summary = readNmeaRecording(bytes(text), { notAfterUtcMs }, (line) => reports.push(line))
    return { reports, summary }
  }
  const minute = Array.from({ length: 60 }, (_, s) => burst(noon + s * 1000)).join('')

  it('reports every line and sums up', () => {
    const { reports, summary } = record(`${minute}noise\r\n\r\n${frameSentence('GPGLL,,,,,,V').slice(0, -1)}9\r\n$GPRMC,12`)
    expect(reports.map((r) => r.line)).toEqual(Array.from({ length: 184 }, (_, i) => i + 1))
    expect(reports[0]).toMatchObject({ ok: true, type: 'GGA', utc: '2026-06-01T12:00:00.000Z', fix: true, satellites: 8 })
    expect(reports[2]).toMatchObject({ ok: true, type: 'RMC', utc: '2026-06-01T12:00:00.000Z' })
    expect(reports.slice(180).map((r) => r.ok)).toEqual([false, false, false, false])
    expect(summary).toMatchObject({
      summary: true,
      utc: '2026-06-01T12:00:59.000Z',
      locator: 'JN97LK44',
      satellitesUsed: 8,
      trusted: true,
      accepted: 180,
      rejected: 4,
      badChecksums: 1,
    })
  })

  it('with an early date is taken as sent, and said to be old or of a receiver that rolled over', () => {
    const old = record(burst(Date.UTC(1994, 2, 23, 12, 35, 19)))
    expect(old.summary).toMatchObject({ utc: '1994-03-23T12:35:19.000Z', utcIfRolledOver: '2013-11-06T12:35:19.000Z', trusted: true })
    const rolled = record(burst(noon - ROLLOVER_MS))
    expect(rolled.summary).toMatchObject({ utc: '2006-10-16T12:00:00.000Z', utcIfRolledOver: '2026-06-01T12:00:00.000Z', trusted: true })
    expect(rolled.reports[2]!.weekRollovers).toBeUndefined()
    expect(rolled.summary.remarks).toEqual([
      expect.stringMatching(/either an old recording, or.*rolled over.*2026-06-01 instead of 2006-10-16/),
    ])
    expect(record(burst(noon)).summary).toMatchObject({ utcIfRolledOver: null, remarks: [] })
  })

  it('whose sentences are of a newer kind than its date has rolled over', () => {
    const list = `${frameSentence('GNGSA,A,3,01,02,03,04,,,,,,,,,1.8,1.0,1.5,1')}\r\n`
    const { summary, reports } = record(burst(noon - ROLLOVER_MS) + list)
    expect(summary).toMatchObject({ utc: '2026-06-01T12:00:00.000Z', utcIfRolledOver: null })
    expect(summary.remarks.join()).toMatch(/1 × 1024 weeks too early/)
    expect(reports[2]!.weekRollovers).toBe(1)
  })

  it('says nothing of when things came, whatever is in it', () => {
    // Bursts longer than a slow line could carry in a second, then a gap, then a jump of the receiver.
    const long = (s: number) => `${burst(noon + s * 1000)}${`${frameSentence('GPTXT,01,01,02,made-up')}\r\n`.repeat(20)}`
    const text = Array.from({ length: 40 }, (_, s) => long(s < 20 ? s : s + 300)).join('')
    expect(record(text).summary).toMatchObject({ trusted: true, remarks: [], utc: '2026-06-01T12:05:39.000Z' })
  })

  it('without checksums is refused, or taken and never trusted', () => {
    const bare = minute.replace(/\*[0-9A-F]{2}/g, '')
    const refused = record(bare).summary
    expect(refused).toMatchObject({ utc: null, accepted: 0, trusted: false })
    expect(refused.remarks.join()).toMatch(/sends no checksums.*can be accepted/)
    const taken = readNmeaRecording(bytes(bare), { notAfterUtcMs: noon + 86_400_000, acceptUnchecked: true }, () => undefined)
    expect(taken).toMatchObject({ utc: '2026-06-01T12:00:59.000Z', accepted: 180, trusted: false })
    expect(taken.doubt).toMatch(/no checksum/)
  })

  it('names what it left out of a sentence', () => {
    const { reports, summary } = record(`${frameSentence('GPRMC,120000.00,V,8960.0000,N,36000.0000,E,,,010626,,,N')}\r\n`)
    expect(reports[0]).toMatchObject({ ok: true, utc: '2026-06-01T12:00:00.000Z', reason: expect.stringMatching(/8960\.0000/) })
    expect(summary).toMatchObject({ accepted: 1, rejected: 0, doubt: expect.stringMatching(/no fix yet/) })
  })

  it('of nothing is nothing', () => {
    expect(record('').summary).toMatchObject({ utc: null, locator: null, trusted: false, accepted: 0, rejected: 0 })
  })
})
