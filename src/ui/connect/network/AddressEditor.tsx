'use client'
import { useState } from 'react'
import { useMutation } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { addressEntrySchema, TOPOLOGIES, TOPOLOGY_WORDS, type AddressBookView, type AddressEntry, type Topology } from '@/core/links'
import { panelStyles } from '../../parts/Panel'
import styles from './network.module.css'
import { setPassword } from './networkApi'

interface AddressEditorProps {
  entry: AddressEntry
  view: AddressBookView
  onSave: (entry: AddressEntry) => void
  onCancel: () => void
  onRemove?: () => void
  /** The server told the book anew. */
  onTake: (view: AddressBookView) => void
}

type Draft = Record<Topology, { host: string; port: string }>

/** Name, addresses and login of one radio or TNC. */
export function AddressEditor({ entry, view, onSave, onCancel, onRemove, onTake }: AddressEditorProps) {
  const [name, setName] = useState(entry.name)
  const [kind, setKind] = useState(entry.kind)
  const [user, setUser] = useState(entry.user)
  const [places, setPlaces] = useState<Draft>(
    () =>
      Object.fromEntries(
        TOPOLOGIES.map((t) => [t, { host: entry.places[t]?.host ?? '', port: String(entry.places[t]?.port ?? '') }]),
      ) as Draft,
  )
  const [problem, setProblem] = useState('')
  const set = (topology: Topology, part: Partial<Draft[Topology]>) => setPlaces({ ...places, [topology]: { ...places[topology], ...part } })
  const save = () => {
    const given = TOPOLOGIES.filter((t) => places[t].host.trim() !== '' || places[t].port.trim() !== '')
    const parsed = addressEntrySchema.safeParse({
      ...{ id: entry.id, name, kind, user },
      places: Object.fromEntries(given.map((t) => [t, { host: places[t].host, port: Number(places[t].port || NaN) }])),
    })
    if (parsed.success) return onSave(parsed.data)
    const { path, message } = parsed.error.issues[0]!
    const where = TOPOLOGIES.find((t) => t === path[1])
    setProblem(`${where ? `${TOPOLOGY_WORDS[where]}: ` : ''}${message}.`)
  }
  const stored = view.entries.some((e) => e.id === entry.id)
  return (
    <form
      className={styles.editor}
      aria-label={entry.name === '' ? 'New address' : `Change ${entry.name}`}
      onSubmit={(e) => {
        e.preventDefault()
        save()
      }}
    >
      <div className={panelStyles.row}>
        <TextField size="small" label="Its name" value={name} onChange={(e) => setName(e.target.value)} sx={{ width: 240 }} />
        <TextField
          select
          size="small"
          label="It is a"
          value={kind}
          onChange={(e) => setKind(e.target.value as AddressEntry['kind'])}
          sx={{ width: 150 }}
        >
          <MenuItem value="radio">radio</MenuItem>
          <MenuItem value="tnc">KISS TNC</MenuItem>
        </TextField>
      </div>
      {TOPOLOGIES.map((topology) => (
        <div key={topology} className={panelStyles.row}>
          <span className={styles.topology}>{TOPOLOGY_WORDS[topology]}</span>
          <TextField
            size="small"
            label="Address"
            value={places[topology].host}
            onChange={(e) => set(topology, { host: e.target.value })}
            slotProps={{ htmlInput: { 'aria-label': `${TOPOLOGY_WORDS[topology]}, address` } }}
            sx={{ width: 240 }}
          />
          <TextField
            size="small"
            label="TCP port"
            value={places[topology].port}
            onChange={(e) => set(topology, { port: e.target.value })}
            slotProps={{ htmlInput: { 'aria-label': `${TOPOLOGY_WORDS[topology]}, TCP port`, inputMode: 'numeric' } }}
            sx={{ width: 120 }}
          />
        </div>
      ))}
      <div className={panelStyles.row}>
        <TextField
          size="small"
          label="User, if it asks for one"
          value={user}
          onChange={(e) => setUser(e.target.value)}
          sx={{ width: 240 }}
        />
        {stored ? (
          <PasswordField id={entry.id} known={view.withPassword.includes(entry.id)} onTake={onTake} />
        ) : (
          <span className="muted">A password can be entered after saving.</span>
        )}
      </div>
      {problem && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      <div className={panelStyles.row}>
        <Button type="submit" variant="contained">
          Save the address
        </Button>
        <Button variant="text" onClick={onCancel}>
          Leave it as it was
        </Button>
        {onRemove && (
          <Button variant="text" onClick={onRemove}>
            Remove it
          </Button>
        )}
      </div>
    </form>
  )
}

function PasswordField({ id, known, onTake }: { id: string; known: boolean; onTake: (view: AddressBookView) => void }) {
  const [password, set] = useState('')
  const store = useMutation({
    mutationFn: setPassword,
    onSuccess: (view) => {
      onTake(view)
      set('')
    },
  })
  return (
    <>
      <TextField
        size="small"
        type="password"
        autoComplete="new-password"
        label={known ? 'Another password' : 'Password'}
        value={password}
        onChange={(e) => set(e.target.value)}
        sx={{ width: 200 }}
      />
      <Button variant="outlined" disabled={password === '' || store.isPending} onClick={() => store.mutate({ id, password })}>
        Keep the password
      </Button>
      {known && (
        <Button variant="text" onClick={() => store.mutate({ id, password: null })}>
          Forget it
        </Button>
      )}
      <span className="muted" role="status">
        {store.isError ? store.error.message : known ? 'One is kept, sealed, on the field computer. It is never shown.' : ''}
      </span>
    </>
  )
}
