import Button from '@mui/material/Button'
import { signalWords, type Losable } from '@/core/psk31'
import type { FocusView } from '@/engine/modes/psk31/state'
import { pathBetween } from '../../parts/formats'
import { BearingCard } from './BearingCard'
import styles from './Ribbons.module.css'

const LOST: Readonly<Record<Losable, string>> = {
  call: 'your call',
  report: 'the report',
  name: 'your name',
  place: 'your place',
  locator: 'your locator',
}
const KINDS = { who: 'They ask who called.', wrongCall: 'They have your call wrong.', again: 'They ask for something again.' } as const

interface TroubleProps {
  focus: FocusView
  ownLocator: string
  theirLocator: string | undefined
  unit: 'km' | 'mi'
  disabled: boolean
  onSay: (words: string) => void
  onMove: (sendHz: number) => void
}

/** They do not copy us: what was lost, the words that say it again, and what else may help. */
export function TroubleCard({ focus, ownLocator, theirLocator, unit, disabled, onSay, onMove }: TroubleProps) {
  const { trouble, signal, clearHz, frequencyHz, sendHz } = focus
  if (!trouble) return null
  const path = pathBetween(ownLocator, theirLocator)
  const fades = signal ? signalWords(signal).filter(({ words }) => words.startsWith('comes and goes')) : []
  const moved = clearHz === undefined ? 0 : clearHz - (sendHz ?? frequencyHz)
  return (
    <section className={styles.trouble} aria-label="They do not copy you">
      <div className={styles.troubleWords}>
        <p role="status">
          <strong>{KINDS[trouble.kind]}</strong> Lost: {trouble.lost.map((one) => LOST[one]).join(', ')}.{' '}
          <span className="mono muted">“{trouble.words.trim()}”</span>
        </p>
        <div className={styles.actions}>
          <Button variant="contained" disabled={disabled} onClick={() => onSay(trouble.again)} title={trouble.again}>
            Say it again
          </Button>
          {clearHz !== undefined && moved !== 0 && (
            <Button variant="outlined" disabled={disabled} onClick={() => onMove(clearHz)}>
              Move {Math.abs(Math.round(moved))} Hz {moved > 0 ? 'up' : 'down'}, clearer there
            </Button>
          )}
        </div>
        <p className="muted">
          {fades.length > 0 ? `It ${fades[0]!.words}. ` : 'Keep it short and slow. '}
          More power helps only within your licence and what antenna and radio stand.
          {path ? '' : ' Their locator is not known: no bearing yet.'}
        </p>
      </div>
      {path && <BearingCard bearingDeg={path.bearingDeg} distanceKm={path.distanceKm} unit={unit} />}
    </section>
  )
}
