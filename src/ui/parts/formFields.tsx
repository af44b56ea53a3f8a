'use client'
import { Controller, useFormContext, type FieldPath, type FieldValues } from 'react-hook-form'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'

interface FieldProps<Values extends FieldValues> {
  name: FieldPath<Values>
  label: string
  /** Stands below it while nothing is wrong. */
  help?: string
}

/** A line of text of the form around it; what is wrong with it stands below. @param kind what it holds: capitals, or a number as it is typed */
export function FormText<Values extends FieldValues>({
  name,
  label,
  help,
  kind = 'words',
  small = false,
}: FieldProps<Values> & { kind?: 'words' | 'capitals' | 'number'; small?: boolean }) {
  const { control } = useFormContext<Values>()
  return (
    <Controller
      control={control}
      name={name}
      render={({ field: { ref, onChange, ...field }, fieldState: { error } }) => (
        <TextField
          {...field}
          size={small ? 'small' : 'medium'}
          inputRef={ref}
          onChange={(e) => onChange(kind === 'capitals' ? e.target.value.toUpperCase() : e.target.value)}
          label={label}
          error={error !== undefined}
          helperText={error?.message ?? help}
          slotProps={{
            htmlInput:
              kind === 'number'
                ? { inputMode: 'decimal' }
                : { autoCapitalize: kind === 'capitals' ? 'characters' : 'sentences', spellCheck: false },
          }}
          fullWidth
        />
      )}
    />
  )
}

/** A choice of the form around it. */
export function FormChoice<Values extends FieldValues>({
  name,
  label,
  help,
  options,
}: FieldProps<Values> & { options: Readonly<Record<string, string>> }) {
  const { control } = useFormContext<Values>()
  return (
    <Controller
      control={control}
      name={name}
      render={({ field: { ref, ...field }, fieldState: { error } }) => (
        <TextField select {...field} inputRef={ref} label={label} error={error !== undefined} helperText={error?.message ?? help} fullWidth>
          {Object.entries(options).map(([value, words]) => (
            <MenuItem key={value} value={value}>
              {words}
            </MenuItem>
          ))}
        </TextField>
      )}
    />
  )
}
