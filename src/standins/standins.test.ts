import { GpsReceiver, parseSentence } from '@/core/nmea'
import { locatorToPosition } from '@/core/place'
import { encodeSntpRequest, parseSntpReply, type ClockReading } from '@/core/time'
import { createGpsStandin, type GpsFault } from './gpsStandin'
import { createTimeServerStandin, type TimeFault } from './timeServerStandin'

const noon = Date.UTC(2026, 5, 1, 12)

/** Listens to the stand-in for a while with the core's own receiver. */
function hear(faults: GpsFault[], seconds = 40, serialBaud: number | undefined = 4800) {
  const standin = createGpsStandin({ seed: 3, position: locatorToPosition('JN97LK44'), serialBaud })
  const receiver = new GpsReceiver({ source: 'gps', label: 'Stand-in', serialBaud })
  const readings: ClockReading[] = []
  let text = ''
  for (let s = 0; s < seconds; s++)
    for (const { atMs, bytes } of standin.burst(noon + 1000 * s, new Set(faults))) {
      text += String.fromCharCode(...bytes)
      readings.push(...receiver.push(bytes, 1000 * s + atMs))
    }
  const status = receiver.status(seconds * 1000)
  return {
    readings,
    status,
    text,
    errorMs: readings.length > 0 ? readings.at(-1)!.utcMs - readings.at(-1)!.monotonicMs - noon : Number.NaN,
  }
}

describe('the stand-in receiver', () => {
  it.each([4800, 9600, 115_200, undefined])('at %s baud is understood in every sentence and fits into its second', (baud) => {
    const { status, text, errorMs } = hear([], 40, baud)
    const lines = text.split('\r\n').filter(Boolean)
    expect(lines.length).toBeGreaterThan(200)
    expect(lines.every((line) => parseSentence(line).ok)).toBe(true)
    expect(status).toMatchObject({ trusted: true, satellitesUsed: 9, rejected: 0, locator: 'JN97LK44' })
    expect(status.satellites).toHaveLength(10)
    expect(Math.abs(errorMs)).toBeLessThan(8)
  })
  it.each<[GpsFault, (h: ReturnType<typeof hear>) => void]>([
    ['noFix', (h) => expect(h.status.doubt).toMatch(/no fix/)],
    ['threeSatellites', (h) => expect(h.status.doubt).toMatch(/only 3 satellites/)],
    ['wrongSpeed', (h) => expect([h.status.accepted, h.readings.length]).toEqual([0, 0])],
    ['jitter', (h) => expect(Math.abs(h.errorMs)).toBeLessThan(20)],
    ['badChecksums', (h) => expect(h.status.badChecksums / (h.status.accepted + h.status.rejected)).toBeCloseTo(0.2, 1)],
    ['weekRollover', (h) => expect([h.status.remarks.join().includes('1024'), Math.abs(h.errorMs) < 8]).toEqual([true, true])],
    ['leapSeconds', (h) => expect(h.errorMs).toBeCloseTo(2000, -2)],
    ['noise', (h) => expect([h.status.trusted, h.status.rejected > 50]).toEqual([true, true])],
    ['twoReceivers', (h) => expect(h.status.doubt).toMatch(/two receivers/)],
    ['silence', (h) => expect(h.text).toBe('')],
  ])('with the fault %s is seen as such', (fault, check) => check(hear([fault])))
  it('says the same for the same seed', () => expect(hear(['jitter', 'noise'], 5).text).toBe(hear(['jitter', 'noise'], 5).text))
})

describe('the stand-in time server', () => {
  const nonce = Uint8Array.from([9, 8, 7, 6, 5, 4, 3, 2])
  const ask = (...faults: TimeFault[]) => {
    const answer = createTimeServerStandin().answer(encodeSntpRequest(nonce), noon, new Set(faults))
    return answer && parseSntpReply(answer, nonce)
  }
  it('answers a client', () => expect(ask()).toMatchObject({ ok: true, value: { stratum: 2, receivedUtcMs: noon } }))
  it('can lie, fall silent and turn away', () => {
    expect(ask('liesByADay')).toMatchObject({ value: { receivedUtcMs: noon + 86_400_000 } })
    expect(ask('silent')).toBeUndefined()
    expect(ask('turnsAway')).toMatchObject({ ok: false, error: expect.stringMatching(/RATE/) })
    expect(ask('notSet')).toMatchObject({ ok: false, error: expect.stringMatching(/not set/) })
    expect(ask('garbage')).toMatchObject({ ok: false })
  })
  it('does not answer what is no question', () =>
    expect(createTimeServerStandin().answer(new Uint8Array(48), noon, new Set())).toBeUndefined())
})
