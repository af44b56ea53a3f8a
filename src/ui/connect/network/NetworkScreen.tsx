'use client'
import { useState } from 'react'
import Link from 'next/link'
import { useMutation } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import {
  addressBookViewSchema,
  beforeSwitching,
  TOPOLOGIES,
  TOPOLOGY_WORDS,
  type AddressBookView,
  type AddressEntry,
  type Topology,
} from '@/core/links'
import { newId } from '@/engine/station/newId'
import { useMessages } from '../../parts/Messages'
import { Page, Panel, panelStyles } from '../../parts/Panel'
import { StateMark } from '../../parts/StateMark'
import { useDocument } from '../../parts/useDocument'
import { ConnectTabs } from '../ConnectTabs'
import { useLinkConfig } from '../links/useLinkConfig'
import { AddressEditor } from './AddressEditor'
import styles from './network.module.css'
import { reach } from './networkApi'

type Book = ReturnType<typeof useDocument<typeof addressBookViewSchema>>

/** Radios and TNCs in the network: their addresses in each network, and whether they can be reached today. */
export function NetworkScreen() {
  const book = useDocument('network', addressBookViewSchema, '/api/network')
  return (
    <Page
      title="Network"
      lead="Where radios and TNCs in the network are found: at home, in the radio’s own network, at a telephone’s hotspot."
    >
      <ConnectTabs />
      {book.problem && (
        <p role="alert" className={panelStyles.problem}>
          {book.problem}
        </p>
      )}
      {book.value && (
        <>
          <TopologyPanel book={book} value={book.value} />
          <AddressPanel book={book} value={book.value} />
        </>
      )}
    </Page>
  )
}

function TopologyPanel({ book, value }: { book: Book; value: AddressBookView }) {
  const [asked, setAsked] = useState<Topology>()
  const [done, setDone] = useState<readonly string[]>([])
  const ask = (topology: Topology) => {
    setAsked(topology === value.topology ? undefined : topology)
    setDone([])
  }
  const steps = asked ? beforeSwitching(asked) : []
  return (
    <Panel title={`Today: ${TOPOLOGY_WORDS[value.topology].toLowerCase()}`} id="today">
      <div className={panelStyles.row} role="group" aria-label="Network of today">
        {TOPOLOGIES.map((topology) => (
          <Button
            key={topology}
            variant={value.topology === topology ? 'contained' : 'outlined'}
            aria-pressed={value.topology === topology}
            onClick={() => ask(topology)}
          >
            {TOPOLOGY_WORDS[topology]}
          </Button>
        ))}
      </div>
      {asked && (
        <div className={panelStyles.check} role="group" aria-label="Before changing the network" style={{ marginTop: 12 }}>
          <strong>Before changing to {TOPOLOGY_WORDS[asked].toLowerCase()}</strong>
          {steps.map((step) => (
            <span key={step} className={panelStyles.row}>
              <FormControlLabel
                control={
                  <Checkbox
                    checked={done.includes(step)}
                    onChange={(e) => setDone(e.target.checked ? [...done, step] : done.filter((d) => d !== step))}
                  />
                }
                label={step}
              />
              {/clock/i.test(step) && <Link href="/clock">Open the clock</Link>}
            </span>
          ))}
          <div className={panelStyles.row}>
            <Button
              variant="contained"
              onClick={() => {
                book.save({ ...value, topology: asked })
                setAsked(undefined)
              }}
            >
              {done.length === steps.length ? 'Done: change' : 'Change anyway'}
            </Button>
            <Button variant="text" onClick={() => setAsked(undefined)}>
              Stay
            </Button>
          </div>
        </div>
      )}
    </Panel>
  )
}

function AddressPanel({ book, value }: { book: Book; value: AddressBookView }) {
  const { tell } = useMessages()
  const [open, setOpen] = useState<string>()
  const fresh = (): AddressEntry => ({ id: newId(), name: '', kind: 'radio', user: '', places: {} })
  const [added, setAdded] = useState<AddressEntry>()
  const store = (entry: AddressEntry) => {
    const known = value.entries.some((e) => e.id === entry.id)
    book.save({ ...value, entries: known ? value.entries.map((e) => (e.id === entry.id ? entry : e)) : [...value.entries, entry] })
    setOpen(undefined)
    setAdded(undefined)
  }
  return (
    <Panel
      title="Address book"
      aside={
        <Button variant="outlined" onClick={() => setAdded(fresh())} disabled={added !== undefined}>
          New address
        </Button>
      }
    >
      {value.entries.length === 0 && !added && (
        <p className="muted">No address yet. A radio or TNC has another one in each network: enter those that you use.</p>
      )}
      <ul className={styles.entries} aria-label="Addresses">
        {value.entries.map((entry) =>
          open === entry.id ? (
            <li key={entry.id}>
              <AddressEditor
                entry={entry}
                view={value}
                onTake={book.take}
                onSave={store}
                onCancel={() => setOpen(undefined)}
                onRemove={() => {
                  book.save({ ...value, entries: value.entries.filter((e) => e.id !== entry.id) })
                  tell({
                    kind: 'undo',
                    text: `Removed: the address ${entry.name}.${entry.user ? ' Its password is gone for good.' : ''}`,
                    action: { label: 'Undo', run: () => book.amend((now) => ({ ...now, entries: [...now.entries, entry] })) },
                  })
                  setOpen(undefined)
                }}
              />
            </li>
          ) : (
            <Entry key={entry.id} entry={entry} view={value} onOpen={() => setOpen(entry.id)} />
          ),
        )}
        {added && (
          <li>
            <AddressEditor entry={added} view={value} onTake={book.take} onSave={store} onCancel={() => setAdded(undefined)} />
          </li>
        )}
      </ul>
    </Panel>
  )
}

function Entry({ entry, view, onOpen }: { entry: AddressEntry; view: AddressBookView; onOpen: () => void }) {
  const test = useMutation({ mutationFn: reach })
  const { config, save, problem } = useLinkConfig()
  const place = entry.places[view.topology]
  const part = entry.kind === 'radio' ? 'control' : 'tnc'
  const useWords = entry.kind === 'radio' ? 'Use for control' : 'Use as TNC'
  const used =
    place && config?.[part].port?.kind === 'tcp' && config[part].port.host === place.host && config[part].port.port === place.port
  return (
    <li className={styles.entry}>
      <span className={styles.name}>
        <strong>{entry.name}</strong>
        <span className="muted">{entry.kind === 'radio' ? 'radio' : 'TNC'}</span>
      </span>
      <span>
        {place ? (
          <span className="mono">
            {place.host}:{place.port}
          </span>
        ) : (
          <span className="muted">no address for {TOPOLOGY_WORDS[view.topology].toLowerCase()}</span>
        )}
        {used && <strong> · in use</strong>}
        {view.unreadable.includes(entry.id) && (
          <span className={panelStyles.problem}> Its password cannot be read any more: enter it again.</span>
        )}
      </span>
      <span className={panelStyles.row}>
        <Button
          variant="outlined"
          disabled={!place || test.isPending}
          onClick={() => place && test.mutate(place)}
          aria-label={`Test ${entry.name}`}
        >
          {test.isPending ? 'Trying…' : 'Test'}
        </Button>
        <Button
          variant="outlined"
          disabled={!place || !config || used}
          aria-label={`${useWords}: ${entry.name}`}
          onClick={() =>
            place && config && save({ ...config, [part]: { ...config[part], enabled: true, port: { kind: 'tcp', ...place } } })
          }
        >
          {useWords}
        </Button>
        <Button variant="text" onClick={onOpen} aria-label={`Change ${entry.name}`}>
          Change
        </Button>
      </span>
      {(test.data || test.isError || problem) && (
        <p className={styles.result} role="status">
          <StateMark state={test.data?.ok ? 'ready' : 'missing'} size={20} />
          <span>{test.data ? `${test.data.words} ${test.data.advice}` : (test.error?.message ?? problem)}</span>
        </p>
      )}
    </li>
  )
}
