'use client'
import { useState } from 'react'
import Link from 'next/link'
import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import { endsOnly, type PacketAct, type SessionView } from '@/core/packet/station/contracts'
import { useLive, useStation } from '../../live/StationProvider'
import { FirstCheck } from '../../parts/FirstCheck'
import { CallForm } from './CallForm'
import { HeardList } from './HeardList'
import { KeptView } from './KeptView'
import { ModemBar } from './ModemBar'
import { MonitorView } from './MonitorView'
import { SessionPanel } from './SessionPanel'
import styles from './Sessions.module.css'
import { TakeCalls } from './TakeCalls'
import { ToAllView } from './ToAllView'
import { actPacket, usePacket } from './usePacket'

/** Lines that go into the log as evidence. */
const MOST_LOGGED = 20
const VIEWS = { session: 'Session', monitor: 'Monitor', all: 'To everybody', kept: 'Kept sessions' } as const

/** Packet: who is heard, and sessions with them. */
export function SessionsScreen() {
  const { station } = useLive()
  const packet = usePacket()
  const practice = useStation((s) => (s.links?.tnc.modem ? s.source.kind === 'practice' : (s.links?.standins.tnc ?? null) !== null))
  const byModem = useStation((s) => s.links?.tnc.modem === true)
  const [chosen, setChosen] = useState<number>()
  const [view, setView] = useState<keyof typeof VIEWS>('session')
  const [peer, setPeer] = useState('')
  const [via, setVia] = useState('')
  const [problem, setProblem] = useState<string>()
  const [pending, setPending] = useState<PacketAct>()
  const sessions = packet?.sessions ?? []
  const shown = sessions.find(({ id }) => id === chosen) ?? sessions.at(-1)
  const act = async (wanted: PacketAct): Promise<boolean> => {
    setProblem(undefined)
    if (packet?.refusal?.need === 'firstCheck' && !endsOnly(wanted)) {
      setPending(wanted)
      return false
    }
    const done = await send(wanted)
    if (!done.ok && 'need' in done && done.need === 'firstCheck') setPending(wanted)
    else if (!done.ok) setProblem(done.error)
    else if (wanted.act === 'connect') {
      setChosen(undefined)
      setView('session')
    }
    return done.ok
  }
  /** What the modem of this device sends, a person lets it send here as well. */
  const send = async (wanted: PacketAct) => {
    if (byModem && wanted.act !== 'checked' && !endsOnly(wanted)) {
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
  const log = async ({ peer: call, beganUtcMs, lines }: SessionView): Promise<boolean> => {
    const done = await station?.do({
      ...{ type: 'logSession', call: call.replace(/-\d+$/, ''), startedUtcMs: beganUtcMs, endedUtcMs: lines.at(-1)?.utcMs ?? beganUtcMs },
      lines: lines
        .filter(({ way }) => way !== 'note')
        .slice(-MOST_LOGGED)
        .map(({ utcMs, way, text }) => ({ utcMs, mine: way === 'out', text: text.slice(0, 200) })),
      practice,
    })
    setProblem(done && !done.ok ? done.why : undefined)
    return done?.ok === true
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
            onCall={(call, path) => act({ act: 'connect', peer: call, via: path, practice })}
            onFind={(call) => act({ act: 'connect', peer: call, via: [], find: true, practice })}
          />
          <HeardList
            heard={packet?.heard}
            onChoose={({ call, by }) => {
              setPeer(call)
              setVia(by ?? '')
            }}
          />
          <TakeCalls accepting={packet?.accepting} practice={practice} onAct={act} />
        </section>
        <section className={styles.card} aria-label={VIEWS[view]}>
          <div className={styles.views} role="group" aria-label="Shown">
            {Object.entries(VIEWS).map(([id, words]) => (
              <Button
                key={id}
                size="small"
                variant={view === id ? 'contained' : 'text'}
                aria-pressed={view === id}
                onClick={() => setView(id as keyof typeof VIEWS)}
              >
                {words}
              </Button>
            ))}
          </div>
          {view === 'session' && <SessionPanel sessions={sessions} shown={shown} onChoose={setChosen} onAct={act} onLog={log} />}
          {view === 'monitor' && <MonitorView practice={practice} />}
          {view === 'all' && <ToAllView packet={packet} onAct={act} />}
          {view === 'kept' && <KeptView practice={practice} />}
        </section>
      </div>
    </div>
  )
}
