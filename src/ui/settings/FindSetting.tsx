import { useRouter } from 'next/navigation'
import Autocomplete, { createFilterOptions } from '@mui/material/Autocomplete'
import TextField from '@mui/material/TextField'
import { screenAt } from '../frame/screens'
import { SETTING_PLACES } from './settingPlaces'

const filter = createFilterOptions<(typeof SETTING_PLACES)[number]>({
  stringify: ({ label, also, path }) => `${label} ${also ?? ''} ${screenAt(path).title}`,
})

/** Finds what can be set, wherever it stands, and goes there. */
export function FindSetting() {
  const router = useRouter()
  return (
    <Autocomplete
      options={[...SETTING_PLACES]}
      filterOptions={filter}
      getOptionLabel={({ label }) => label}
      getOptionKey={({ label, path }) => `${path} ${label}`}
      renderOption={({ key, ...props }, { label, path }) => (
        <li key={key} {...props}>
          <span style={{ flex: 1 }}>{label}</span>
          <span className="muted">{screenAt(path).title}</span>
        </li>
      )}
      renderInput={(params) => <TextField {...params} label="Find a setting" placeholder="Night, baud, grid, VOX …" />}
      noOptionsText="Nothing by that name"
      value={null}
      blurOnSelect
      onChange={(_, found) => found && router.push(found.path)}
      sx={{ maxWidth: 520 }}
    />
  )
}
