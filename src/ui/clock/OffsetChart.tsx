'use client'
import { useMemo } from 'react'
import { useQuery } from '@tanstack/react-query'
import { Area, CartesianGrid, ComposedChart, Legend, ReferenceLine, ResponsiveContainer, Scatter, XAxis, YAxis } from 'recharts'
import { useStation } from '../live/StationProvider'
import { formatSigned } from '../parts/formats'
import { clockChart } from './chartData'
import { fetchClockHistory } from './clockApi'

const COLOURS = ['var(--receive)', 'var(--ink)', 'var(--attention)', 'var(--missing)', 'var(--muted)']
const HOUR_MS = 3_600_000

/** What the sources said over the last hour, and how far the clock may be off over the next four. */
export function OffsetChart({ nowUtcMs }: { nowUtcMs: number }) {
  const points = useStation((s) => s.clockPoints)
  const timebase = useStation((s) => s.timebase)
  const simulated = useStation((s) => s.clockSimulated)
  // Half-minute steps keep the chart from being drawn anew with every tick.
  const stepMs = Math.floor(nowUtcMs / 30_000) * 30_000
  const history = useQuery({
    queryKey: ['clock', 'history', Math.floor(nowUtcMs / HOUR_MS)],
    queryFn: () => fetchClockHistory(nowUtcMs - 2 * HOUR_MS, nowUtcMs + HOUR_MS),
    staleTime: Infinity,
    enabled: !simulated,
    retry: 0,
  })
  const chart = useMemo(
    () => timebase && clockChart(points, simulated ? [] : (history.data ?? []), timebase, stepMs),
    [points, simulated, history.data, timebase, stepMs],
  )
  if (!chart) return null
  const at = (minutes: number) => new Date(stepMs + minutes * 60_000).toISOString().slice(11, 16)
  const ticks = [-60, 0, 60, 120, 180, 240]
  const label = `Offset over time in seconds: ${chart.families.map((f) => `${f.name}, ${f.points.length} readings`).join('; ') || 'no readings yet'}. ${
    chart.fan.length > 0
      ? `In four hours the clock is good to ${chart.fan[chart.fan.length - 1]!.range[1].toFixed(2)} seconds.`
      : 'How good the clock will be is not known.'
  }`
  return (
    <figure style={{ margin: 0 }} role="img" aria-label={label}>
      <div style={{ height: 264 }} aria-hidden="true">
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 900, height: 264 }}>
          <ComposedChart margin={{ top: 8, right: 16, bottom: 4, left: 4 }} accessibilityLayer={false}>
            <CartesianGrid stroke="var(--line)" vertical={false} />
            <XAxis
              type="number"
              dataKey="minutes"
              domain={[chart.fromMinutes, chart.toMinutes]}
              ticks={ticks}
              tickFormatter={at}
              tickMargin={6}
              allowDataOverflow
              stroke="var(--ink)"
              tick={{ fill: 'var(--muted)', fontSize: 14 }}
            />
            <YAxis
              type="number"
              dataKey="seconds"
              domain={[-chart.seconds, chart.seconds]}
              ticks={[-chart.seconds, -chart.seconds / 2, 0, chart.seconds / 2, chart.seconds]}
              tickFormatter={(s: number) => `${formatSigned(s, chart.seconds < 0.5 ? 3 : 2)} s`}
              allowDataOverflow
              width={78}
              stroke="var(--ink)"
              tick={{ fill: 'var(--muted)', fontSize: 14 }}
            />
            <Area
              data={chart.fan}
              dataKey="range"
              name="May be off by"
              fill="var(--receive)"
              fillOpacity={0.18}
              stroke="var(--receive)"
              strokeDasharray="5 4"
              isAnimationActive={false}
              legendType="rect"
            />
            <ReferenceLine y={0} stroke="var(--ink)" />
            <ReferenceLine
              x={0}
              stroke="var(--ink)"
              strokeDasharray="2 3"
              label={{ value: 'now', position: 'insideTopRight', fill: 'var(--ink)', fontSize: 14 }}
            />
            {chart.families.map((family, i) => (
              <Scatter
                key={family.name}
                name={family.name}
                data={family.points}
                shape={family.shape}
                legendType={family.shape}
                fill={COLOURS[i % COLOURS.length]!}
                isAnimationActive={false}
              />
            ))}
            <Legend verticalAlign="top" align="right" wrapperStyle={{ fontSize: 14, color: 'var(--ink)' }} />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <figcaption className="muted">
        Points: by how much a source called Zeptik’s clock fast (up) or slow (down) at the time. The widening band: how far it may be off
        from now on if nothing more is heard.
      </figcaption>
    </figure>
  )
}
