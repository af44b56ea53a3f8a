'use client'
import { useState } from 'react'
import { useMutation } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import TextField from '@mui/material/TextField'
import { timeHostSchema } from '@/core/links'
import { useStation } from '../../live/StationProvider'
import { useMessages } from '../../parts/Messages'
import { panelStyles } from '../../parts/Panel'
import { StateMark } from '../../parts/StateMark'
import { syncNow } from '../clockApi'
import { useClockConfig } from '../useClockConfig'

/** Time servers asked by the field computer. */
export function NetworkWay() {
  const server = useStation((s) => s.serverClock)
  const link = useStation((s) => s.serverLink)
  const { config, problem, save, amend, saving } = useClockConfig()
  const { tell } = useMessages()
  const [host, setHost] = useState('')
  const sync = useMutation({ mutationFn: syncNow })
  if (!config) return <p>{problem ?? 'Asking the server where it looks for time.'}</p>
  const { hosts, automatic } = config.network
  const parsed = timeHostSchema.safeParse(host)
  const asking = sync.isPending || server?.network.asking === true
  return (
    <>
      <p>
        A radio’s own network has no internet. <strong>Sync now, before you switch to it</strong>: the clock then stays good for hours by
        itself.
      </p>
      {hosts.length === 0 && (
        <p style={{ marginTop: 8 }}>No time server is entered yet. Two or three from different people keep each other honest.</p>
      )}
      <ul style={{ listStyle: 'none', margin: '10px 0', padding: 0 }}>
        {hosts.map((name) => {
          const status = server?.network.hosts.find((h) => h.host === name)
          return (
            <li key={name} className={panelStyles.row} style={{ minHeight: 52 }}>
              <StateMark state={!status ? 'unknown' : status.ok ? 'ready' : 'missing'} size={22} />
              <strong className="mono">{name}</strong>
              <span style={{ flex: 1 }}>
                {status
                  ? status.ok
                    ? `${status.detail}, ±${((status.uncertaintyMs ?? 0) / 1000).toFixed(3)} s`
                    : `No time: ${status.detail}.`
                  : 'not asked yet'}
              </span>
              <Button
                variant="outlined"
                aria-label={`Remove ${name}`}
                disabled={saving}
                onClick={() => {
                  save({ network: { automatic, hosts: hosts.filter((h) => h !== name) } })
                  tell({
                    kind: 'undo',
                    text: `Removed: the time server ${name}.`,
                    action: {
                      label: 'Undo',
                      run: () => amend(({ network }) => ({ network: { ...network, hosts: [...network.hosts, name] } })),
                    },
                  })
                }}
              >
                Remove
              </Button>
            </li>
          )
        })}
      </ul>
      <form
        className={panelStyles.row}
        onSubmit={(e) => {
          e.preventDefault()
          if (!parsed.success || hosts.includes(parsed.data)) return
          save({ network: { automatic, hosts: [...hosts, parsed.data] } })
          setHost('')
        }}
      >
        <TextField
          label="Name or address"
          placeholder="time.example.net"
          value={host}
          onChange={(e) => setHost(e.target.value)}
          size="small"
          sx={{ width: 280 }}
          error={host.trim() !== '' && !parsed.success}
          helperText={host.trim() !== '' && !parsed.success ? 'A host name or address, with :port when it is not 123' : undefined}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Button type="submit" variant="outlined" disabled={!parsed.success || hosts.length >= 6 || saving}>
          Add
        </Button>
        <Button variant="contained" size="large" disabled={hosts.length === 0 || asking} onClick={() => sync.mutate()}>
          {asking ? 'Asking…' : 'Sync now'}
        </Button>
        <FormControlLabel
          control={<Checkbox checked={automatic} onChange={(e) => save({ network: { hosts, automatic: e.target.checked } })} />}
          label="Ask every quarter of an hour"
        />
      </form>
      {(problem ?? sync.error?.message) && (
        <p role="alert" className={panelStyles.problem}>
          {problem ?? sync.error?.message}
        </p>
      )}
      <p className="muted" style={{ marginTop: 8 }}>
        {link
          ? `The field computer answers within ${link.roundTripMs.toFixed(0)} ms${Math.abs(link.wallAheadMs) > 80 ? `; its own clock is ${(Math.abs(link.wallAheadMs) / 1000).toFixed(2)} s ${link.wallAheadMs > 0 ? 'ahead of' : 'behind'} this device’s` : ''}.`
          : 'The field computer has not been reached yet.'}
      </p>
    </>
  )
}
