'use client'
import { useMemo } from 'react'
import { useQuery } from '@tanstack/react-query'
import { CartesianGrid, Legend, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import { useStation } from '../live/StationProvider'
import { formatSigned } from '../parts/formats'
import { fetchLevelHistory } from './levelApi'

const HOUR_MS = 3_600_000
/** Longer pauses break the line. */
const GAP_MS = 60_000

/** Noise and headroom over the last two hours, or over what a practice band or recording gave. */
export function LevelChart({ nowUtcMs }: { nowUtcMs: number }) {
  const points = useStation((s) => s.levelPoints)
  const kind = useStation((s) => s.source.kind)
  const simulated = kind === 'practice' || kind === 'recording'
  const history = useQuery({
    queryKey: ['levels', 'history', Math.floor(nowUtcMs / HOUR_MS)],
    queryFn: () => fetchLevelHistory(nowUtcMs - 2 * HOUR_MS, nowUtcMs + HOUR_MS),
    staleTime: 60_000,
    enabled: !simulated,
    retry: 0,
  })
  const rows = useMemo(() => {
    const known = new Map([...(simulated ? [] : (history.data ?? [])), ...points].map((p) => [p.utcMs, p]))
    const sorted = [...known.values()].filter((p) => p.utcMs > nowUtcMs - 2 * HOUR_MS).sort((a, b) => a.utcMs - b.utcMs)
    return sorted.flatMap((p, i) => {
      const row = { utcMs: p.utcMs, noise: p.noise2500Dbfs, peak: -p.headroomDb }
      const pause = i > 0 && p.utcMs - sorted[i - 1]!.utcMs > GAP_MS
      return pause ? [{ utcMs: p.utcMs - 1, noise: null, peak: null }, row] : [row]
    })
  }, [history.data, points, simulated, nowUtcMs])
  if (rows.length < 2)
    return <p className="muted">A point is kept every ten seconds while you listen; the line begins with the second one.</p>
  const last = rows[rows.length - 1]!
  const label = `Noise and peaks over time, ${rows.length} points. Last: noise ${formatSigned(last.noise ?? 0)} dBFS, peaks ${formatSigned(last.peak ?? 0)} dBFS.`
  const at = (utcMs: number) => new Date(utcMs).toISOString().slice(11, rows[0]!.utcMs > nowUtcMs - 600_000 ? 19 : 16)
  return (
    <figure style={{ margin: 0 }} role="img" aria-label={label}>
      <div style={{ height: 240 }} aria-hidden="true">
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 900, height: 240 }}>
          <LineChart data={rows} margin={{ top: 8, right: 28, bottom: 4, left: 4 }} accessibilityLayer={false}>
            <CartesianGrid stroke="var(--line)" vertical={false} />
            <XAxis
              type="number"
              dataKey="utcMs"
              domain={['dataMin', 'dataMax']}
              tickFormatter={at}
              tickCount={5}
              tickMargin={6}
              stroke="var(--ink)"
              tick={{ fill: 'var(--muted)', fontSize: 14 }}
            />
            <YAxis
              domain={[-100, 0]}
              ticks={[-100, -80, -60, -40, -20, 0]}
              tickFormatter={(db: number) => `${formatSigned(db)} dB`}
              width={78}
              stroke="var(--ink)"
              tick={{ fill: 'var(--muted)', fontSize: 14 }}
            />
            <Line
              dataKey="noise"
              name="Noise in 2500 Hz, dBFS"
              stroke="var(--receive)"
              strokeWidth={3}
              dot={false}
              isAnimationActive={false}
            />
            <Line
              dataKey="peak"
              name="Peaks, dBFS"
              stroke="var(--ink)"
              strokeWidth={2}
              strokeDasharray="6 4"
              dot={false}
              isAnimationActive={false}
            />
            <Legend verticalAlign="top" align="right" wrapperStyle={{ fontSize: 14, color: 'var(--ink)' }} />
          </LineChart>
        </ResponsiveContainer>
      </div>
      <figcaption className="muted">
        The room between the dashed line and the top is the headroom. The room below the noise is the converter’s.
      </figcaption>
    </figure>
  )
}
