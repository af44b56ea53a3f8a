import { useState } from 'react'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import type { HeardFrame } from '@/core/links'
import { formatUtc } from '../../parts/formats'
import styles from './links.module.css'

const SHOWN = 8

/** The frames a TNC heard, newest last: who to whom by which way, and as one line where somebody reads those. */
export function FrameTable({ frames }: { frames: readonly HeardFrame[] }) {
  const [lines, setLines] = useState(false)
  const shown = frames.slice(-SHOWN)
  return (
    <div>
      {lines ? (
        <ul className={`${styles.frames} mono`} aria-label="Frames heard">
          {shown.map((frame) => (
            <li key={frame.sequence}>{`${frame.line} ${frame.kind} ${frame.text}`}</li>
          ))}
        </ul>
      ) : (
        <div className={styles.wideTable}>
          <table className={styles.frameTable} aria-label="Frames heard">
            <thead>
              <tr>
                {['UTC', 'From', 'To', 'Via', 'Kind', 'Text'].map((name) => (
                  <th key={name} scope="col">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {shown.map((frame) => (
                <tr key={frame.sequence}>
                  <td>{formatUtc(frame.utcMs)}</td>
                  <td className="mono">{frame.from}</td>
                  <td className="mono">{frame.to}</td>
                  <td>
                    {frame.via.length === 0
                      ? 'direct'
                      : frame.via.map(({ call, repeated }) => `${call}${repeated ? ', repeated' : ''}`).join('; ')}
                  </td>
                  <td>{frame.kind}</td>
                  <td>{frame.text}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <FormControlLabel control={<Switch checked={lines} onChange={(e) => setLines(e.target.checked)} />} label="Monitor lines" />
    </div>
  )
}
