import fc from 'fast-check'
import { absurdSntp, encodeSntpReply, encodeSntpRequest, estimateFromSntp, parseSntpReply, type SntpSample } from './sntp'
import { bestExchange, exchangeOffset } from './timedExchange'

const noon = Date.UTC(2026, 5, 1, 12)
const nonce = Uint8Array.from([1, 2, 3, 4, 5, 6, 7, 8])
const reply = (over: Parameters<typeof encodeSntpReply>[1] | object = {}) =>
  encodeSntpReply(encodeSntpRequest(nonce), { receivedUtcMs: noon + 0.25, sentUtcMs: noon + 0.75, ...over })!

describe('timed exchange', () => {
  it('follows the arithmetic of RFC 5905', () => {
    // Remote is 1000 ahead; 10 there, 30 back, 5 between.
    const e = exchangeOffset({ sentLocalMs: 0, receivedRemoteMs: 1010, repliedRemoteMs: 1015, returnedLocalMs: 45 })
    expect(e).toEqual({ offsetMs: 990, roundTripMs: 40, localMs: 22.5 })
  })
  it('is never wrong by more than half the round trip', () => {
    fc.assert(
      fc.property(fc.integer({ min: -1e6, max: 1e6 }), fc.nat(500), fc.nat(500), fc.nat(50), (offset, there, back, between) => {
        const e = exchangeOffset({
          sentLocalMs: 0,
          receivedRemoteMs: there + offset,
          repliedRemoteMs: there + between + offset,
          returnedLocalMs: there + between + back,
        })
        expect(Math.abs(e.offsetMs - offset)).toBeLessThanOrEqual(e.roundTripMs / 2 + 1e-9)
      }),
      { seed: 3 },
    )
  })
  it('takes the least delayed of several, and none that cannot be', () => {
    const at = (trip: number) => ({ sentLocalMs: 0, receivedRemoteMs: trip / 2, repliedRemoteMs: trip / 2, returnedLocalMs: trip })
    expect(bestExchange([at(50), at(8), at(20)])!.roundTripMs).toBe(8)
    expect(bestExchange([at(-30), { ...at(5), receivedRemoteMs: Number.NaN }])).toBeUndefined()
  })
})

describe('SNTP', () => {
  it('asks as RFC 4330 says: version 4, client, 48 bytes', () => {
    const request = encodeSntpRequest(nonce)
    expect(request.length).toBe(48)
    expect(request[0]).toBe(0x23)
    expect([...request.subarray(40)]).toEqual([...nonce])
    expect(() => encodeSntpRequest(new Uint8Array(4))).toThrow(RangeError)
  })

  it('reads a packet written out by hand', () => {
    const packet = new Uint8Array(48)
    const view = new DataView(packet.buffer)
    packet.set([0x24, 1, 6, 0xec])
    packet.set(nonce, 24)
    // 2026-06-01T12:00:00Z is 3989304000 s after 1900; a half second is the top bit of the fraction.
    view.setUint32(32, 3_989_304_000)
    view.setUint32(36, 0x80000000)
    view.setUint32(40, 3_989_304_001)
    expect(parseSntpReply(packet, nonce)).toEqual({
      ok: true,
      value: { receivedUtcMs: noon + 500, sentUtcMs: noon + 1000, stratum: 1, rootErrorMs: 0 },
    })
  })

  it('survives the turn of the era in 2036', () => {
    const later = Date.UTC(2040, 0, 1)
    const parsed = parseSntpReply(reply({ receivedUtcMs: later, sentUtcMs: later + 1 }), nonce)
    expect(parsed.ok && Math.round(parsed.value.receivedUtcMs)).toBe(later)
  })

  it.each([
    ['too short', reply().subarray(0, 40), /40 bytes/],
    [
      'another question',
      (() => {
        const p = reply()
        p[24] = 99
        return p
      })(),
      /another question/,
    ],
    [
      'not a server',
      (() => {
        const p = reply()
        p[0] = 0x23
        return p
      })(),
      /not that of a time server/,
    ],
    ['sent away', reply({ stratum: 0, code: 'RATE' }), /sends us away \(RATE\): it was asked too often/],
    ['not set', reply({ leap: 3 }), /its own clock is not set/],
    [
      'no time',
      (() => {
        const p = reply()
        p.fill(0, 40)
        return p
      })(),
      /carries no time/,
    ],
    ['answered before asked', reply({ sentUtcMs: noon - 5000 }), /before it was asked/],
    [
      'far from its source',
      (() => {
        const p = reply()
        p[9] = 3
        return p
      })(),
      /only sure to 3\.0 s/,
    ],
  ] as const)('refuses what is %s', (_, packet, why) => {
    const parsed = parseSntpReply(packet, nonce)
    expect(parsed.ok).toBe(false)
    expect(!parsed.ok && parsed.error).toMatch(why)
  })

  it('never throws on garbage', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 100 }), (bytes) => void parseSntpReply(bytes, nonce)),
      { seed: 5, numRuns: 500 },
    )
  })

  it('round-trips times to a microsecond', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 4e9, noNaN: true }), (ms) => {
        const parsed = parseSntpReply(reply({ receivedUtcMs: noon + ms, sentUtcMs: noon + ms }), nonce)
        expect(parsed.ok && Math.abs(parsed.value.sentUtcMs - noon - ms)).toBeLessThan(0.001)
      }),
      { seed: 9, numRuns: 100 },
    )
  })

  it('trusts the least delayed answer and says how far', () => {
    const sample = (sent: number, returned: number, offset: number): SntpSample => {
      const mid = (sent + returned) / 2 + offset
      return {
        reply: { receivedUtcMs: mid, sentUtcMs: mid, stratum: 2, rootErrorMs: 4 },
        sentMonotonicMs: sent,
        returnedMonotonicMs: returned,
      }
    }
    const estimate = estimateFromSntp([sample(0, 80, noon + 20), sample(1000, 1010, noon), sample(2000, 2300, noon - 90)])!
    expect(estimate).toEqual({ offsetMs: noon, roundTripMs: 10, uncertaintyMs: 10, monotonicMs: 1005, samples: 3, contradictionMs: 0 })
    expect(estimateFromSntp([])).toBeUndefined()
  })

  const answered = (sent: number, offMs: number, tookMs = 0, trip = 20): SntpSample => ({
    reply: {
      receivedUtcMs: noon + sent + trip / 2 + offMs,
      sentUtcMs: noon + sent + trip / 2 + offMs + tookMs,
      stratum: 2,
      rootErrorMs: 4,
    },
    sentMonotonicMs: sent,
    returnedMonotonicMs: sent + trip,
  })
  it('notices answers that contradict one another, and then holds them all', () => {
    const estimate = estimateFromSntp([answered(0, 0), answered(2000, 500), answered(4000, 0), answered(6000, 500)])!
    expect(estimate.contradictionMs).toBeCloseTo(470, 6)
    for (const truth of [noon, noon + 500]) expect(Math.abs(estimate.offsetMs - truth)).toBeLessThan(estimate.uncertaintyMs)
    // Answers that differ by less than their ways explain do not.
    expect(estimateFromSntp([answered(0, 0), answered(2000, 25)])!.contradictionMs).toBe(0)
  })
  it('leaves out answers that cannot be, and says why', () => {
    expect(absurdSntp(answered(0, 0, 5000))).toMatch(/it took 5000 ms to answer, but the answer was here 20 ms after the question/)
    expect(absurdSntp(answered(0, 0, 15))).toBeUndefined()
    expect(estimateFromSntp([answered(0, 0, 5000)])).toBeUndefined()
    expect(estimateFromSntp([answered(0, 0, 5000), answered(2000, 3)])).toMatchObject({ samples: 1, contradictionMs: 0 })
  })
  it.each(['DENY', 'RSTR', 'RATE'])('passes on the code %s of a server that sends us away', (code) => {
    expect(parseSntpReply(reply({ stratum: 0, code }), nonce)).toMatchObject({ ok: false, kiss: code })
  })
})
