'use client'
import { useStation } from '../../live/StationProvider'
import { DialBar } from '../DialBar'
import { useAttempt } from '../useAttempt'
import { FocusPanel } from './FocusPanel'
import { RibbonList } from './RibbonList'
import styles from './Ribbons.module.css'

/** PSK31: every conversation as a running line at its place in the spectrum, and one in focus. */
export function RibbonsScreen() {
  const practice = useStation((s) => s.source.kind === 'practice')
  const on = useStation((s) => s.mode === 'psk31' && ['microphone', 'recording', 'practice'].includes(s.source.kind))
  const other = useStation((s) => s.mode !== 'psk31' && s.source.kind !== 'none')
  const trying = useAttempt()
  return (
    <div className={styles.screen}>
      <DialBar title="Ribbons" mode="psk31" onProblem={(why) => trying.setRefusal({ why, need: '' })} />
      {!other && (
        <>
          <RibbonList listening={on} onRefused={(why) => trying.setRefusal({ why, need: '' })} />
          <FocusPanel trying={trying} practice={practice} />
        </>
      )}
    </div>
  )
}
