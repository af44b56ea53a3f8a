'use client'
import { useEffect, useRef } from 'react'
import { PICTURE_BIN_HZ } from '@/engine/station/bandPicture'
import { useLive } from '../../live/StationProvider'
import { hzAt, RAIL_HZ, ROW_PX, shareOf, type RailMark } from './layout'
import styles from './Ribbons.module.css'

const WIDTH_PX = 96
const SCALE_PX = 40
const BARS_PX = 30
const RANGE_DB = 30
/** How quickly the picture of the band follows what is heard. */
const FOLLOW = 0.12
const DRAW_EVERY_MS = 250

const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim() || '#888'

interface RailProps {
  marks: readonly RailMark[]
  focusHz: number | undefined
  onChoose: ((frequencyHz: number) => void) | undefined
}

/** The passband from top to bottom: how loud each place is, and which ribbon belongs to it. */
export function SpectrumRail({ marks, focusHz, onChoose }: RailProps) {
  const { station } = useLive()
  const canvas = useRef<HTMLCanvasElement>(null)
  const levels = useRef<Float32Array | undefined>(undefined)
  const shown = useRef({ marks, focusHz })
  useEffect(() => {
    shown.current = { marks, focusHz }
  }, [marks, focusHz])
  useEffect(
    () =>
      station?.picture(({ levels: row }) => {
        const mean = (levels.current ??= Float32Array.from(row))
        for (let i = 0; i < mean.length; i++) mean[i]! += FOLLOW * (row[i]! - mean[i]!)
      }),
    [station],
  )
  useEffect(() => {
    const timer = setInterval(() => {
      if (canvas.current) draw(canvas.current, levels.current, shown.current)
    }, DRAW_EVERY_MS)
    return () => clearInterval(timer)
  }, [])
  const choose = (clientY: number) => {
    const box = canvas.current!.getBoundingClientRect()
    onChoose?.(hzAt((clientY - box.top) / box.height))
  }
  return (
    <canvas
      ref={canvas}
      className={styles.rail}
      style={{ width: WIDTH_PX }}
      role="img"
      aria-label={`Passband from ${RAIL_HZ[0]} to ${RAIL_HZ[1]} Hz with ${marks.length} conversations`}
      onClick={(e) => onChoose && choose(e.clientY)}
    />
  )
}

function draw(
  element: HTMLCanvasElement,
  levels: Float32Array | undefined,
  { marks, focusHz }: Pick<RailProps, 'marks' | 'focusHz'>,
): void {
  const { clientWidth: width, clientHeight: height } = element
  const scale = window.devicePixelRatio || 1
  if (element.width !== Math.round(width * scale) || element.height !== Math.round(height * scale)) {
    element.width = Math.round(width * scale)
    element.height = Math.round(height * scale)
  }
  const paint = element.getContext('2d')
  if (!paint) return
  paint.setTransform(scale, 0, 0, scale, 0, 0)
  paint.clearRect(0, 0, width, height)
  paint.font = '13px "Atkinson Hyperlegible Next", sans-serif'
  paint.textAlign = 'right'
  paint.textBaseline = 'middle'
  for (let hz = 500; hz <= 2500; hz += 500) {
    paint.fillStyle = colour('--muted')
    paint.fillText(String(hz), SCALE_PX - 6, shareOf(hz) * height)
    paint.fillStyle = colour('--line')
    paint.fillRect(SCALE_PX, shareOf(hz) * height, BARS_PX, 1)
  }
  if (levels) drawLevels(paint, levels, height)
  // Each ribbon is joined to its place.
  paint.lineWidth = 1.5
  const scrolled = element.parentElement?.scrollTop ?? 0
  for (const { share, row, frequencyHz } of marks) {
    const y = row * ROW_PX + ROW_PX / 2 - scrolled
    if (y < 0 || y > height) continue
    const own = focusHz !== undefined && Math.abs(frequencyHz - focusHz) < 20
    paint.strokeStyle = colour(own ? '--transmit' : '--ink')
    paint.lineWidth = own ? 3 : 1.2
    paint.beginPath()
    paint.moveTo(SCALE_PX + BARS_PX, share * height)
    paint.lineTo(width, y)
    paint.stroke()
  }
  if (focusHz === undefined) return
  paint.fillStyle = colour('--transmit')
  paint.fillRect(SCALE_PX - 4, shareOf(focusHz) * height - 2, BARS_PX + 8, 4)
}

function drawLevels(paint: CanvasRenderingContext2D, levels: Float32Array, height: number): void {
  const first = Math.round(RAIL_HZ[0] / PICTURE_BIN_HZ)
  const last = Math.min(levels.length - 1, Math.round(RAIL_HZ[1] / PICTURE_BIN_HZ))
  const floor = levels.slice(first, last).sort()[Math.floor((last - first) * 0.3)]!
  paint.fillStyle = colour('--receive')
  for (let y = 0; y < height; y++) {
    const from = first + Math.floor((y / height) * (last - first))
    const to = Math.max(from + 1, first + Math.floor(((y + 1) / height) * (last - first)))
    let loudest = -Infinity
    for (let bin = from; bin < to; bin++) loudest = Math.max(loudest, levels[bin]!)
    const strength = Math.max(0, Math.min(1, (loudest - floor - 3) / RANGE_DB))
    if (strength > 0) paint.fillRect(SCALE_PX, y, strength * BARS_PX, 1)
  }
}
