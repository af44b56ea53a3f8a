'use client'
import { useState } from 'react'
import Link from 'next/link'
import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import type { PacketAct } from '@/core/packet/station/contracts'
import { useStation } from '../../live/StationProvider'
import { FirstCheck } from '../../parts/FirstCheck'
import { CallForm } from './CallForm'
import { HeardList } from './HeardList'
import { SessionPanel } from './SessionPanel'
import styles from './Sessions.module.css'
import { actPacket, usePacket } from './usePacket'

/** Packet: who is heard, and sessions with them. */
export function SessionsScreen() {
  const packet = usePacket()
  const practice = useStation((s) => (s.links?.standins.tnc ?? null) !== null)
  const [chosen, setChosen] = useState<number>()
  const [peer, setPeer] = useState('')
  const [via, setVia] = useState('')
  const [problem, setProblem] = useState<string>()
  const [pending, setPending] = useState<PacketAct>()
  const sessions = packet?.sessions ?? []
  const shown = sessions.find(({ id }) => id === chosen) ?? sessions.at(-1)
  const act = async (wanted: PacketAct): Promise<boolean> => {
    setProblem(undefined)
    if (packet?.refusal?.need === 'firstCheck') {
      setPending(wanted)
      return false
    }
    const done = await actPacket(wanted)
    if (!done.ok) setProblem(done.error)
    else if (wanted.act === 'connect') setChosen(undefined)
    return done.ok
  }
  const checked = async () => {
    const wanted = pending
    setPending(undefined)
    const done = await actPacket({ act: 'checked' })
    const both = done.ok && wanted ? await actPacket(wanted) : done
    if (!both.ok) setProblem(both.error)
  }
  const noTnc = packet?.refusal?.need === 'tnc'
  return (
    <div className={styles.screen}>
      <header className={styles.head}>
        <h1>Sessions</h1>
        <span className={styles.busy}>
          {packet
            ? `Channel in use ${Math.round(100 * packet.busyShare)} % of the last 2 min`
            : 'Not known at the moment: the server is asked'}
        </span>
      </header>
      {noTnc && (
        <Alert
          severity="info"
          action={
            <Button component={Link} href="/connect/tnc" color="inherit" size="small">
              Link a TNC
            </Button>
          }
        >
          {packet.refusal!.why}
        </Alert>
      )}
      {problem !== undefined && (
        <Alert severity="warning" onClose={() => setProblem(undefined)}>
          {problem}
        </Alert>
      )}
      {pending && (
        <FirstCheck what="Go on" practice={practice} packet onChecked={() => void checked()} onNotNow={() => setPending(undefined)} />
      )}
      <div className={styles.columns}>
        <section className={styles.card} aria-labelledby="heard-heading">
          <CallForm
            peer={peer}
            via={via}
            onPeer={setPeer}
            onVia={setVia}
            onCall={(call, path) => act({ act: 'connect', peer: call, via: path })}
          />
          <HeardList
            heard={packet?.heard}
            onChoose={({ call, by }) => {
              setPeer(call)
              setVia(by ?? '')
            }}
          />
        </section>
        <SessionPanel sessions={sessions} shown={shown} onChoose={setChosen} onAct={act} />
      </div>
    </div>
  )
}
