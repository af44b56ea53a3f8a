'use client'
import { useState } from 'react'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import TextField from '@mui/material/TextField'
import type { RadioSheet, SheetLine } from '@/core/levels'
import { Panel, panelStyles } from '../parts/Panel'
import styles from './RadioScreen.module.css'

interface SheetViewProps {
  sheet: RadioSheet
  onChange: (sheet: RadioSheet) => void
  onRemove: () => void
}

/** One sheet: to be ticked in the field, turned round for voice, or changed. */
export function SheetView({ sheet, onChange, onRemove }: SheetViewProps) {
  const [side, setSide] = useState<'data' | 'voice' | 'edit'>('data')
  const ticked = sheet.lines.filter((line) => line.ticked).length
  const setLine = (i: number, part: Partial<SheetLine>) =>
    onChange({ ...sheet, lines: sheet.lines.map((line, k) => (k === i ? { ...line, ...part } : line)) })
  const turn = (to: typeof side) => {
    // The ticks belong to one side: putting back begins with none.
    if (to !== 'edit' && side !== 'edit' && to !== side)
      onChange({ ...sheet, lines: sheet.lines.map((line) => ({ ...line, ticked: false })) })
    setSide(to)
  }
  return (
    <Panel
      title={side === 'voice' ? `${sheet.radio}: back to voice` : `${sheet.radio} in ${sheet.mode}`}
      id="sheet"
      aside={
        <span role="status" className="muted">
          {side === 'edit' ? 'changing' : `${ticked} of ${sheet.lines.length} done`}
        </span>
      }
    >
      {side === 'edit' ? (
        <SheetEditor
          sheet={sheet}
          onDone={(next) => {
            onChange(next)
            setSide('data')
          }}
          onCancel={() => setSide('data')}
          onRemove={onRemove}
        />
      ) : (
        <>
          <ul className={styles.lines}>
            {sheet.lines.map((line, i) => (
              <li key={`${i} ${line.setting}`}>
                <label className={styles.line}>
                  <Checkbox checked={line.ticked} onChange={(e) => setLine(i, { ticked: e.target.checked })} />
                  <span className={styles.setting}>{line.setting}</span>
                  <strong>{(side === 'voice' ? line.voice : line.value) || 'as you like'}</strong>
                  <span className="muted">{line.where}</span>
                </label>
              </li>
            ))}
          </ul>
          {sheet.note && <p style={{ marginTop: 8 }}>{sheet.note}</p>}
          <div className={panelStyles.row} style={{ marginTop: 10 }}>
            <Button variant="contained" onClick={() => turn(side === 'data' ? 'voice' : 'data')}>
              {side === 'data' ? 'What to put back for voice' : `Back to ${sheet.mode}`}
            </Button>
            <Button
              variant="outlined"
              disabled={ticked === 0}
              onClick={() => onChange({ ...sheet, lines: sheet.lines.map((line) => ({ ...line, ticked: false })) })}
            >
              Clear the ticks
            </Button>
            <Button variant="text" onClick={() => turn('edit')}>
              Change the sheet
            </Button>
          </div>
        </>
      )}
    </Panel>
  )
}

function SheetEditor({
  sheet,
  onDone,
  onCancel,
  onRemove,
}: {
  sheet: RadioSheet
  onDone: (sheet: RadioSheet) => void
  onCancel: () => void
  onRemove: () => void
}) {
  const [draft, setDraft] = useState(sheet)
  const setLine = (i: number, part: Partial<SheetLine>) =>
    setDraft((d) => ({ ...d, lines: d.lines.map((line, k) => (k === i ? { ...line, ...part } : line)) }))
  const field = (i: number, key: 'setting' | 'value' | 'where' | 'voice', label: string, longest: number) => (
    <TextField
      size="small"
      label={label}
      value={draft.lines[i]![key]}
      onChange={(e) => setLine(i, { [key]: e.target.value })}
      slotProps={{ htmlInput: { maxLength: longest, 'aria-label': `${label}, line ${i + 1}` } }}
    />
  )
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        onDone({ ...draft, lines: draft.lines.filter((line) => line.setting.trim()) })
      }}
    >
      <TextField
        size="small"
        label="Radio"
        value={draft.radio}
        required
        onChange={(e) => setDraft({ ...draft, radio: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 60 } }}
      />
      {draft.lines.map((_, i) => (
        <div key={i} className={styles.edit}>
          {field(i, 'setting', 'Setting', 60)}
          {field(i, 'value', `For ${draft.mode}`, 80)}
          {field(i, 'voice', 'For voice', 80)}
          {field(i, 'where', 'Where', 120)}
        </div>
      ))}
      <TextField
        size="small"
        label="Note"
        value={draft.note}
        fullWidth
        multiline
        sx={{ mt: 1.5 }}
        onChange={(e) => setDraft({ ...draft, note: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 500 } }}
      />
      <div className={panelStyles.row} style={{ marginTop: 10 }}>
        <Button type="submit" variant="contained">
          Keep the changes
        </Button>
        <Button
          variant="outlined"
          disabled={draft.lines.length >= 40}
          onClick={() => setDraft((d) => ({ ...d, lines: [...d.lines, { setting: '', value: '', where: '', voice: '', ticked: false }] }))}
        >
          One more line
        </Button>
        <Button variant="text" onClick={onCancel}>
          Leave as it was
        </Button>
        <Button variant="text" onClick={onRemove}>
          Remove this sheet
        </Button>
      </div>
    </form>
  )
}
