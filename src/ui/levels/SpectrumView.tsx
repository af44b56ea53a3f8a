'use client'
import { useMemo } from 'react'
import type { HeardAudio } from '@/engine/station/state'
import { formatSigned } from '../parts/formats'
import styles from './LevelsScreen.module.css'

const HIGHEST_HZ = 4000
const WIDTH = 1000
const HEIGHT = 260
const ROOM_DB = 80

/** The spectrum of the last two seconds over the noise floor, with what was found at its frequency. */
export function SpectrumView({ audio }: { audio: HeardAudio | undefined }) {
  const drawn = useMemo(() => audio && draw(audio), [audio])
  if (!audio || !drawn) return <p className="muted">The spectrum shows here as soon as sound arrives.</p>
  const x = (hz: number) => (WIDTH * Math.min(hz, HIGHEST_HZ)) / HIGHEST_HZ
  const band = audio.passbandHz
  const label = `Spectrum from 0 to ${HIGHEST_HZ} Hz. ${band ? `Passband ${Math.round(band[0])} to ${Math.round(band[1])} Hz. ` : ''}Noise floor ${formatSigned(audio.noiseFloorDbfsPerHz)} dBFS per Hz. ${audio.humHz ? `Hum of ${audio.humHz} Hz.` : 'No hum.'}`
  return (
    <figure className={styles.figure} role="img" aria-label={label}>
      <div className={styles.plot} aria-hidden="true">
        <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none">
          {band && (
            <>
              <rect x="0" y="0" width={x(band[0])} height={HEIGHT} fill="var(--line)" opacity="0.45" />
              <rect x={x(band[1])} y="0" width={WIDTH - x(band[1])} height={HEIGHT} fill="var(--line)" opacity="0.45" />
            </>
          )}
          {audio.humLines.map((hz) => (
            <line key={hz} x1={x(hz)} x2={x(hz)} y1="0" y2={HEIGHT} stroke="var(--missing)" strokeWidth="2" strokeDasharray="3 4" />
          ))}
          <path d={drawn.spectrum} fill="none" stroke="var(--receive)" strokeWidth="2" vectorEffect="non-scaling-stroke" />
          <path d={drawn.floor} fill="none" stroke="var(--ink)" strokeWidth="2" strokeDasharray="8 5" vectorEffect="non-scaling-stroke" />
        </svg>
        {[0, 1000, 2000, 3000].map((hz) => (
          <span key={hz} className={styles.tick} style={{ left: `${(100 * hz) / HIGHEST_HZ}%` }}>
            {hz} Hz
          </span>
        ))}
        <span className={styles.top}>{formatSigned(drawn.topDb)} dBFS per Hz</span>
        <span className={styles.bottom}>{formatSigned(drawn.topDb - ROOM_DB)}</span>
        {band && (
          <>
            {band
              .filter((hz) => hz > 80 && hz < HIGHEST_HZ - 80)
              .map((hz) => (
                <span key={hz} className={styles.edge} style={{ left: `${x(hz) / 10}%` }}>
                  {Math.round(hz)}
                </span>
              ))}
          </>
        )}
        {audio.findings
          .filter((f) => f.atHz)
          .map((f, i) => (
            <span key={f.code} className={styles.tag} style={{ left: `${Math.min(72, x(f.atHz![0]) / 10 + 1)}%`, top: 34 + 30 * i }}>
              {f.name}
            </span>
          ))}
      </div>
      <figcaption className="muted">
        Line: the last two seconds. Dashes: the noise between the signals. Shaded: outside the passband.
        {audio.humLines.length > 0 && ' Dotted upright lines: hum.'}
      </figcaption>
    </figure>
  )
}

function draw(audio: HeardAudio): { spectrum: string; floor: string; topDb: number } {
  const bins = Math.floor(HIGHEST_HZ / audio.binHz)
  let most = -Infinity
  for (let bin = 2; bin < bins; bin++) most = Math.max(most, audio.spectrumDb[bin] ?? -Infinity)
  const topDb = Math.ceil((Number.isFinite(most) ? most : 0) / 10) * 10
  const path = (values: ArrayLike<number>, step: number) => {
    const points: string[] = []
    for (let bin = 1; bin < bins; bin += step) {
      const y = Math.max(0, Math.min(HEIGHT, ((topDb - (values[bin] ?? -300)) / ROOM_DB) * HEIGHT))
      points.push(`${((WIDTH * bin) / bins).toFixed(1)} ${y.toFixed(1)}`)
    }
    return `M${points.join('L')}`
  }
  return { spectrum: path(audio.spectrumDb, 1), floor: path(audio.floorDb, 4), topDb }
}
