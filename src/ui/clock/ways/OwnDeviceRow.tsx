'use client'
import { useEffect, useRef, useState, useSyncExternalStore } from 'react'
import Button from '@mui/material/Button'
import type { BrowserReceiverLink } from '@/engine/browser/browserReceiver'
import { useLive, useStation } from '../../live/StationProvider'
import { ReceiverCard } from '../ReceiverCard'
import { ChecksumChoice, DelayField, ReceiverRow, SpeedPicker } from './ReceiverRow'

/** Whether this browser has serial ports; it does not change while the page is open. */
const hasSerialPorts = () => 'serial' in navigator
const never = () => () => undefined

/** A receiver on a serial port of the device in the operator's hands. */
export function OwnDeviceRow() {
  const { station } = useLive()
  const receiver = useStation((s) => s.browserReceiver)
  const [serialBaud, setSerialBaud] = useState<number | null>(null)
  const [delayMs, setDelayMs] = useState<number | null>(null)
  const [acceptUnchecked, setAcceptUnchecked] = useState(false)
  const possible = useSyncExternalStore(never, hasSerialPorts, () => true)
  const link = useRef<BrowserReceiverLink | undefined>(undefined)
  useEffect(() => {
    let over = false
    // Ports exist in a browser only, so what reaches them is loaded when there is one.
    void import('@/engine/browser/browserReceiver').then((module) => {
      if (!over && station) link.current = module.browserReceiverOf(station)
    })
    return () => {
      over = true
    }
  }, [station])
  return (
    <>
      <ReceiverRow title="On this device" status={receiver}>
        {possible ? (
          receiver.state === 'off' || receiver.state === 'problem' ? (
            <>
              <SpeedPicker value={serialBaud} onChange={setSerialBaud} />
              <DelayField value={delayMs} onChange={setDelayMs} />
              <ChecksumChoice value={acceptUnchecked} offered={receiver.gps?.sendsNoChecksums === true} onChange={setAcceptUnchecked} />
              <Button
                variant="contained"
                disabled={!station}
                onClick={() => void link.current?.connect({ serialBaud, receiverDelayMs: delayMs, acceptUnchecked })}
              >
                Pick the port
              </Button>
            </>
          ) : (
            <Button variant="outlined" onClick={() => void link.current?.disconnect()}>
              Let go of the port
            </Button>
          )
        ) : (
          <span>This browser has no serial ports. Plug the receiver into the field computer, or let a phone send over the network.</span>
        )}
      </ReceiverRow>
      {receiver.gps && <ReceiverCard label="Receiver on this device" gps={receiver.gps} />}
    </>
  )
}
