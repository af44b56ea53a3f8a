'use client'
import { useEffect, useRef, useState } from 'react'
import { OCCUPIED_HZ, SLOT_MS, type Lane } from '@/core/ft8'
import { parityOf, type Parity } from '@/core/time'
import { PICTURE_BIN_HZ, type PictureRow } from '@/engine/station/bandPicture'
import { useLive } from '../../live/StationProvider'
import { formatUtc } from '../../parts/formats'
import styles from './SlotsScreen.module.css'

const LOWEST_HZ = 200
const HIGHEST_HZ = 3000
/** Four slots lie side by side; the newest sweeps over the oldest. */
const SPAN_MS = 4 * SLOT_MS
const COLUMNS = Math.round(SPAN_MS / 160)
const FIRST_BIN = Math.round(LOWEST_HZ / PICTURE_BIN_HZ)
const BINS = Math.round((HIGHEST_HZ - LOWEST_HZ) / PICTURE_BIN_HZ)
/** Noise alone seldom stands this far over its floor; what does is drawn. */
const CLEAR_DB = 9
const RANGE_DB = 20
const LABELS_PX = 44
const FOOT_PX = 22
const TAB_PX = 14

interface BandCanvasProps {
  ownHz: number
  lanes: readonly Lane[]
  txParity: Parity
  onChoose: ((hz: number) => void) | undefined
  listening: boolean
}

function readColour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim() || '#888'
}

function parseColour(hex: string): [number, number, number] {
  return [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16)) as [number, number, number]
}

/**
 * The band as four slots side by side: time to the right, audio frequency upwards, ink where there is sound.
 * A lane runs through it as a line of its own frequency, so that free ones are seen at once.
 */
export function BandCanvas({ ownHz, lanes, txParity, onChoose, listening }: BandCanvasProps) {
  const { station } = useLive()
  const canvas = useRef<HTMLCanvasElement>(null)
  const picture = useRef<HTMLCanvasElement | undefined>(undefined)
  const floor = useRef<Float32Array | undefined>(undefined)
  const newest = useRef<number | undefined>(undefined)
  const overlay = useRef({ ownHz, lanes, txParity })
  /** Draws before the next frame; nothing is drawn while nothing changes, which spares a tablet's battery. */
  const redraw = useRef<() => void>(undefined)
  const [hover, setHover] = useState<number>()
  useEffect(() => {
    overlay.current = { ownHz, lanes, txParity }
    redraw.current?.()
  }, [ownHz, lanes, txParity])

  useEffect(() => {
    if (!station) return
    const sheet = document.createElement('canvas')
    sheet.width = COLUMNS
    sheet.height = BINS
    picture.current = sheet
    floor.current = undefined
    newest.current = undefined
    const paint = sheet.getContext('2d')!
    const column = paint.createImageData(1, BINS)
    return station.picture((row: PictureRow) => {
      const [r, g, b] = parseColour(readColour('--receive'))
      const levels = row.levels.subarray(FIRST_BIN, FIRST_BIN + BINS)
      // The floor of each bin follows quiet moments quickly and loud ones hardly at all.
      const base = (floor.current ??= Float32Array.from(levels))
      for (let i = 0; i < BINS; i++) {
        const level = levels[i]!
        base[i] = base[i]! + (level < base[i]! ? 0.15 : 0.008) * (level - base[i]!)
        const strength = Math.max(0, Math.min(1, (level - base[i]! - CLEAR_DB) / RANGE_DB))
        const at = 4 * (BINS - 1 - i)
        column.data[at] = r
        column.data[at + 1] = g
        column.data[at + 2] = b
        column.data[at + 3] = 255 * strength
      }
      const x = Math.floor(((row.utcMs % SPAN_MS) / SPAN_MS) * COLUMNS)
      paint.putImageData(column, x, 0)
      paint.clearRect((x + 1) % COLUMNS, 0, 5, BINS)
      newest.current = row.utcMs
      redraw.current?.()
    })
  }, [station])

  useEffect(() => {
    const element = canvas.current
    if (!element) return
    let frame = 0
    const draw = () => {
      frame = 0
      const { clientWidth: width, clientHeight: height } = element
      const scale = window.devicePixelRatio || 1
      if (element.width !== Math.round(width * scale) || element.height !== Math.round(height * scale)) {
        element.width = Math.round(width * scale)
        element.height = Math.round(height * scale)
      }
      const paint = element.getContext('2d')!
      paint.setTransform(scale, 0, 0, scale, 0, 0)
      paint.clearRect(0, 0, width, height)
      drawBand(paint, width, height, picture.current, newest.current, overlay.current)
    }
    const ask = () => {
      if (frame === 0) frame = requestAnimationFrame(draw)
    }
    redraw.current = ask
    ask()
    const size = new ResizeObserver(ask)
    size.observe(element)
    const theme = new MutationObserver(ask)
    theme.observe(document.documentElement, { attributeFilter: ['data-theme'] })
    // Letters drawn before their font has come are drawn again with it.
    void document.fonts.ready.then(ask)
    return () => {
      redraw.current = undefined
      cancelAnimationFrame(frame)
      size.disconnect()
      theme.disconnect()
    }
  }, [])

  const hzAt = (clientY: number) => {
    const box = canvas.current!.getBoundingClientRect()
    const share = 1 - (clientY - box.top) / (box.height - FOOT_PX)
    const hz = LOWEST_HZ + share * (HIGHEST_HZ - LOWEST_HZ) - OCCUPIED_HZ / 2
    return Math.max(LOWEST_HZ, Math.min(HIGHEST_HZ - OCCUPIED_HZ, Math.round(hz / 5) * 5))
  }
  return (
    <div
      className={styles.picture}
      onPointerMove={(e) => onChoose && setHover(hzAt(e.clientY))}
      onPointerLeave={() => setHover(undefined)}
      onClick={(e) => onChoose?.(hzAt(e.clientY))}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Band picture of the last four slots, 200 to 3000 Hz. Your transmit offset is ${ownHz} Hz.`}
      />
      {!listening && <p style={{ position: 'absolute', left: 60, top: 14 }}>The band is drawn here while listening.</p>}
      {hover !== undefined && (
        <span
          className="muted"
          style={{ position: 'absolute', right: 8, top: 4, fontSize: 14, background: 'var(--card)', padding: '0 4px' }}
          aria-hidden="true"
        >
          tap: offset {hover} Hz
        </span>
      )}
    </div>
  )
}

function drawBand(
  paint: CanvasRenderingContext2D,
  width: number,
  height: number,
  sheet: HTMLCanvasElement | undefined,
  newestUtcMs: number | undefined,
  { ownHz, lanes, txParity }: { ownHz: number; lanes: readonly Lane[]; txParity: Parity },
): void {
  const left = LABELS_PX
  const bottom = height - FOOT_PX
  const w = width - left
  const y = (hz: number) => bottom - ((hz - LOWEST_HZ) / (HIGHEST_HZ - LOWEST_HZ)) * bottom
  const x = (utcMs: number) => left + ((utcMs % SPAN_MS) / SPAN_MS) * w
  const ink = readColour('--ink')
  const line = readColour('--line')
  const muted = readColour('--muted')
  const transmit = readColour('--transmit')
  if (sheet) {
    paint.imageSmoothingEnabled = true
    paint.drawImage(sheet, left, 0, w, bottom)
  }
  paint.font = '14px "Atkinson Hyperlegible Next", sans-serif'
  paint.textBaseline = 'middle'
  paint.textAlign = 'right'
  for (let hz = 500; hz <= 2500; hz += 500) {
    paint.fillStyle = muted
    paint.fillText(String(hz), left - 6, y(hz))
    paint.fillStyle = line
    paint.fillRect(left, y(hz), w, 1)
  }
  paint.fillStyle = muted
  paint.fillText('Hz', left - 6, 10)
  paint.textAlign = 'left'
  const slotNow = Math.floor((newestUtcMs ?? 0) / SLOT_MS)
  for (let i = 0; i < 4; i++) {
    const start = left + (i / 4) * w
    paint.fillStyle = ink
    paint.fillRect(start, 0, 1, height)
    if (newestUtcMs === undefined) continue
    const age = ((slotNow % 4) - i + 4) % 4
    const slot = slotNow - age
    paint.fillStyle = age === 0 ? ink : muted
    const own = parityOf(slot) === txParity
    paint.fillText(
      `${formatUtc(slot * SLOT_MS).slice(3)} ${parityOf(slot)}${own && w > 600 ? ', yours' : ''}`,
      start + 5,
      height - FOOT_PX / 2,
    )
  }
  // The own lane runs through the slots of the own parity.
  paint.strokeStyle = transmit
  paint.lineWidth = 2
  for (let i = 0; i < 4; i++) {
    if (parityOf(i) !== txParity) continue
    paint.setLineDash([7, 4])
    paint.strokeRect(left + (i / 4) * w + 3, y(ownHz + OCCUPIED_HZ), w / 4 - 6, y(ownHz) - y(ownHz + OCCUPIED_HZ))
    paint.setLineDash([])
  }
  // Free lanes: a tab with its rank at the left edge, the best one longest.
  paint.font = '700 12px "Atkinson Hyperlegible Next", sans-serif'
  const tall = bottom >= 240
  lanes.forEach((lane, i) => {
    // Where lanes lie close together on a low picture, a bar without its number stands for each.
    const tab = tall ? TAB_PX : 5
    const top = y(lane.audioOffsetHz + OCCUPIED_HZ / 2) - tab / 2
    paint.fillStyle = ink
    paint.fillRect(left, top, 24 - 4 * i, tab)
    if (!tall) return
    paint.fillStyle = readColour('--card')
    paint.fillText(String(i + 1), left + 4, top + TAB_PX / 2 + 1)
  })
  if (newestUtcMs !== undefined) {
    paint.fillStyle = ink
    paint.fillRect(x(newestUtcMs), 0, 2, bottom)
  }
}
