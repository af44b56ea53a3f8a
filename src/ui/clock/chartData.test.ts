import { correctTimebase, startTimebase } from '@/core/time'
import { clockChart, spreadOf } from './chartData'

const noon = Date.UTC(2026, 5, 1, 12)
const point = (minutesAgo: number, source: string, errorMs: number) => ({
  utcMs: noon - minutesAgo * 60_000,
  source,
  errorMs,
  uncertaintyMs: 10,
})
const remembered = (minutesAgo: number, source: string, errorMs: number) => ({
  ...point(minutesAgo, source, errorMs),
  id: '00000000-0000-4000-8000-000000000000',
  kind: 'reading' as const,
  label: '',
  words: '',
})

describe('the chart of the clock', () => {
  const unknown = startTimebase(noon, 0)
  it('has no prospect while nobody knows the clock', () =>
    expect(clockChart([], [], unknown, noon)).toMatchObject({ families: [], fan: [], seconds: 0.1 }))
  it('gathers sources into families, remembered points before live ones, and drops what is too old', () => {
    const chart = clockChart(
      [point(5, 'gps:udp:10.0.0.7', 20), point(1, 'gps:serial', 10), point(1, 'band', -300)],
      [remembered(90, 'gps:serial', 1), remembered(30, 'gps:serial', 40), remembered(2, 'gps:serial', 999)],
      unknown,
      noon,
    )
    expect(chart.families.map((f) => [f.name, f.points.map((p) => p.minutes)])).toEqual([
      ['GPS', [-30, -5, -1]],
      ['The band', [-1]],
    ])
    expect(chart.seconds).toBe(0.5)
  })
  it('widens with the hours', () => {
    const known = correctTimebase(unknown, { byMs: 0, source: 'gps', uncertaintyMs: 60 }, 0)
    const { fan } = clockChart([], [], known, noon)
    expect(fan[0]!.range[1]).toBeCloseTo(0.06, 3)
    expect(fan.every((f, i) => i === 0 || f.range[1] > fan[i - 1]!.range[1])).toBe(true)
    expect(fan.at(-1)!.minutes).toBe(240)
  })
  it('keeps far points at its edge', () => expect(clockChart([point(1, 'computer', 86_400_000)], [], unknown, noon).seconds).toBe(2.5))
})

describe('the spread of other people’s clocks', () => {
  it('counts stations by tenths of a second, far ones at the edges', () => {
    const bins = spreadOf(
      [
        { call: 'Q1AB', timeOffsetS: 0.12 },
        { call: 'Q2AB', timeOffsetS: 0.08 },
        { call: 'Q3AB', timeOffsetS: -9 },
      ],
      new Set(['Q3AB']),
    )
    expect(bins.filter((b) => b.near + b.far > 0)).toEqual([
      { seconds: -2.5, near: 0, far: 1 },
      { seconds: 0.1, near: 2, far: 0 },
    ])
  })
})
