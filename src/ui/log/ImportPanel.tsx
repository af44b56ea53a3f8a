'use client'
import { useEffect, useEffectEvent, useState } from 'react'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import type { AdifImport, AdifImportOrder } from '@/core/log'
import { counted } from '../parts/formats'
import { fetchImport, orderImport, sendAdif } from './logApi'
import styles from './LogScreen.module.css'

const LOOK_EVERY_MS = 400
const SHOWN_PROBLEMS = 30
const KEY = ['adifImport']
const goesOn = (stage: AdifImport['stage'] | undefined) => stage === 'reading' || stage === 'storing'

/** The import on the server, looked at for as long as it goes on; null when there is none, undefined while that is not known. */
export function useImport(): AdifImport | null | undefined {
  const { data } = useQuery({
    queryKey: KEY,
    queryFn: fetchImport,
    refetchInterval: ({ state }) => (goesOn(state.data?.stage) ? LOOK_EVERY_MS : false),
  })
  return data
}

/**
 * Shows what an ADIF file would add before anything is stored. The server does the work, whatever becomes of this page.
 * @param file what to send; without one, the import that goes on there is shown
 */
export function ImportPanel({ file, onDone, onClose }: { file?: File; onDone: () => void; onClose: () => void }) {
  const client = useQueryClient()
  const [sent, setSent] = useState(file === undefined)
  const [problem, setProblem] = useState<string>()
  const known = useImport()
  const shown = sent ? known : undefined
  const keep = (state: AdifImport) => client.setQueryData(KEY, state)

  useEffect(() => {
    if (!file) return
    const leave = new AbortController()
    sendAdif(file, leave.signal)
      .then((state) => {
        client.setQueryData(KEY, state)
        setSent(true)
      })
      .catch((error: Error) => leave.signal.aborted || setProblem(`${error.message} Nothing was imported.`))
    return () => leave.abort()
  }, [file, client])

  const stage = shown?.stage
  const changed = useEffectEvent(onDone)
  useEffect(() => {
    if (stage === 'done' || stage === 'stopped' || stage === 'failed') changed()
  }, [stage])

  const order = async (action: AdifImportOrder['action']) => {
    if (!shown) return
    try {
      keep(await orderImport({ id: shown.id, action }))
    } catch (error) {
      setProblem((error as Error).message)
    }
  }
  /** Whoever closes what only would have been stored wants none of it. */
  const close = () => {
    if (stage === 'reading' || stage === 'preview') void order('stop')
    onClose()
  }

  return (
    <section className={styles.side} aria-label="Import">
      <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center' }}>
        <h2 style={{ overflowWrap: 'anywhere' }}>Import {file?.name ?? shown?.name ?? ''}</h2>
        <Button onClick={close}>Close</Button>
      </div>
      {problem && (
        <p role="alert" style={{ color: 'var(--missing)' }}>
          {problem}
        </p>
      )}
      {shown === null && (
        <p role="alert" style={{ color: 'var(--missing)' }}>
          The server knows nothing of this import any more: it was started anew. Choose the file again; it adds only what is not in the log
          yet.
        </p>
      )}
      {!sent && !problem && <Progress words="Sending the file to the server…" />}
      {shown && <Stage state={shown} onOrder={(action) => void order(action)} onClose={close} />}
    </section>
  )
}

function Progress({ words, part }: { words: string; part?: number }) {
  return (
    <>
      <p role="status">{words}</p>
      <LinearProgress aria-label="Import" {...(part !== undefined && { variant: 'determinate', value: 100 * part })} />
    </>
  )
}

function Stage({ state, onOrder, onClose }: { state: AdifImport; onOrder: (action: 'store' | 'stop') => void; onClose: () => void }) {
  const { stage, recordsRead, ready, alreadyThere, stored, problemCount, doneBytes, totalBytes } = state
  const part = totalBytes === 0 ? 1 : doneBytes / totalBytes
  if (stage === 'reading')
    return (
      <>
        <Progress words={`Looking into the file: ${counted(recordsRead, 'record')} so far.`} part={part} />
        <Button variant="outlined" onClick={() => onOrder('stop')}>
          Stop
        </Button>
      </>
    )
  if (stage === 'storing')
    return (
      <>
        <Progress words={`Storing: ${stored} of ${counted(ready, 'contact')}.`} part={part} />
        <p className="muted">It goes on while you do something else.</p>
        <Button variant="outlined" onClick={() => onOrder('stop')}>
          Stop
        </Button>
      </>
    )
  return (
    <>
      {stage === 'failed' && (
        <p role="alert" style={{ color: 'var(--missing)' }}>
          {state.error}
        </p>
      )}
      <p role="status">
        {stage === 'preview'
          ? `${counted(recordsRead, 'record')} read: ${ready} new, ${alreadyThere} already in the log, ${problemCount} with a problem.`
          : `${counted(stored, 'contact')} stored.${stage === 'stopped' ? ' The import was stopped; the same file adds only the rest.' : ''}`}
      </p>
      {problemCount > 0 && (
        <>
          <p>These are left out unless the file is mended:</p>
          <ul className={styles.list}>
            {state.problems.slice(0, SHOWN_PROBLEMS).map((p) => (
              <li key={`${p.line} ${p.field} ${p.what}`}>
                line {p.line}
                {p.field && (
                  <>
                    , <span className="mono">{p.field}</span>
                  </>
                )}
                : {p.what}
              </li>
            ))}
            {problemCount > SHOWN_PROBLEMS && <li>and {problemCount - SHOWN_PROBLEMS} more</li>}
          </ul>
        </>
      )}
      {stage === 'preview' && (
        <div style={{ display: 'flex', gap: 10 }}>
          <Button variant="contained" disabled={ready === 0} onClick={() => onOrder('store')}>
            Import {ready}
          </Button>
          <Button variant="outlined" onClick={onClose}>
            Cancel
          </Button>
        </div>
      )}
    </>
  )
}
