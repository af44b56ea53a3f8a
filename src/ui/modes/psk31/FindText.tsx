'use client'
import { useState } from 'react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { z } from 'zod'
import { heardTextSchema, type HeardText } from '@/core/station'
import { ask } from '@/engine/browser/http'
import { useStation } from '../../live/StationProvider'
import { counted, formatUtc, formatUtcDate } from '../../parts/formats'
import styles from './Ribbons.module.css'

const foundSchema = z.array(heardTextSchema)
const REFRESH_MS = 10_000
const LEAST_LETTERS = 2

/** Finds a word or a call in all that was heard in PSK31, which is kept for a month. */
export function FindText({ onTake }: { onTake: (frequencyHz: number) => void }) {
  const [words, setWords] = useState('')
  const practice = useStation((s) => s.source.kind === 'practice')
  const query = new URLSearchParams({ mode: 'psk31', practice: String(practice), words })
  const found = useQuery({
    queryKey: ['heard text', String(query)],
    queryFn: () => ask(foundSchema, `/api/heard/text?${query}`),
    enabled: words.trim().length >= LEAST_LETTERS,
    placeholderData: keepPreviousData,
    refetchInterval: REFRESH_MS,
    retry: 1,
  })
  const rows = words.trim().length >= LEAST_LETTERS ? (found.data ?? []) : []
  return (
    <div className={styles.find}>
      <div className={styles.actions}>
        <TextField
          label="Word or call"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          size="small"
          autoFocus
          slotProps={{ htmlInput: { maxLength: 60, spellCheck: false, autoCapitalize: 'none' } }}
        />
        <Button component="a" href={`/api/heard/text?mode=psk31&practice=${practice}&as=file`} variant="outlined" download>
          Save all text
        </Button>
      </div>
      <p role="status" className="muted">
        {found.error
          ? `The server did not answer: ${found.error.message}`
          : words.trim().length < LEAST_LETTERS
            ? 'Two letters at least. All that was heard is kept for 30 days, then let go.'
            : found.data && `${counted(rows.length, 'place')} with “${words.trim()}”, newest first`}
      </p>
      <ol className={styles.found}>
        {rows.map((row) => (
          <Found key={`${row.startUtcMs} ${row.audioOffsetHz}`} row={row} words={words.trim()} onTake={onTake} />
        ))}
      </ol>
    </div>
  )
}

function Found({ row, words, onTake }: { row: HeardText; words: string; onTake: (frequencyHz: number) => void }) {
  const { startUtcMs, text, call, audioOffsetHz } = row
  const flat = text.replace(/\s+/g, ' ').trim()
  const at = flat.toLowerCase().indexOf(words.toLowerCase())
  const from = Math.max(0, at - 40)
  return (
    <li>
      <button type="button" disabled={audioOffsetHz === null} onClick={() => audioOffsetHz !== null && onTake(Math.round(audioOffsetHz))}>
        <span className="muted">
          {formatUtcDate(startUtcMs)} {formatUtc(startUtcMs)}
          {audioOffsetHz !== null && ` · ${Math.round(audioOffsetHz)} Hz`}
          {call && ` · ${call}`}
        </span>
        <span className="mono">
          {from > 0 && '… '}
          {at < 0 ? (
            flat.slice(0, 120)
          ) : (
            <>
              {flat.slice(from, at)}
              <mark className={styles.told}>{flat.slice(at, at + words.length)}</mark>
              {flat.slice(at + words.length, at + words.length + 90)}
            </>
          )}
        </span>
      </button>
    </li>
  )
}
