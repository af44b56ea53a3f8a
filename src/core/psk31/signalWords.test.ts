import { measuredReport } from './reports'
import { faultPhrase, signalWords } from './signalWords'
import { SignalHistory } from './signalHistory'
import { isSendable } from './varicode'

const plain = { snrDb: 5, steadiness: 0.9 }

describe('what is told of a signal, in words', () => {
  it.each([
    [plain, []],
    [{ ...plain, linearity: { productsDb: -17.2, atMost: false, withinDb: 0.3 } }, ['overdriven: products 17 dB below']],
    [
      { ...plain, linearity: { productsDb: -22.6, atMost: false, withinDb: 2.4 } },
      ['driven a little hard: products 23 dB below, give or take 2 dB'],
    ],
    [{ ...plain, linearity: { productsDb: -28.2, atMost: true, withinDb: 0 } }, ['clean: products more than 28 dB below']],
    [{ ...plain, linearity: { productsDb: -20.2, atMost: true, withinDb: 0 } }, ['clean as far as it can be heard, to 20 dB below']],
    [{ ...plain, fading: { depthDb: 11.7, periodS: 20.4 } }, ['comes and goes by 12 dB every 20 s: keep overs under 10 s']],
    [{ ...plain, fading: { depthDb: 6, periodS: 2 } }, ['comes and goes by 6 dB every 2 s']],
    [{ ...plain, fading: { depthDb: 3 } }, []],
    [{ ...plain, driftHzS: -0.2 }, ['drifts down 12 Hz a minute']],
    [{ ...plain, steadiness: 0.4 }, ['its phase flutters']],
    [
      { ...plain, driftHzS: 0.1, linearity: { productsDb: -30, atMost: false, withinDb: 0, hum: { db: -24, hz: 100 } } },
      ['hum: lines 100 Hz to the side, 24 dB below', 'clean: products 30 dB below', 'drifts up 6 Hz a minute'],
    ],
  ])('%j', (signal, words) => expect(signalWords(signal).map((one) => one.words)).toEqual(words))

  it('has polite words ready for the one who can do something, and none without a reason', () => {
    expect(faultPhrase({ productsDb: -14, atMost: false, withinDb: 1 })).toBe(
      '= ur imd abt minus 14 db om, pse try a little less audio drive =',
    )
    expect(faultPhrase({ productsDb: -30, atMost: false, withinDb: 1, hum: { db: -22, hz: 50 } })).toMatch(/hum 22 db down 50 hz/)
    expect(faultPhrase({ productsDb: -14, atMost: true, withinDb: 1 })).toBeUndefined()
    expect(faultPhrase(undefined)).toBeUndefined()
    expect([...faultPhrase({ productsDb: -14, atMost: false, withinDb: 1 })!].every(isSendable)).toBe(true)
  })
})

describe('a report from what was measured', () => {
  it.each([
    ['rst', { snrDb: 5, sure: 1 }, '599'],
    ['rst', { snrDb: -7, sure: 0.99 }, '569'],
    ['rst', { snrDb: -13, sure: 0.9 }, '439'],
    ['rst', { snrDb: 5, sure: 1, linearity: { productsDb: -17, atMost: false, withinDb: 0 } }, '598'],
    ['rst', { snrDb: 5, sure: 1, linearity: { productsDb: -12, atMost: false, withinDb: 0 } }, '597'],
    ['rst', { snrDb: -30, sure: 0.1 }, '119'],
    ['rsq', { snrDb: 5, sure: 1 }, '9599'],
    ['rsq', { snrDb: -7, sure: 0.9 }, '8059'],
    ['rsq', { snrDb: 5, sure: 1, linearity: { productsDb: -12, atMost: false, withinDb: 0 } }, '9593'],
    ['rsq', { snrDb: -20, sure: 0.1 }, '1019'],
  ] as const)('%s %j is %s', (school, copied, report) => expect(measuredReport(school, copied)).toBe(report))
})

describe('how a signal comes and goes', () => {
  const seen = (dbAt: (t: number) => number, hzAt: (t: number) => number = () => 1000) => {
    const history = new SignalHistory()
    for (let t = 0; t < 80; t++) history.push({ atS: t, db: dbAt(t), hz: hzAt(t) })
    return history
  }
  it('tells depth and period', () => {
    const { fading } = seen((t) => 6 * Math.sin((2 * Math.PI * t) / 20))
    expect(fading!.depthDb).toBeGreaterThan(9)
    expect(fading!.periodS).toBeGreaterThan(18)
    expect(fading!.periodS).toBeLessThan(22)
  })
  it('tells no period where it only fell, and nothing of what is too short', () => {
    expect(seen((t) => -t / 5).fading).toEqual({ depthDb: expect.closeTo(12.6, 0) })
    const short = new SignalHistory()
    short.push({ atS: 0, db: 0, hz: 1 })
    expect([short.fading, short.driftHzS]).toEqual([undefined, undefined])
  })
  it('tells the drift of the last half minute', () => {
    expect(
      seen(
        () => 0,
        (t) => 1000 + 0.25 * t,
      ).driftHzS,
    ).toBeCloseTo(0.25, 6)
  })
})
