'use client'
import { useMemo } from 'react'
import { Bar, BarChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import { useFt8, useStation } from '../live/StationProvider'
import { formatSigned } from '../parts/formats'
import { spreadOf } from './chartData'

const SLOTS = 8

/** Other people's time errors over the last slots: is it me, or is it them? */
export function BandSpread() {
  const slots = useFt8((s) => s.slots)
  const band = useStation((s) => s.bandClock)
  const stations = useMemo(() => {
    const latest = new Map<string, number>()
    for (const slot of slots.slice(-SLOTS))
      for (const d of slot.decodes) if ('from' in d.message && d.message.from) latest.set(d.message.from, d.timeOffsetS)
    return [...latest].map(([call, timeOffsetS]) => ({ call, timeOffsetS }))
  }, [slots])
  const bins = useMemo(() => spreadOf(stations, new Set(band?.outliers)), [stations, band])
  if (stations.length === 0)
    return <p>After three stations have been decoded, their time errors tell how far off this clock is. Listen to a slot or two.</p>
  const middle = band && band.offsetMs / 1000
  return (
    <>
      <p aria-live="polite" style={{ marginBottom: 8 }}>
        {band ? verdict(band) : `${stations.length} of the three stations that it takes have been heard.`}
        {band?.moved?.whose === 'mine' &&
          ` Most stations moved together by ${formatSigned(band.moved.byMs / 1000, 2)} s: it was this clock that jumped.`}
        {band?.moved?.whose === 'theirs' && ` Moved by themselves since the last slots: ${band.moved.calls.join(', ')}.`}
      </p>
      <figure
        style={{ margin: 0, height: 170 }}
        role="img"
        aria-label={`Time errors of ${stations.length} stations${middle === undefined ? '' : `, their middle at ${formatSigned(middle, 2)} seconds`}`}
      >
        <div style={{ height: '100%' }} aria-hidden="true">
          <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 900, height: 170 }}>
            <BarChart data={bins} barCategoryGap={1} margin={{ top: 22, right: 16, bottom: 4, left: 4 }} accessibilityLayer={false}>
              <XAxis
                type="number"
                dataKey="seconds"
                domain={[-2.6, 2.6]}
                ticks={[-2, -1, 0, 1, 2]}
                tickFormatter={(s: number) => `${formatSigned(s)} s`}
                stroke="var(--ink)"
                tick={{ fill: 'var(--muted)', fontSize: 14 }}
              />
              <YAxis allowDecimals={false} width={34} stroke="var(--ink)" tick={{ fill: 'var(--muted)', fontSize: 14 }} />
              <Bar dataKey="near" stackId="a" fill="var(--receive)" isAnimationActive={false} barSize={14} />
              <Bar
                dataKey="far"
                stackId="a"
                fill="var(--card)"
                stroke="var(--missing)"
                strokeWidth={2}
                isAnimationActive={false}
                barSize={14}
              />
              <ReferenceLine
                x={0}
                stroke="var(--ink)"
                strokeWidth={2}
                label={{ value: 'this clock', position: 'top', fill: 'var(--ink)', fontSize: 14 }}
              />
              {middle !== undefined && Math.abs(middle) > 0.15 && (
                <ReferenceLine
                  x={middle}
                  stroke="var(--receive)"
                  strokeWidth={2}
                  strokeDasharray="4 3"
                  label={{ value: 'their middle', position: 'top', fill: 'var(--receive)', fontSize: 14 }}
                />
              )}
            </BarChart>
          </ResponsiveContainer>
        </div>
      </figure>
      <p className="muted">Stations in each tenth of a second; outlined: clocks that stand apart from the rest.</p>
    </>
  )
}

function verdict(band: {
  offsetMs: number
  uncertaintyMs: number
  stations: number
  spreadMs: number
  outliers: readonly string[]
}): string {
  const size = Math.abs(band.offsetMs) / 1000
  const me =
    Math.abs(band.offsetMs) <= band.uncertaintyMs + 50
      ? `It is not you: the middle of ${band.stations} stations is ${size.toFixed(2)} s from this clock, within what that many can tell (±${(band.uncertaintyMs / 1000).toFixed(2)} s).`
      : `It is you: the middle of ${band.stations} stations says that this clock is ${size.toFixed(2)} s ${band.offsetMs > 0 ? 'fast' : 'slow'} (±${(band.uncertaintyMs / 1000).toFixed(2)} s).`
  return `${me} They scatter by ${(band.spreadMs / 1000).toFixed(2)} s.${band.outliers.length > 0 ? ` Off by themselves: ${band.outliers.join(', ')}.` : ''}`
}
