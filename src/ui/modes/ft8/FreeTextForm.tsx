'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { packMessage } from '@/core/ft8'

interface FreeTextFormProps {
  /** @returns whether it was taken */
  onSay: (text: string) => void
  onClose: () => void
}

/** A free text of up to 13 characters, which goes out once. */
export function FreeTextForm({ onSay, onClose }: FreeTextFormProps) {
  const [text, setText] = useState('')
  const packed = text.trim() === '' ? undefined : packMessage(text)
  const send = () => {
    onSay(text)
    onClose()
  }
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        if (packed?.ok) send()
      }}
      style={{ display: 'flex', gap: 8, alignItems: 'flex-start', flexWrap: 'wrap' }}
    >
      <TextField
        size="small"
        label="Free text"
        value={text}
        autoFocus
        onChange={(e) => setText(e.target.value.toUpperCase())}
        error={packed?.ok === false}
        helperText={packed?.ok === false ? packed.error : 'Up to 13 letters, digits and + - . / ? It carries no call: say who you are too.'}
        slotProps={{ htmlInput: { maxLength: 40, className: 'mono' } }}
        sx={{ flex: 1, minWidth: 200 }}
      />
      <Button type="submit" variant="contained" disabled={!packed?.ok}>
        Send once
      </Button>
      <Button onClick={onClose}>Close</Button>
    </form>
  )
}
