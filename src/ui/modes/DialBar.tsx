'use client'
import { frequencyWords } from '@/core/text/frequency'
import type { ReactNode } from 'react'
import Button from '@mui/material/Button'
import { bandOf } from '@/core/log'
import { MODES, type SoundModeId } from '@/core/modes'
import { ActivationProgress } from '../plan/ActivationProgress'
import { DialField, useDial } from './DialField'
import { FrontGate } from './FrontGate'
import styles from './modes.module.css'

/** Where the dial stands, and where it usually does in this mode. */
export function DialBar({
  title,
  mode,
  onProblem,
  children,
}: {
  title: string
  mode: SoundModeId
  onProblem: (why: string) => void
  children?: ReactNode
}) {
  const { radio } = MODES[mode]
  const { dial, readHz, assumed, setDial } = useDial()
  return (
    <div className={styles.head}>
      <div className={styles.bar}>
        <h1>{title}</h1>
        <span className={styles.dial}>{dial === null ? 'frequency not set' : frequencyWords(dial)}</span>
        {dial !== null && (
          <span className="muted">
            {bandOf(dial) ?? 'outside the bands'}, {radio.words}
            {readHz === undefined ? (assumed ? ', of the practice band' : '') : ', read from the radio'}
          </span>
        )}
        {children}
        <ActivationProgress />
        <DialField />
        {dial !== null && readHz === undefined && !assumed && (
          <Button variant="outlined" onClick={() => void setDial(dial).catch((error: Error) => onProblem(error.message))}>
            Confirm frequency
          </Button>
        )}
      </div>
      <FrontGate mode={mode} />
    </div>
  )
}
