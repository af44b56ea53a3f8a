'use client'
import { useDeferredValue, useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { keepPreviousData, useQueries, useQueryClient } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import { bandNames, missingFrom, type Contact, type ContactQuery, type ContactRow } from '@/core/log'
import { formatLocator } from '@/core/place'
import { useStation } from '../live/StationProvider'
import { FileInput } from '../parts/FileInput'
import { formatUtc, formatUtcDate } from '../parts/formats'
import { ContactEditor } from './ContactEditor'
import { ImportPanel } from './ImportPanel'
import { editContact, fetchContacts, queryString } from './logApi'
import styles from './LogScreen.module.css'

const PAGE = 100
const ROW_PX = 48

type Filter = Pick<ContactQuery, 'band' | 'mode' | 'origin' | 'show' | 'sort' | 'direction'>

const COLUMNS: readonly { label: string; sort?: ContactQuery['sort']; extra?: boolean; number?: boolean; notes?: boolean }[] = [
  { label: 'UTC', sort: 'startedUtcMs' },
  { label: 'Call', sort: 'call' },
  { label: 'Band', sort: 'band' },
  { label: 'Mode', sort: 'mode' },
  { label: 'Locator', sort: 'locator' },
  { label: 'Sent', extra: true, number: true },
  { label: 'Got', extra: true, number: true },
  { label: 'Notes', notes: true },
]

/** The log: every contact, what is missing in it, and its way in and out as ADIF. */
export function LogScreen() {
  const client = useQueryClient()
  const stored = useStation((s) => s.storedCount)
  const waiting = useStation((s) => s.waitingContacts)
  const storeProblem = useStation((s) => s.storeProblem)
  const source = useStation((s) => s.source)
  const [search, setSearch] = useState('')
  const [filter, setFilter] = useState<Filter>({ band: '', mode: '', origin: 'all', show: 'all', sort: 'startedUtcMs', direction: 'desc' })
  const [open, setOpen] = useState<{ kind: 'contact'; row: Contact } | { kind: 'import'; file: File }>()
  const [removed, setRemoved] = useState<Contact>()
  const [problem, setProblem] = useState<string>()
  const scroller = useRef<HTMLDivElement>(null)
  const picker = useRef<HTMLInputElement>(null)
  const [pages, setPages] = useState<number[]>([0])
  const query = { ...filter, search: useDeferredValue(search) }

  const results = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['contacts', query, page],
      queryFn: () => fetchContacts({ ...query, offset: page * PAGE, limit: PAGE }),
      placeholderData: keepPreviousData,
      staleTime: 30_000,
    })),
  })
  const byPage = new Map(pages.map((page, i) => [page, results[i]?.data]))
  const first = results.find((r) => r.data)?.data
  const total = first?.total ?? 0
  const rowAt = (index: number): ContactRow | undefined => byPage.get(Math.floor(index / PAGE))?.rows[index % PAGE]

  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({ count: total, getScrollElement: () => scroller.current, estimateSize: () => ROW_PX, overscan: 12 })
  const items = virtual.getVirtualItems()
  const wanted = [...new Set([items[0]?.index ?? 0, items[items.length - 1]?.index ?? 0].map((i) => Math.floor(i / PAGE)))].join(',')
  useEffect(() => {
    // Which pages are in sight is known only after the rows were laid out.
    setPages(wanted.split(',').map(Number))
  }, [wanted])
  useEffect(() => {
    void client.invalidateQueries({ queryKey: ['contacts'] })
  }, [client, stored])

  const refresh = () => client.invalidateQueries({ queryKey: ['contacts'] })
  const undo = async () => {
    if (!removed) return
    try {
      await editContact(removed.id, removed.revision, { deletedUtcMs: null })
      setRemoved(undefined)
      await refresh()
    } catch (error) {
      setProblem((error as Error).message)
    }
  }
  const loadProblem = results.find((r) => r.error)?.error
  const exportHref = `/api/adif?${queryString({ ...query })}`

  return (
    <div className={styles.screen}>
      <div className={styles.tools}>
        <h1 style={{ marginRight: 8 }}>Log</h1>
        <span className="muted" role="status">
          {first ? `${total} contacts with ${first.stations} stations` : 'Reading the log…'}
          {waiting > 0 && `; ${waiting} waiting for the server`}
        </span>
        <span style={{ flex: 1 }} />
        <FileInput
          inputRef={picker}
          label="ADIF file to import"
          accept=".adi,.adif,text/plain"
          onFile={(file) => setOpen({ kind: 'import', file })}
        />
        <Button variant="outlined" onClick={() => picker.current?.click()}>
          Import ADIF
        </Button>
        <Button variant="contained" component="a" href={exportHref} download disabled={total === 0}>
          Export these {total} as ADIF
        </Button>
      </div>
      <div className={styles.tools}>
        <TextField
          size="small"
          label="Search"
          placeholder="call, locator, name…"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          sx={{ width: 220 }}
          type="search"
        />
        <Choice
          label="Contacts"
          value={filter.origin}
          onChange={(origin) => setFilter({ ...filter, origin: origin as Filter['origin'] })}
          options={[
            ['all', 'All'],
            ['air', 'On the air'],
            ['practice', 'Practice'],
          ]}
          width={140}
        />
        <Choice
          label="Show"
          value={filter.show}
          onChange={(show) => setFilter({ ...filter, show: show as Filter['show'] })}
          options={[
            ['all', 'Everything'],
            ['missing', 'Something missing'],
            ['duplicates', 'Duplicates'],
          ]}
          width={190}
        />
        <Choice
          label="Band"
          value={filter.band}
          onChange={(band) => setFilter({ ...filter, band })}
          options={[['', 'Any'], ...bandNames.map((b) => [b, b] as const)]}
          width={110}
        />
        <Choice
          label="Mode"
          value={filter.mode}
          onChange={(mode) => setFilter({ ...filter, mode })}
          options={[
            ['', 'Any'],
            ['FT8', 'FT8'],
            ['PSK31', 'PSK31'],
            ['PKT', 'Packet'],
            ['SSB', 'SSB'],
            ['CW', 'CW'],
            ['FM', 'FM'],
          ]}
          width={110}
        />
      </div>
      {(problem ?? storeProblem ?? loadProblem?.message) && <p role="alert">{problem ?? storeProblem ?? loadProblem?.message}</p>}
      {removed && (
        <div className={styles.undo} role="status">
          <span>
            Contact with <strong className="mono">{removed.call}</strong> deleted.
          </span>
          <Button variant="outlined" onClick={() => void undo()}>
            Undo
          </Button>
          <Button onClick={() => setRemoved(undefined)}>Leave it so</Button>
        </div>
      )}
      <div className={styles.body} data-open={open !== undefined}>
        <div className={styles.table}>
          <div className={styles.head}>
            {COLUMNS.map(({ label, sort, extra, number, notes }) => (
              <span key={label} className={`${extra ? styles.extra : ''} ${number ? styles.number : ''} ${notes ? styles.flags : ''}`}>
                {sort ? (
                  <button
                    type="button"
                    aria-label={`Sort by ${label}${filter.sort === sort ? `, now ${filter.direction === 'asc' ? 'ascending' : 'descending'}` : ''}`}
                    onClick={() =>
                      setFilter({ ...filter, sort, direction: filter.sort === sort && filter.direction === 'desc' ? 'asc' : 'desc' })
                    }
                  >
                    {label} {filter.sort === sort ? (filter.direction === 'asc' ? '↑' : '↓') : ''}
                  </button>
                ) : (
                  <strong>{label}</strong>
                )}
              </span>
            ))}
          </div>
          {first && total === 0 ? (
            <div className={styles.empty}>
              <p>
                {search || filter.band || filter.mode || filter.show !== 'all' || filter.origin !== 'all'
                  ? 'No contact fits this search.'
                  : 'No contacts yet. They arrive here by themselves when an exchange completes.'}
              </p>
              {source.kind === 'none' && <p className="muted">An ADIF file from elsewhere can be imported above.</p>}
            </div>
          ) : (
            <div ref={scroller} className={styles.rows} tabIndex={0} role="region" aria-label="Contacts">
              <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
                {items.map((item) => {
                  const row = rowAt(item.index)
                  return (
                    <div
                      key={item.key}
                      style={{ position: 'absolute', top: 0, left: 0, right: 0, transform: `translateY(${item.start}px)` }}
                    >
                      {row ? (
                        <Row
                          row={row}
                          selected={open?.kind === 'contact' && open.row.id === row.id}
                          onOpen={() => setOpen({ kind: 'contact', row })}
                        />
                      ) : (
                        <div className={styles.row}>
                          <span className="muted">reading…</span>
                        </div>
                      )}
                    </div>
                  )
                })}
              </div>
            </div>
          )}
        </div>
        {open?.kind === 'contact' && (
          <ContactEditor
            key={`${open.row.id} ${open.row.revision}`}
            contact={open.row}
            onSaved={(row) => {
              setOpen({ kind: 'contact', row })
              void refresh()
            }}
            onRemoved={(row) => {
              setOpen(undefined)
              setRemoved(row)
              void refresh()
            }}
            onClose={() => setOpen(undefined)}
          />
        )}
        {open?.kind === 'import' && (
          <ImportPanel
            key={`${open.file.name} ${open.file.lastModified}`}
            file={open.file}
            onDone={() => void refresh()}
            onClose={() => setOpen(undefined)}
          />
        )}
      </div>
    </div>
  )
}

function Choice({
  label,
  value,
  onChange,
  options,
  width,
}: {
  label: string
  value: string
  onChange: (value: string) => void
  options: readonly (readonly [string, string])[]
  width: number
}) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      sx={{ width }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {options.map(([id, words]) => (
        <MenuItem key={id} value={id}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  )
}

function Row({ row, selected, onOpen }: { row: ContactRow; selected: boolean; onOpen: () => void }) {
  const missing = missingFrom(row)
  return (
    <button type="button" className={styles.row} aria-pressed={selected} onClick={onOpen}>
      <span>
        {formatUtcDate(row.startedUtcMs)} {formatUtc(row.startedUtcMs).slice(0, 5)}
      </span>
      <span className={`${styles.call} mono`}>{row.call}</span>
      <span>{row.band ?? '–'}</span>
      <span>{row.submode ?? row.mode}</span>
      <span className="mono">{row.locator ? formatLocator(row.locator) : '–'}</span>
      <span className={`${styles.extra} ${styles.number}`}>{row.reportSent?.replace('-', '\u2212') ?? '–'}</span>
      <span className={`${styles.extra} ${styles.number}`}>{row.reportReceived?.replace('-', '\u2212') ?? '–'}</span>
      <span className={styles.flags}>
        {missing.length > 0 && <span className={styles.flag}>no {missing.join(', no ')}</span>}
        {row.duplicate && <span className={styles.flag}>duplicate</span>}
        {row.origin === 'practice' && <span className={styles.flag}>practice</span>}
        {row.name && <span>{row.name}</span>}
      </span>
    </button>
  )
}
