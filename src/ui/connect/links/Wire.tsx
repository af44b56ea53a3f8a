'use client'
import { useState } from 'react'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import type { LinkState, TriedLink } from '@/core/links'
import styles from './links.module.css'

/** What crosses a link, in hex and as text, while someone wants to see it. */
export function Wire({ link, state }: { link: TriedLink; state: LinkState | undefined }) {
  const [shown, setShown] = useState(false)
  const entries = (state?.wire ?? []).filter((entry) => entry.link === link).slice(-12)
  return (
    <div>
      <FormControlLabel control={<Switch checked={shown} onChange={(e) => setShown(e.target.checked)} />} label="Show raw data" />
      {shown &&
        (entries.length === 0 ? (
          <p className="muted">Nothing has crossed it yet.</p>
        ) : (
          <table className={styles.wire} aria-label="Bytes on the link">
            <tbody>
              {entries.map((entry) => (
                <tr key={entry.sequence}>
                  <td>{entry.way === 'in' ? 'from it' : 'to it'}</td>
                  <td className={styles.mono}>{entry.hex}</td>
                  <td className={styles.mono}>{entry.text}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ))}
    </div>
  )
}
