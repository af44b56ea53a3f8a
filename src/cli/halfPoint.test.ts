import { halfPoint } from './halfPoint'

describe('halfPoint', () => {
  it.each([
    [[0.1, 0.3, 0.7, 1], -18.5],
    [[0.1, 0.5, 0.7, 1], -19],
    [[0.6, 0.9, 1, 1], -20],
    [[0, 0.1, 0.2, 0.4], undefined],
  ])('%j', (shares, half) => expect(halfPoint([-20, -19, -18, -17], (snr) => shares[snr + 20]!)).toEqual(half))

  it('tries no more strengths than it needs', () => {
    const tried: number[] = []
    halfPoint([-20, -19, -18], (snr) => (tried.push(snr), 0.8))
    expect(tried).toEqual([-20])
  })
})
