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
    expect(last).toMatchObject({ kind: 'gps', biasMs: 60 })
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

  it('doubts a link on which two receivers talk', () => {
    const receiver = serial()
    const readings = listen(receiver, 30, (s) => burst(noon + s * 1000) + burst(noon + s * 1000 - 37_000, { latitude: '4926.2320' }), {
      serialBaud: 19_200,
    })
    expect(receiver.status(30_000).doubt).toMatch(/two receivers/)
    for (const r of readings) expect(r.doubt).toMatch(/two receivers/)
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
    expect(readings.at(-1)!.biasMs).toBe(120)
  })
})

describe('a recording', () => {
  const record = (text: string, notAfterUtcMs = noon + 86_400_000) => {
    const reports: NmeaLineReport[] = []
    const summary = readNmeaRecording(bytes(text), { notAfterUtcMs, serialBaud: 4800 }, (line) => reports.push(line))
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

  it('of before this century is taken as it is; a rollover is corrected and said', () => {
    const old = record(burst(Date.UTC(1994, 2, 23, 12, 35, 19)))
    expect(old.summary).toMatchObject({ utc: '1994-03-23T12:35:19.000Z', trusted: true })
    const rolled = record(burst(noon - ROLLOVER_MS))
    expect(rolled.summary).toMatchObject({ utc: '2026-06-01T12:00:00.000Z', trusted: true })
    expect(rolled.reports[2]!.weekRollovers).toBe(1)
    expect(rolled.summary.remarks.join()).toMatch(/1024 weeks/)
  })

  it('of nothing is nothing', () => {
    expect(record('').summary).toMatchObject({ utc: null, locator: null, trusted: false, accepted: 0, rejected: 0 })
  })
})
