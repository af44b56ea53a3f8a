'use client'
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, XAxis, YAxis } from 'recharts'

/** Contacts in each hour as columns. */
export function HourChart({ perHour }: { perHour: readonly { utcMs: number; count: number }[] }) {
  if (perHour.length === 0) return <p className="muted">No contacts in this session yet. A column stands here from the first one on.</p>
  const rows = perHour.map(({ utcMs, count }) => ({ hour: new Date(utcMs).toISOString().slice(11, 16), count }))
  const label = rows.map(({ hour, count }) => `${hour}: ${count}`).join(', ')
  return (
    <figure style={{ margin: 0 }} role="img" aria-label={`Contacts an hour, UTC. ${label}`}>
      <div style={{ height: 170 }} aria-hidden="true">
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 400, height: 170 }}>
          <BarChart data={rows} margin={{ top: 8, right: 8, bottom: 4, left: 0 }} accessibilityLayer={false}>
            <CartesianGrid stroke="var(--line)" vertical={false} />
            <XAxis dataKey="hour" stroke="var(--ink)" tick={{ fill: 'var(--muted)', fontSize: 14 }} tickMargin={6} />
            <YAxis allowDecimals={false} width={36} stroke="var(--ink)" tick={{ fill: 'var(--muted)', fontSize: 14 }} />
            <Bar dataKey="count" fill="var(--ink)" isAnimationActive={false} maxBarSize={44} />
          </BarChart>
        </ResponsiveContainer>
      </div>
    </figure>
  )
}
