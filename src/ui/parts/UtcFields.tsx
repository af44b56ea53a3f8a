import { DateTime } from 'luxon'
import { AdapterLuxon } from '@mui/x-date-pickers/AdapterLuxon'
import { DateTimeField } from '@mui/x-date-pickers/DateTimeField'
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider'
import { TimeField } from '@mui/x-date-pickers/TimeField'
import { useState, type ReactNode } from 'react'

// Of twenty-four hours and in UTC, whatever the browser's language and place: as it goes into the log.
const SHARED = { ampm: false, timezone: 'UTC', fullWidth: true } as const
const Utc = ({ children }: { children: ReactNode }) => (
  <LocalizationProvider dateAdapter={AdapterLuxon} adapterLocale="en-GB">
    {children}
  </LocalizationProvider>
)

interface FieldProps {
  label: string
  /** Where it begins; what is typed is then the field's own, for a half-typed time must not be taken away. */
  value: number | null
  /** Told null while it is no time. */
  onChange: (value: number | null) => void
}

/** A day and a time in UTC, in milliseconds. */
export function UtcDateTimeField({ label, value, onChange }: FieldProps) {
  const [begin] = useState(() => (value === null ? null : DateTime.fromMillis(value, { zone: 'utc' })))
  return (
    <Utc>
      <DateTimeField
        {...SHARED}
        label={label}
        format="yyyy-MM-dd HH:mm"
        defaultValue={begin}
        onChange={(date) => onChange(date?.isValid ? date.toMillis() : null)}
      />
    </Utc>
  )
}

/** A time of the day in UTC, in minutes after midnight. */
export function UtcTimeField({ label, value, onChange }: FieldProps) {
  const [begin] = useState(() =>
    value === null ? null : DateTime.fromObject({ year: 2000, hour: Math.floor(value / 60), minute: value % 60 }, { zone: 'utc' }),
  )
  return (
    <Utc>
      <TimeField
        {...SHARED}
        label={label}
        format="HH:mm"
        defaultValue={begin}
        onChange={(time) => onChange(time?.isValid ? time.hour * 60 + time.minute : null)}
      />
    </Utc>
  )
}
