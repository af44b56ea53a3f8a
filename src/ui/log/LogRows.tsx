'use client'
import { missingFrom, type ContactQuery, type ContactRow } from '@/core/log'
import { formatLocator } from '@/core/place'
import { formatUtc, formatUtcDate } from '../parts/formats'
import type { Filter } from './LogFilters'
import styles from './LogScreen.module.css'

const COLUMNS: readonly {
  label: string
  sort?: ContactQuery['sort']
  extra?: boolean
  number?: boolean
  notes?: boolean
  small?: boolean
}[] = [
  { label: 'UTC', sort: 'startedUtcMs' },
  { label: 'Call', sort: 'call' },
  { label: 'Band', sort: 'band' },
  { label: 'Mode', sort: 'mode' },
  { label: 'Locator', sort: 'locator', small: true },
  { label: 'Sent', extra: true, number: true },
  { label: 'Received', extra: true, number: true },
  { label: 'Notes', notes: true, small: true },
]

/** The head of the list; what it can be sorted by is a button. */
export function LogHead({ filter, onFilter: setFilter }: { filter: Filter; onFilter: (filter: Filter) => void }) {
  return (
    <div className={styles.head}>
      {COLUMNS.map(({ label, sort, extra, number, notes, small }) => (
        <span
          key={label}
          className={`${extra ? styles.extra : ''} ${number ? styles.number : ''} ${notes ? styles.flags : ''} ${small ? styles.small : ''}`}
        >
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
  )
}

/** One contact. */
export function LogRow({ row, selected, onOpen }: { row: ContactRow; selected: boolean; onOpen: () => void }) {
  const missing = missingFrom(row)
  return (
    <button type="button" className={styles.row} aria-pressed={selected} onClick={onOpen}>
      <span>
        {formatUtcDate(row.startedUtcMs)} {formatUtc(row.startedUtcMs).slice(0, 5)}
      </span>
      <span className={`${styles.call} mono`}>{row.call}</span>
      <span>{row.band ?? '–'}</span>
      <span>{row.submode ?? row.mode}</span>
      <span className={`mono ${styles.small}`}>{row.locator ? formatLocator(row.locator) : '–'}</span>
      <span className={`${styles.extra} ${styles.number}`}>{row.reportSent?.replace('-', '\u2212') ?? '–'}</span>
      <span className={`${styles.extra} ${styles.number}`}>{row.reportReceived?.replace('-', '\u2212') ?? '–'}</span>
      <span className={`${styles.flags} ${styles.small}`}>
        {missing.length > 0 && <span className={styles.flag}>no {missing.join(', no ')}</span>}
        {row.duplicate && <span className={styles.flag}>duplicate</span>}
        {row.origin === 'practice' && <span className={styles.flag}>practice</span>}
        {row.name && <span>{row.name}</span>}
      </span>
    </button>
  )
}
