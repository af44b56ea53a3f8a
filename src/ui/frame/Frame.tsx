'use client'
import type { ReactNode } from 'react'
import Button from '@mui/material/Button'
import { Alerts, KeepAwake } from '../live/Alerts'
import { TellActivation } from '../live/fieldDocuments'
import { KeepKeyedTime } from '../live/KeepKeyedTime'
import { PlanReminder } from '../live/PlanReminder'
import { StationMessages } from '../live/StationMessages'
import { useHolder, useLive } from '../live/StationProvider'
import { TellReadiness } from '../live/useReadiness'
import { MessageArea } from '../parts/Messages'
import { Stages } from './Stages'
import { Strip } from './Strip'
import styles from './Frame.module.css'

/** The frame around every screen: strip above, stages at the side, and who holds the station. */
export function Frame({ children }: { children: ReactNode }) {
  const holder = useHolder()
  const { takeOver, profileState } = useLive()
  return (
    <div className={styles.frame}>
      <a className={styles.skip} href="#content">
        Skip to the screen
      </a>
      <Strip />
      <Stages />
      <main id="content" tabIndex={-1} className={styles.main}>
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
        <TellReadiness />
        <StationMessages />
        <Alerts />
        <KeepAwake />
        {children}
      </main>
      <MessageArea />
    </div>
  )
}
