'use client'
import { useEffect, useState } from 'react'
import Button from '@mui/material/Button'
import { MODES, type SoundModeId } from '@/core/modes'
import { useLive, useStation } from '../live/StationProvider'
import styles from './modes.module.css'

/** Says which mode is in front where it is another one. With nothing on, the screen that is opened brings its own there. */
export function FrontGate({ mode }: { mode: SoundModeId }) {
  const { station } = useLive()
  const inFront = useStation((s) => s.mode)
  const source = useStation((s) => s.source.kind)
  const [refusal, setRefusal] = useState<string>()
  const other = inFront !== mode
  const idle = source === 'none'
  useEffect(() => {
    if (station && other && idle) void station.do({ type: 'front', mode })
  }, [station, other, idle, mode])
  if (!other || idle) return null
  const bring = async () => {
    const done = await station?.do({ type: 'front', mode })
    setRefusal(done && !done.ok ? done.why : undefined)
  }
  return (
    <div className={styles.front} role="status">
      <strong>{MODES[inFront].name} is in front.</strong>
      <span>
        One mode hears and sends at a time.{' '}
        {source === 'practice' && `The practice band of ${MODES[inFront].name} ends when another one is brought there.`}
      </span>
      <Button variant="contained" onClick={() => void bring()}>
        Bring {MODES[mode].name} to the front
      </Button>
      {refusal && <span role="alert">{refusal}</span>}
    </div>
  )
}
