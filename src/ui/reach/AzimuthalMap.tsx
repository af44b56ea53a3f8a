'use client'
import { useMemo, useState } from 'react'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { geoAzimuthalEquidistant, geoGraticule10, geoPath } from 'd3-geo'
import { feature } from 'topojson-client'
import type { GeometryCollection, Topology } from 'topojson-specification'
import land from 'world-atlas/land-110m.json' with { type: 'json' }
import { locatorToPosition } from '@/core/place'
import { counted, formatAge, formatDistance, formatSigned, pathBetween } from '../parts/formats'
import styles from './reach.module.css'

/** A station on the map. */
export interface Mark {
  call: string
  locator: string
  lastUtcMs: number
  snrDb: number | null
  worked: boolean
}

interface AzimuthalMapProps {
  ownLocator: string
  marks: readonly Mark[]
  nowUtcMs: number
  unit: 'km' | 'mi'
}

const SIZE = 640
const RADIUS = 282
const RANGES = [{ km: 3000 }, { km: 8000 }, { km: 20_015 }] as const
const EARTH_KM = 6371.0088
const HOUR_MS = 3_600_000
const topology = land as unknown as Topology<{ land: GeometryCollection }>

/**
 * The world as it lies around the station: every place in its true direction and at its true distance. What was heard is
 * a ring, what was worked a filled square; larger for stronger, fainter for longer ago.
 */
export function AzimuthalMap({ ownLocator, marks, nowUtcMs, unit }: AzimuthalMapProps) {
  const [rangeKm, setRangeKm] = useState<number>(8000)
  const [chosen, setChosen] = useState<string>()
  const own = locatorToPosition(ownLocator)
  const { longitudeDeg, latitudeDeg } = own
  const projection = useMemo(
    () =>
      geoAzimuthalEquidistant()
        .rotate([-longitudeDeg, -latitudeDeg])
        .translate([SIZE / 2, SIZE / 2])
        .scale((RADIUS * EARTH_KM) / rangeKm)
        .clipAngle(Math.min(179.9, (rangeKm / EARTH_KM) * (180 / Math.PI) + 2)),
    [longitudeDeg, latitudeDeg, rangeKm],
  )
  const { coast, graticule } = useMemo(() => {
    const path = geoPath(projection)
    return { coast: path(feature(topology, topology.objects.land)) ?? '', graticule: path(geoGraticule10()) ?? '' }
  }, [projection])
  const rings = [0.25, 0.5, 0.75, 1].map((share) => ({ r: RADIUS * share, km: rangeKm * share }))
  const placed = marks.flatMap((mark) => {
    const path = pathBetween(ownLocator, mark.locator)
    const position = locatorToPosition(mark.locator)
    const xy = projection([position.longitudeDeg, position.latitudeDeg])
    return path && xy && path.distanceKm <= rangeKm ? [{ mark, path, x: xy[0], y: xy[1] }] : []
  })
  const beyond = marks.length - placed.length
  const selected = placed.find((p) => p.mark.call === chosen)
  const label = `Map around ${ownLocator}: ${counted(placed.length, 'station')} within ${rangeKm} km. ${placed
    .slice(0, 12)
    .map(
      (p) =>
        `${p.mark.call} ${p.mark.worked ? 'worked' : 'heard'}, ${Math.round(p.path.distanceKm)} km, ${Math.round(p.path.bearingDeg)} degrees`,
    )
    .join('; ')}`
  return (
    <div>
      <div className={styles.ranges} role="group" aria-label="How far the map reaches">
        {RANGES.map(({ km }) => (
          <button key={km} type="button" aria-pressed={rangeKm === km} onClick={() => setRangeKm(km)}>
            {km > 20_000 ? 'the whole world' : formatDistance(km, unit)}
          </button>
        ))}
        {beyond > 0 && <span className="muted">{beyond} are farther away</span>}
        {placed.length > 0 && (
          <TextField
            select
            size="small"
            label="Show one"
            value={selected?.mark.call ?? ''}
            onChange={(e) => setChosen(e.target.value)}
            sx={{ ml: 'auto', minWidth: 150 }}
          >
            {[...placed]
              .sort((a, b) => b.path.distanceKm - a.path.distanceKm)
              .map(({ mark, path }) => (
                <MenuItem key={mark.call} value={mark.call}>
                  {mark.call}, {formatDistance(path.distanceKm, unit)}
                </MenuItem>
              ))}
          </TextField>
        )}
      </div>
      <svg viewBox={`0 0 ${SIZE} ${SIZE}`} className={styles.map} role="img" aria-label={label}>
        <defs>
          <clipPath id="reach-disc">
            <circle cx={SIZE / 2} cy={SIZE / 2} r={RADIUS} />
          </clipPath>
        </defs>
        <circle cx={SIZE / 2} cy={SIZE / 2} r={RADIUS} fill="var(--card)" stroke="var(--ink)" strokeWidth="2" />
        <g clipPath="url(#reach-disc)">
          <path d={graticule} fill="none" stroke="var(--line)" strokeWidth="0.7" />
          <path d={coast} fill="var(--line)" fillOpacity="0.75" stroke="var(--muted)" strokeWidth="0.7" />
        </g>
        {rings.map(({ r, km }) => (
          <g key={r}>
            <circle cx={SIZE / 2} cy={SIZE / 2} r={r} fill="none" stroke="var(--muted)" strokeDasharray="2 5" />
            <text
              x={SIZE / 2 + r * Math.SQRT1_2}
              y={SIZE / 2 + r * Math.SQRT1_2 - 4}
              textAnchor="end"
              fontSize="13"
              fill="var(--ink)"
              stroke="var(--card)"
              strokeWidth="3"
              paintOrder="stroke"
            >
              {formatDistance(km, unit)}
            </text>
          </g>
        ))}
        {Array.from({ length: 12 }, (_, i) => i * 30).map((deg) => {
          const at = (r: number) =>
            [SIZE / 2 + r * Math.sin((deg * Math.PI) / 180), SIZE / 2 - r * Math.cos((deg * Math.PI) / 180)] as const
          const [x1, y1] = at(RADIUS)
          const [x2, y2] = at(RADIUS + 6)
          const [tx, ty] = at(RADIUS + 22)
          return (
            <g key={deg}>
              <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--ink)" strokeWidth="2" />
              <text x={tx} y={ty + 5} textAnchor="middle" fontSize="14" fontWeight={deg % 90 === 0 ? 700 : 400} fill="var(--ink)">
                {deg}°
              </text>
            </g>
          )
        })}
        {selected && <line x1={SIZE / 2} y1={SIZE / 2} x2={selected.x} y2={selected.y} stroke="var(--ink)" strokeWidth="2" />}
        {placed.map(({ mark, x, y }) => (
          <MarkShape
            key={mark.call}
            mark={mark}
            x={x}
            y={y}
            ageH={(nowUtcMs - mark.lastUtcMs) / HOUR_MS}
            chosen={mark.call === chosen}
            onChoose={() => setChosen(mark.call)}
          />
        ))}
        <path d={`M${SIZE / 2 - 8} ${SIZE / 2}h16M${SIZE / 2} ${SIZE / 2 - 8}v16`} stroke="var(--ink)" strokeWidth="3" />
      </svg>
      <p role="status" style={{ minHeight: 28, margin: '4px 0 0' }}>
        {selected ? (
          <>
            <strong className="mono">{selected.mark.call}</strong> {selected.mark.locator}: {formatDistance(selected.path.distanceKm, unit)}{' '}
            at <strong>{Math.round(selected.path.bearingDeg)}°</strong>, {selected.mark.worked ? 'worked' : 'heard'}
            {selected.mark.snrDb !== null && ` with ${formatSigned(selected.mark.snrDb)} dB`}{' '}
            {formatAge(nowUtcMs - selected.mark.lastUtcMs)}
          </>
        ) : (
          <span className="muted">Rings are heard, squares are worked. Tap one for distance and bearing.</span>
        )}
      </p>
    </div>
  )
}

interface MarkShapeProps {
  mark: Mark
  x: number
  y: number
  ageH: number
  chosen: boolean
  onChoose: () => void
}

function MarkShape({ mark, x, y, ageH, chosen, onChoose }: MarkShapeProps) {
  const size = 4 + Math.max(0, Math.min(6, ((mark.snrDb ?? -10) + 22) / 5))
  const opacity = Math.max(0.4, 1 - ageH / 6)
  return (
    <g opacity={chosen ? 1 : opacity} onClick={onChoose} style={{ cursor: 'pointer' }}>
      <circle cx={x} cy={y} r="16" fill="transparent" />
      {mark.worked ? (
        <rect x={x - size} y={y - size} width={2 * size} height={2 * size} fill="var(--ink)" stroke="var(--card)" strokeWidth="1.5" />
      ) : (
        <circle cx={x} cy={y} r={size} fill="var(--card)" fillOpacity="0.6" stroke="var(--receive)" strokeWidth="3" />
      )}
    </g>
  )
}
