'use client'
import { useEffect, useState } from 'react'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import type { ImportPreview } from '@/core/log'
import { counted } from '../parts/formats'
import { sendAdif } from './logApi'
import styles from './LogScreen.module.css'

type Stage =
  | { kind: 'reading' }
  | { kind: 'preview'; preview: ImportPreview }
  | { kind: 'storing' }
  | { kind: 'done'; preview: ImportPreview }
  | { kind: 'problem'; error: string }

/** Shows what an ADIF file would add before anything is stored. */
export function ImportPanel({ file, onDone, onClose }: { file: File; onDone: () => void; onClose: () => void }) {
  const [stage, setStage] = useState<Stage>({ kind: 'reading' })
  useEffect(() => {
    let over = false
    sendAdif(file, false)
      .then((preview) => over || setStage({ kind: 'preview', preview }))
      .catch((error: Error) => over || setStage({ kind: 'problem', error: error.message }))
    return () => {
      over = true
    }
  }, [file])
  const store = async () => {
    setStage({ kind: 'storing' })
    try {
      setStage({ kind: 'done', preview: await sendAdif(file, true) })
      onDone()
    } catch (error) {
      setStage({ kind: 'problem', error: (error as Error).message })
    }
  }
  return (
    <section className={styles.side} aria-label="Import">
      <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center' }}>
        <h2>Import {file.name}</h2>
        <Button onClick={onClose}>Close</Button>
      </div>
      {(stage.kind === 'reading' || stage.kind === 'storing') && (
        <>
          <p role="status">{stage.kind === 'reading' ? 'Looking into the file…' : 'Storing…'}</p>
          <LinearProgress aria-label="Import" />
        </>
      )}
      {stage.kind === 'problem' && (
        <p role="alert" style={{ color: 'var(--missing)' }}>
          {stage.error} Nothing was imported.
        </p>
      )}
      {stage.kind === 'done' && <p role="status">{counted(stage.preview.stored, 'contact')} stored.</p>}
      {stage.kind === 'preview' && (
        <>
          <p role="status">
            {counted(stage.preview.recordsRead, 'record')} read: {stage.preview.ready} new, {stage.preview.alreadyThere} already in the log,{' '}
            {stage.preview.problems.length} with a problem.
          </p>
          {stage.preview.problems.length > 0 && (
            <>
              <p>These are left out unless the file is mended:</p>
              <ul className={styles.list}>
                {stage.preview.problems.slice(0, 30).map((p) => (
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
              </ul>
            </>
          )}
          <div style={{ display: 'flex', gap: 10 }}>
            <Button variant="contained" disabled={stage.preview.ready === 0} onClick={() => void store()}>
              Store {counted(stage.preview.ready, 'contact')}
            </Button>
            <Button variant="outlined" onClick={onClose}>
              Import nothing
            </Button>
          </div>
        </>
      )}
    </section>
  )
}
