'use client'
import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import TextField from '@mui/material/TextField'
import type { PacketAct, SessionView } from '@/core/packet/station/contracts'
import { MOST_TYPED } from '@/core/packet/station/contracts'
import { formatUtc } from '../../parts/formats'
import { FrameLadder } from './FrameLadder'
import { saveSession } from './saveSession'
import styles from './Sessions.module.css'

/** Orders that almost every node and mailbox takes, one letter each. */
const ORDERS = [
  ['?', 'Its help'],
  ['L', 'List'],
  ['LM', 'Mine'],
  ['J', 'Heard'],
  ['N', 'Nodes'],
  ['B', 'Goodbye'],
] as const

interface SessionActs {
  onAct: (act: PacketAct) => Promise<boolean>
  /** Puts it into the log. @returns whether it is there */
  onLog: (session: SessionView) => Promise<boolean>
}

/** Sessions, one of them at large: what was said, beside the frames that carried it. */
export function SessionPanel({
  sessions,
  shown,
  onChoose,
  onAct,
  onLog,
}: {
  sessions: readonly SessionView[]
  shown: SessionView | undefined
  onChoose: (id: number) => void
} & SessionActs) {
  if (!shown)
    return (
      <div className={styles.view}>
        <p className={styles.empty}>
          No session. Call a node, a mailbox or a station: what it says stands here, beside the frames that carry it.
        </p>
      </div>
    )
  return (
    <>
      {sessions.length > 1 && (
        <div className={styles.tabs} role="group" aria-label="Sessions">
          {sessions.map((one) => (
            <Button
              key={one.id}
              size="small"
              variant={one === shown ? 'contained' : 'outlined'}
              aria-pressed={one === shown}
              onClick={() => onChoose(one.id)}
            >
              {one.peer}
              {one.phase === 'closed' ? ', ended' : one.phase === 'calling' ? ', calling' : ''}
            </Button>
          ))}
        </div>
      )}
      <SessionHead session={shown} onAct={onAct} onLog={onLog} />
      <div className={styles.session}>
        <Transcript session={shown} />
        <FrameLadder session={shown} />
      </div>
      {shown.phase !== 'closed' && <TypeLine key={shown.id} session={shown} onAct={onAct} />}
    </>
  )
}

function SessionHead({ session, onAct, onLog }: { session: SessionView } & SessionActs) {
  const [logged, setLogged] = useState<number>()
  const { id, peer, via, phase, words, acknowledgedBytes, pendingBytes } = session
  const whole = acknowledgedBytes + pendingBytes
  const log = async () => {
    if (await onLog(session)) setLogged(id)
  }
  return (
    <div className={styles.sessionHead}>
      <div>
        <h2>
          {peer}
          {via.length > 0 && <span className={styles.via}> by {via.join(', ')}</span>}
        </h2>
        <p role="status">{words}</p>
      </div>
      <div className={styles.acts}>
        {(phase === 'open' || phase === 'calling') && (
          <Button size="small" variant="outlined" onClick={() => void onAct({ act: 'disconnect', id })}>
            {phase === 'calling' ? 'Stop calling' : 'Disconnect'}
          </Button>
        )}
        {phase !== 'closed' && (
          <Button size="small" variant="outlined" color="error" onClick={() => void onAct({ act: 'cut', id })}>
            Cut off
          </Button>
        )}
        {session.receivedBytes > 0 && (
          <Button size="small" variant="outlined" disabled={logged === id} onClick={() => void log()}>
            {logged === id ? 'In the log' : 'Log contact'}
          </Button>
        )}
        {phase === 'closed' && (
          <Button size="small" variant="contained" onClick={() => void onAct({ act: 'connect', peer, via })}>
            Call again
          </Button>
        )}
        {session.lines.length > 0 && (
          <Button size="small" variant="outlined" onClick={() => saveSession(session)}>
            Save text
          </Button>
        )}
        {phase === 'closed' && (
          <Button size="small" variant="outlined" onClick={() => void onAct({ act: 'dismiss', id })}>
            Put away
          </Button>
        )}
      </div>
      {pendingBytes > 0 && (
        <LinearProgress
          className={styles.progress}
          variant="determinate"
          value={whole === 0 ? 0 : (100 * acknowledgedBytes) / whole}
          aria-label="Acknowledged"
        />
      )}
    </div>
  )
}

function Transcript({ session: { lines } }: { session: SessionView }) {
  const box = useRef<HTMLDivElement>(null)
  const last = lines.at(-1)?.sequence
  const lastText = lines.at(-1)?.text
  useEffect(() => {
    const { current } = box
    if (!current) return
    // Whoever reads further up is left there.
    const isAtEnd = current.scrollHeight - current.scrollTop - current.clientHeight < 120
    if (isAtEnd) current.scrollTop = current.scrollHeight
  }, [last, lastText])
  return (
    <div className={styles.transcript} ref={box} role="log" aria-label="What was said" tabIndex={0}>
      {lines.map(({ sequence, way, text, utcMs }) => (
        <p key={sequence} data-way={way}>
          {way === 'note' && <time>{formatUtc(utcMs)} </time>}
          {text === '' ? '\u00a0' : text}
        </p>
      ))}
    </div>
  )
}

function TypeLine({ session: { id, phase }, onAct }: { session: SessionView; onAct: (act: PacketAct) => Promise<boolean> }) {
  const [text, setText] = useState('')
  const isOpen = phase === 'open'
  const send = async (line: string) => {
    if (await onAct({ act: 'type', id, text: line })) setText('')
  }
  return (
    <form
      className={styles.type}
      onSubmit={(event) => {
        event.preventDefault()
        void send(text)
      }}
    >
      <TextField
        label="Line to send"
        size="small"
        fullWidth
        value={text}
        disabled={!isOpen}
        onChange={(e) => setText(e.target.value.slice(0, MOST_TYPED))}
        slotProps={{ htmlInput: { autoComplete: 'off', spellCheck: false } }}
      />
      <Button type="submit" variant="contained" disabled={!isOpen}>
        Send
      </Button>
      <div className={styles.orders} role="group" aria-label="Usual orders">
        {ORDERS.map(([order, words]) => (
          <Button key={order} size="small" variant="outlined" disabled={!isOpen} onClick={() => void send(order)}>
            {words}
          </Button>
        ))}
      </div>
    </form>
  )
}
