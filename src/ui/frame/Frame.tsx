'use client'
import type { ReactNode } from 'react'
import Link from 'next/link'
import { usePathname } from 'next/navigation'
import Button from '@mui/material/Button'
import type { ReadyState } from '@/core/readiness'
import { StateMark, STATE_WORDS } from '../parts/StateMark'
import { TellActivation } from '../live/fieldDocuments'
import { KeepKeyedTime } from '../live/KeepKeyedTime'
import { PlanReminder } from '../live/PlanReminder'
import { useHolder, useLive } from '../live/StationProvider'
import { useReadiness } from '../live/useReadiness'
import { Strip } from './Strip'
import { STAGES } from './stages'
import styles from './Frame.module.css'

const WORST: readonly ReadyState[] = ['missing', 'attention', 'unknown', 'ready']

/** The frame around every screen: strip above, stages at the side, and who holds the station. */
export function Frame({ children }: { children: ReactNode }) {
  const path = usePathname()
  const holder = useHolder()
  const { takeOver, profileState } = useLive()
  const readiness = useReadiness()
  return (
    <div className={styles.frame}>
      <Strip />
      <nav className={styles.stages} aria-label="Stages">
        {STAGES.map((stage) => {
          const states = readiness?.items.filter((item) => stage.items.includes(item.id)).map((item) => item.state) ?? []
          const worst = WORST.find((state) => states.includes(state))
          return (
            <Link
              key={stage.path}
              href={stage.path}
              className={styles.stage}
              aria-current={path === stage.path || (stage.path !== '/' && path.startsWith(`${stage.path}/`)) ? 'page' : undefined}
            >
              {worst ? <StateMark state={worst} size={18} /> : <span className={styles.gap} />}
              {stage.label}
              {worst && <span className="visually-hidden">, {STATE_WORDS[worst].toLowerCase()}</span>}
            </Link>
          )
        })}
      </nav>
      <main className={styles.main}>
        {holder === 'elsewhere' && (
          <div className={styles.elsewhere} role="status">
            <strong>Another screen runs the station.</strong>
            <span>This one only looks on. Taking over stops what the other one is doing.</span>
            <Button variant="contained" onClick={takeOver}>
              Take the station over
            </Button>
          </div>
        )}
        {profileState === 'problem' && (
          <div className={styles.elsewhere} role="alert">
            <strong>The server does not answer.</strong>
            <span>Receiving and exchanges go on; contacts wait in this browser. Start Zeptik again, then reload.</span>
          </div>
        )}
        <PlanReminder />
        <KeepKeyedTime />
        <TellActivation />
        {children}
      </main>
    </div>
  )
}
