'use client'
import { useState } from 'react'
import TextField from '@mui/material/TextField'

interface DraftFieldProps {
  label: string
  helperText?: string
  value: number | null
  /** What an empty field means: nothing allowed, or not known. */
  optional?: boolean
  onChange: (value: number | null) => void
}

/** A number that is being typed: taken as soon as it is one, and shown as it was typed until then. */
export function DraftField({ label, helperText, value, optional = false, onChange }: DraftFieldProps) {
  const [text, setText] = useState<string>()
  const parse = (typed: string): number | null | undefined => {
    if (typed.trim() === '') return optional ? null : undefined
    const number = Number(typed.replace(',', '.'))
    return Number.isFinite(number) ? number : undefined
  }
  const bad = text !== undefined && parse(text) === undefined
  return (
    <TextField
      label={label}
      helperText={bad ? 'This is no number yet' : helperText}
      error={bad}
      value={text ?? (value === null ? '' : String(value))}
      slotProps={{ htmlInput: { inputMode: 'decimal' } }}
      onChange={(e) => {
        setText(e.target.value)
        const number = parse(e.target.value)
        if (number !== undefined) onChange(number)
      }}
      onBlur={() => setText(undefined)}
      fullWidth
    />
  )
}
