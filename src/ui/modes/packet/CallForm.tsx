'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { packetActSchema } from '@/core/packet/station/contracts'
import styles from './Sessions.module.css'

/** Whom to call, and by which digipeaters. */
export function CallForm({
  peer,
  via,
  onPeer,
  onVia,
  onCall,
  onFind,
}: {
  peer: string
  via: string
  onPeer: (peer: string) => void
  onVia: (via: string) => void
  onCall: (peer: string, via: string[]) => Promise<boolean>
  onFind: (peer: string) => Promise<boolean>
}) {
  const [tried, setTried] = useState(false)
  const parsed = packetActSchema.safeParse({ act: 'connect', peer, via: via.split(/[\s,]+/).filter(Boolean) })
  const problemOf = (field: string) =>
    tried && !parsed.success ? parsed.error.issues.find(({ path }) => path[0] === field)?.message : undefined
  const parsedPeer = parsed.success && parsed.data.act === 'connect' ? parsed.data.peer : undefined
  const call = async () => {
    setTried(true)
    if (!parsed.success || parsed.data.act !== 'connect') return
    if (await onCall(parsed.data.peer, parsed.data.via)) setTried(false)
  }
  return (
    <form
      className={styles.call}
      onSubmit={(event) => {
        event.preventDefault()
        void call()
      }}
    >
      <TextField
        label="Station to call"
        size="small"
        value={peer}
        onChange={(e) => onPeer(e.target.value.toUpperCase())}
        error={problemOf('peer') !== undefined}
        helperText={problemOf('peer')}
        slotProps={{ htmlInput: { autoCapitalize: 'characters', autoComplete: 'off', spellCheck: false } }}
      />
      <TextField
        label="By digipeaters"
        placeholder="none"
        size="small"
        value={via}
        onChange={(e) => onVia(e.target.value.toUpperCase())}
        error={problemOf('via') !== undefined}
        helperText={problemOf('via')}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { autoCapitalize: 'characters', autoComplete: 'off', spellCheck: false } }}
      />
      <Button type="submit" variant="contained" disabled={peer === ''}>
        Call
      </Button>
      <Button variant="outlined" disabled={parsedPeer === undefined} onClick={() => parsedPeer !== undefined && void onFind(parsedPeer)}>
        Find a way
      </Button>
    </form>
  )
}
