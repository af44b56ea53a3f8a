'use client'
import { useDeferredValue, useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { keepPreviousData, useQueries, useQueryClient } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import type { Contact, ContactRow } from '@/core/log'
import { useStation } from '../live/StationProvider'
import { FileInput } from '../parts/FileInput'
import { counted } from '../parts/formats'
import { useMessages } from '../parts/Messages'
import { ContactEditor } from './ContactEditor'
import { ImportPanel, useImport } from './ImportPanel'
import { LogFilters, type Filter } from './LogFilters'
import { LogHead, LogRow } from './LogRows'
import { editContact, fetchContacts, queryString } from './logApi'
import styles from './LogScreen.module.css'

const PAGE = 100
const ROW_PX = 48

const EXPORT_WORDS: Record<Filter['origin'], (total: number) => string> = {
  air: (total) => `Export these ${total} as ADIF`,
  practice: (total) => `Export ${total} of practice as ADIF`,
  all: () => 'Export those on the air as ADIF',
}

/** The log: every contact, what is missing in it, and its way in and out as ADIF. */
export function LogScreen() {
  const client = useQueryClient()
  const stored = useStation((s) => s.storedCount)
  const waiting = useStation((s) => s.waitingContacts)
  const source = useStation((s) => s.source)
  const [search, setSearch] = useState('')
  const [filter, setFilter] = useState<Filter>({ band: '', mode: '', origin: 'air', show: 'all', sort: 'startedUtcMs', direction: 'desc' })
  const [open, setOpen] = useState<{ kind: 'contact'; row: Contact } | { kind: 'import'; file?: File }>()
  const { tell } = useMessages()
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
  const restore = async (row: Contact) => {
    await editContact(row.id, row.revision, { deletedUtcMs: null })
    await refresh()
  }
  const loadProblem = results.find((r) => r.error)?.error
  const importing = useImport()?.stage === 'storing' && open?.kind !== 'import'
  // Practice goes into a file only where it alone is shown.
  const exportHref = `/api/adif?${queryString({ ...query, origin: filter.origin === 'practice' ? 'practice' : 'air' })}`

  return (
    <div className={styles.screen}>
      <div className={styles.tools}>
        <h1 style={{ marginRight: 8 }}>Log</h1>
        <span className="muted" role="status">
          {first ? `${counted(total, 'contact')} with ${counted(first.stations, 'station')}` : 'Reading the log…'}
          {waiting > 0 && `; ${waiting} waiting for the server`}
        </span>
        <span style={{ flex: 1 }} />
        <FileInput
          inputRef={picker}
          label="ADIF file to import"
          accept=".adi,.adif,text/plain"
          onFile={(file) => setOpen({ kind: 'import', file })}
        />
        {importing ? (
          <Button variant="outlined" onClick={() => setOpen({ kind: 'import' })}>
            See the import
          </Button>
        ) : (
          <Button variant="outlined" onClick={() => picker.current?.click()}>
            Import ADIF
          </Button>
        )}
        <Button
          variant={filter.origin === 'practice' ? 'outlined' : 'contained'}
          component="a"
          href={exportHref}
          download
          disabled={total === 0 || filter.show === 'deleted'}
        >
          {EXPORT_WORDS[filter.origin](total)}
        </Button>
      </div>
      <div className={styles.tools}>
        <LogFilters search={search} filter={filter} onSearch={setSearch} onFilter={setFilter} />
      </div>
      {loadProblem && <p role="alert">{loadProblem.message}</p>}
      <div className={styles.body} data-open={open !== undefined}>
        <div className={styles.table}>
          <LogHead filter={filter} onFilter={setFilter} />
          {first && total === 0 ? (
            <div className={styles.empty}>
              <p>
                {search || filter.band || filter.mode || filter.show !== 'all'
                  ? 'No contact fits this search.'
                  : filter.origin === 'practice'
                    ? 'Nothing was practised yet.'
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
                        <LogRow
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
              tell({
                kind: 'undo',
                text: `Deleted: the contact with ${row.call}. It is kept under Show: Deleted.`,
                action: { label: 'Undo', run: () => restore(row) },
              })
              void refresh()
            }}
            onClose={() => setOpen(undefined)}
          />
        )}
        {open?.kind === 'import' && (
          <ImportPanel
            key={`${open.file?.name} ${open.file?.lastModified}`}
            {...(open.file && { file: open.file })}
            onDone={() => void refresh()}
            onClose={() => setOpen(undefined)}
          />
        )}
      </div>
    </div>
  )
}
