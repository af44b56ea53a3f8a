'use client'
import { MODE_IDS, MODES } from '@/core/modes'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { bandNames, type ContactQuery } from '@/core/log'

export type Filter = Pick<ContactQuery, 'band' | 'mode' | 'origin' | 'show' | 'sort' | 'direction'>

/** Which contacts are shown: by what is in them, where they are from, and what is wrong with them. */
export function LogFilters({
  search,
  filter,
  onSearch: setSearch,
  onFilter: setFilter,
}: {
  search: string
  filter: Filter
  onSearch: (search: string) => void
  onFilter: (filter: Filter) => void
}) {
  return (
    <>
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
          ['air', 'On the air'],
          ['practice', 'Practice'],
          ['all', 'Both'],
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
          ['deleted', 'Deleted'],
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
          ...MODE_IDS.map((id) => [MODES[id].adif.submode ?? MODES[id].adif.mode, MODES[id].name] as const),
          ['SSB', 'SSB'],
          ['CW', 'CW'],
          ['FM', 'FM'],
        ]}
        width={110}
      />
    </>
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
