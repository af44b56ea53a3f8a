'use client'
import { modeName } from '@/core/modes'
import { useState } from 'react'
import Button from '@mui/material/Button'
import { wordSpot, type Activation } from '@/core/activation'
import type { Station } from '@/core/station'
import { useFt8, useStation } from '../live/StationProvider'
import { useDialOfRadio } from '../live/useDialOfRadio'
import { Panel, panelStyles } from '../parts/Panel'
import styles from './plan.module.css'

/** What to tell those who want to work this station, ready to be copied or handed to another application. */
export function SpotPanel({ activation, station }: { activation: Activation; station: Station }) {
  const dial = useDialOfRadio() ?? station.dialFrequencyHz
  const exchange = useFt8((s) => s.exchange)
  const mode = useStation((s) => s.mode)
  const [said, setSaid] = useState<string>()
  const calling = exchange.phase === 'underway' ? { audioOffsetHz: exchange.audioOffsetHz, parity: exchange.txParity } : {}
  const text = wordSpot({
    call: station.call,
    activation,
    mode: modeName(mode),
    dialFrequencyHz: dial,
    locator: station.locator,
    ...calling,
  })
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text)
      setSaid('Copied.')
    } catch {
      setSaid('This browser does not let pages copy here. Mark the text and copy it by hand.')
    }
  }
  const canShare = typeof navigator !== 'undefined' && 'share' in navigator
  return (
    <Panel title="Tell where you are">
      <p className={`${styles.spot} mono`}>{text}</p>
      <div className={panelStyles.row}>
        <Button variant="outlined" onClick={() => void copy()}>
          Copy
        </Button>
        {canShare && (
          <Button variant="outlined" onClick={() => void navigator.share({ text }).catch(() => undefined)}>
            Hand to another application
          </Button>
        )}
        <span className="muted" role="status">
          {said ?? 'It follows the dial and your transmit offset.'}
        </span>
      </div>
    </Panel>
  )
}
