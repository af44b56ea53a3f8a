'use client'
import { useState } from 'react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { z } from 'zod'
import { keptSessionSchema, type KeptSession } from '@/core/packet/station/contracts'
import { ask } from '@/engine/browser/http'
import { counted, formatUtc, formatUtcDate } from '../../parts/formats'
import { saveSession } from './saveSession'
import styles from './Sessions.module.css'

const keptSchema = z.array(keptSessionSchema)

/** Sessions of before, found by a word or a call. */
export function KeptView({ practice }: { practice: boolean }) {
  const [words, setWords] = useState('')
  const [openId, setOpenId] = useState<string>()
  const query = new URLSearchParams({ words: words.trim(), practice: String(practice) })
  const kept = useQuery({
    queryKey: ['kept sessions', String(query)],
    queryFn: () => ask(keptSchema, `/api/packet/kept?${query}`),
    placeholderData: keepPreviousData,
    refetchInterval: 15_000,
    retry: 1,
  })
  const shown = kept.data?.find(({ id }) => id === openId)
  if (shown) return <KeptText session={shown} words={words.trim()} onBack={() => setOpenId(undefined)} />
  return (
    <div className={styles.view}>
      <div className={styles.viewHead}>
        <TextField
          label="Word or call"
          size="small"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 60, spellCheck: false, autoCapitalize: 'none' } }}
        />
      </div>
      <p className={styles.empty} role="status">
        {kept.error
          ? `The server did not answer: ${kept.error.message}`
          : kept.data === undefined
            ? 'Looked for…'
            : kept.data.length === 0
              ? words.trim() === ''
                ? `No ${practice ? 'practice ' : ''}session yet: what is said in one is kept here, the last 500.`
                : `“${words.trim()}” stands in no ${practice ? 'practice ' : ''}session.`
              : `${counted(kept.data.length, 'session')}, the newest first`}
      </p>
      <ul className={styles.heard}>
        {kept.data?.map((session) => (
          <li key={session.id}>
            <button type="button" className={styles.station} onClick={() => setOpenId(session.id)}>
              <strong>{session.peer}</strong>
              <span>{session.by === 'them' ? 'called us' : session.via.length > 0 ? `by ${session.via.join(', ')}` : 'direct'}</span>
              <span className={styles.age}>
                {formatUtcDate(session.beganUtcMs)} {formatUtc(session.beganUtcMs)}
              </span>
              <span className={styles.said}>{lineWith(session, words.trim())}</span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  )
}

/** The line that holds what is looked for, else the last one that was said. */
function lineWith({ lines }: KeptSession, words: string): string {
  const found = words === '' ? undefined : lines.find(({ text }) => text.toLowerCase().includes(words.toLowerCase()))
  return (found ?? lines.findLast(({ way }) => way === 'in') ?? lines.at(-1))?.text.slice(0, 160) ?? ''
}

function KeptText({ session, words, onBack }: { session: KeptSession; words: string; onBack: () => void }) {
  const { peer, beganUtcMs, lines } = session
  return (
    <div className={styles.view}>
      <div className={styles.viewHead}>
        <Button size="small" variant="outlined" onClick={onBack}>
          Back to the list
        </Button>
        <strong>
          {peer}, {formatUtcDate(beganUtcMs)} {formatUtc(beganUtcMs)}
        </strong>
        <Button size="small" variant="outlined" onClick={() => saveSession(session)}>
          Save text
        </Button>
      </div>
      <div className={styles.transcript} tabIndex={0} role="region" aria-label="What was said">
        {lines.map(({ sequence, way, text, utcMs }) => (
          <p key={sequence} data-way={way}>
            {way === 'note' && <time>{formatUtc(utcMs)} </time>}
            {words !== '' && text.toLowerCase().includes(words.toLowerCase()) ? <mark>{text}</mark> : text || '\u00a0'}
          </p>
        ))}
      </div>
    </div>
  )
}
