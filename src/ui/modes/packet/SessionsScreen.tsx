'use client'
import { useState } from 'react'
import Link from 'next/link'
import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import type { PacketAct } from '@/core/packet/station/contracts'
import { useLive, useStation } from '../../live/StationProvider'
import { FirstCheck } from '../../parts/FirstCheck'
import { CallForm } from './CallForm'
import { HeardList } from './HeardList'
import { ModemBar } from './ModemBar'
import { SessionPanel } from './SessionPanel'
import styles from './Sessions.module.css'
import { actPacket, usePacket } from './usePacket'

/** Packet: who is heard, and sessions with them. */
export function SessionsScreen() {
  const { station } = useLive()
  const packet = usePacket()
  const practice = useStation((s) => (s.links?.tnc.modem ? s.source.kind === 'practice' : (s.links?.standins.tnc ?? null) !== null))
  const byModem = useStation((s) => s.links?.tnc.modem === true)
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
    const done = await send(wanted)
    if (!done.ok && 'need' in done && done.need === 'firstCheck') setPending(wanted)
    else if (!done.ok) setProblem(done.error)
    else if (wanted.act === 'connect') setChosen(undefined)
    return done.ok
  }
  /** What the modem of this device sends, a person lets it send here as well. */
  const send = async (wanted: PacketAct) => {
    if (byModem && !['cut', 'dismiss', 'checked'].includes(wanted.act)) {
      const begun = await station?.do({ type: 'packet.begin' })
      if (begun && !begun.ok) return { ok: false as const, error: begun.why, need: begun.need }
    }
    return actPacket(wanted)
  }
  const checked = async () => {
    const wanted = pending
    setPending(undefined)
    if (byModem) await station?.do({ type: 'checkPassed' })
    const done = await actPacket({ act: 'checked' })
    const both = done.ok && wanted ? await send(wanted) : done
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
      <ModemBar />
      {noTnc && !byModem && (
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
