'use client'
import { useEffect, useState } from 'react'
import { useStore } from 'zustand'
import Button from '@mui/material/Button'
import type { Picked } from '@/core/links'
import { canLend, lendAgain, lendPort, lentPorts, takeBack } from '@/engine/browser/lentPorts'
import { useHolder } from '../../live/StationProvider'
import { panelStyles } from '../../parts/Panel'

const WORDS: Record<Picked, { pick: string; cannot: string }> = {
  serial: {
    pick: 'Pick the port of this device',
    cannot: 'This browser cannot reach serial ports. Plug it into the field computer, or use a browser that can.',
  },
  bluetooth: {
    pick: 'Pick the Bluetooth device',
    cannot: 'This browser cannot reach Bluetooth devices. Use one that can, on a device that has Bluetooth.',
  },
}

/** A port that this device holds and lends to the field computer. */
export function LentPortField({ by, name }: { by: Picked; name: string }) {
  const words = useStore(lentPorts, (s) => s[by])
  const [problem, setProblem] = useState<string>()
  const holder = useHolder()
  // A tab that only looks on must not take it from the one that runs the station.
  useEffect(() => {
    if (by === 'serial' && holder === 'here') void lendAgain()
  }, [by, holder])
  if (!canLend(by)) return <span className={panelStyles.problem}>{WORDS[by].cannot}</span>
  return (
    <>
      <Button
        variant="outlined"
        aria-label={`${name}: ${WORDS[by].pick.toLowerCase()}`}
        onClick={() => {
          setProblem(undefined)
          void lendPort(by).then(setProblem)
        }}
      >
        {WORDS[by].pick}
      </Button>
      {words !== undefined && (
        <Button variant="text" onClick={() => void takeBack(by)}>
          Take it back
        </Button>
      )}
      <span className={problem ? panelStyles.problem : 'muted'} role="status">
        {problem ?? words ?? 'None is picked. Keep this page open while it is used.'}
      </span>
    </>
  )
}
