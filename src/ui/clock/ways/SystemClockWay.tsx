'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import { useStation } from '../../live/StationProvider'
import { formatClockError } from '@/core/time'
import styles from '../ClockScreen.module.css'

/** Commands that set the computer's clock to a time in UTC. */
function systemClockCommands(utcMs: number): { system: string; command: string }[] {
  const iso = new Date(utcMs).toISOString()
  const [date, time] = [iso.slice(0, 10), iso.slice(11, 19)]
  const [year, month, day] = date.split('-') as [string, string, string]
  const [hours, minutes, seconds] = time.split(':') as [string, string, string]
  return [
    { system: 'Linux', command: `sudo date -u -s '${date} ${time}'` },
    { system: 'macOS', command: `sudo date -u ${month}${day}${hours}${minutes}${year}.${seconds}` },
    { system: 'Windows, in a PowerShell run as administrator', command: `Set-Date -Date ([DateTime]::Parse('${date}T${time}Z'))` },
  ]
}

/** For those who want the computer's own clock right as well: the commands, shown and never run. */
export function SystemClockWay({ now }: { now: number | undefined }) {
  const points = useStation((s) => s.clockPoints)
  const [copied, setCopied] = useState<string>()
  const computer = points.findLast((p) => p.source === 'computer')
  // A minute to come: there is time to paste the command and to press Enter at the right second.
  const atUtcMs = now === undefined ? undefined : Math.ceil((now + 30_000) / 60_000) * 60_000
  const copy = async (command: string) => {
    try {
      await navigator.clipboard.writeText(command)
      setCopied('Copied.')
    } catch {
      setCopied('This page may not copy: mark the text and copy it yourself.')
    }
  }
  return (
    <>
      <p>
        Zeptik does not need the computer’s clock to be right and never sets it
        {computer && Math.abs(computer.errorMs) >= 5 ? `; it is ${formatClockError(computer.errorMs)} now` : ''}. To set it yourself, paste
        the command for your system and press Enter exactly at{' '}
        {atUtcMs === undefined ? 'the minute' : new Date(atUtcMs).toISOString().slice(11, 19)} by the clock above. It needs administrator
        rights; without them most systems do nothing and say nothing.
      </p>
      {atUtcMs !== undefined &&
        systemClockCommands(atUtcMs).map(({ system, command }) => (
          <div key={system} style={{ marginTop: 10 }}>
            <span className="muted">{system}</span>
            <div className={styles.code}>
              <code className="mono">{command}</code>
              <Button variant="outlined" onClick={() => void copy(command)} aria-label={`Copy the command for ${system}`}>
                Copy
              </Button>
            </div>
          </div>
        ))}
      <p role="status">{copied}</p>
    </>
  )
}
