'use client'
import { SHEET_NAMES } from '@/core/modes'
import { useRef, useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { emptySheet, sheetsFileSchema, type RadioSheet, type SheetMode } from '@/core/levels'
import { newId } from '@/engine/station/newId'
import { fetchSheets, removeSheet, saveSheets } from '../levels/levelApi'
import { useLive } from '../live/StationProvider'
import { download } from '../parts/download'
import { FileInput } from '../parts/FileInput'
import { useMessages } from '../parts/Messages'
import { Page, Panel, panelStyles } from '../parts/Panel'
import styles from './RadioScreen.module.css'
import { SheetView } from './SheetView'

const LARGEST_FILE = 1_000_000

/** Reads a file of sheets. @returns words of what is wrong with it, when something is */
function readSheetsFile(name: string, text: string): { sheets: RadioSheet[] } | { problem: string } {
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch {
    return { problem: `${name} is not JSON. Choose a file that was exported here.` }
  }
  const parsed = sheetsFileSchema.safeParse(raw)
  if (parsed.success) return { sheets: parsed.data.sheets }
  const issue = parsed.error.issues[0]!
  return { problem: `${name}, ${issue.path.join('.') || 'whole file'}: ${issue.message}. Nothing was taken.` }
}

/** What each radio must be set to in each mode, and back again for voice. */
export function RadioScreen() {
  const client = useQueryClient()
  const { tell } = useMessages()
  const { profile } = useLive()
  const query = useQuery({ queryKey: ['sheets'], queryFn: fetchSheets, staleTime: Infinity, retry: 1 })
  const [chosen, setChosen] = useState<string>()
  const [radio, setRadio] = useState('')
  const [mode, setMode] = useState<SheetMode>(SHEET_NAMES[0]!)
  const [said, setSaid] = useState('')
  const picker = useRef<HTMLInputElement>(null)
  const refresh = () => client.invalidateQueries({ queryKey: ['sheets'] })
  const store = useMutation({ mutationFn: saveSheets, onError: (error) => setSaid(error.message) })
  const remove = useMutation({ mutationFn: removeSheet, onSuccess: refresh, onError: (error) => setSaid(error.message) })
  const sheets = [...(query.data ?? [])].sort((a, b) => a.radio.localeCompare(b.radio) || a.mode.localeCompare(b.mode))
  const shown = sheets.find((s) => s.id === chosen) ?? sheets.find((s) => s.radio === profile.station.radio) ?? sheets[0]

  const save = (sheet: RadioSheet) => {
    const next = { ...sheet, updatedUtcMs: Date.now() }
    // Shown at once: a tick must not wait for the server.
    client.setQueryData<RadioSheet[]>(['sheets'], (all = []) => [next, ...all.filter((s) => s.id !== sheet.id)])
    store.mutate([next])
  }
  const drop = async (sheet: RadioSheet) => {
    const removed = await remove.mutateAsync(sheet.id).then(
      () => true,
      () => false,
    )
    if (!removed) return
    tell({
      kind: 'undo',
      text: `Removed: the sheet ${sheet.radio}, ${sheet.mode}.`,
      action: {
        label: 'Undo',
        run: async () => {
          // Newer than its removal, or the server would keep it removed.
          await saveSheets([{ ...sheet, updatedUtcMs: Date.now() }])
          await refresh()
        },
      },
    })
  }
  const add = () => {
    const sheet = emptySheet(newId(), radio.trim() || profile.station.radio || 'My radio', mode, Date.now())
    save(sheet)
    setChosen(sheet.id)
    setRadio('')
  }
  const exportAll = () => {
    const file = { kind: 'zeptik radio sheets', version: 1, sheets }
    download('radio-sheets.json', JSON.stringify(file, null, 2), 'application/json')
  }
  const importFile = async (file: File) => {
    if (file.size > LARGEST_FILE) {
      setSaid(`${file.name} has ${Math.round(file.size / 1000)} kB; sheets have at most ${LARGEST_FILE / 1000} kB.`)
      return
    }
    const read = readSheetsFile(file.name, await file.text())
    if ('problem' in read) {
      setSaid(read.problem)
      return
    }
    const { taken, older } = await store.mutateAsync(read.sheets).catch(() => ({ taken: 0, older: 0 }))
    await refresh()
    if (taken + older > 0) setSaid(`${taken} taken from ${file.name}${older > 0 ? `, ${older} older than those here and left out` : ''}.`)
  }
  return (
    <Page
      title="Radio sheets"
      lead="What to set for the mode, where to find it, and what to put back for voice. They are yours: change them to fit your radio."
    >
      <Panel
        title="Sheets"
        aside={
          <span className={panelStyles.row}>
            <Button variant="outlined" disabled={sheets.length === 0} onClick={exportAll}>
              Export
            </Button>
            <Button variant="outlined" onClick={() => picker.current?.click()}>
              Import
            </Button>
          </span>
        }
      >
        <FileInput inputRef={picker} label="Sheets to import" accept=".json,application/json" onFile={(file) => void importFile(file)} />
        {query.isError && <p className={panelStyles.problem}>{query.error.message}</p>}
        {said && <p role="status">{said}</p>}
        <div className={styles.tabs} role="group" aria-label="Sheets">
          {sheets.map((s) => (
            <Button
              key={s.id}
              variant={s.id === shown?.id ? 'contained' : 'outlined'}
              aria-pressed={s.id === shown?.id}
              onClick={() => setChosen(s.id)}
            >
              {s.radio}, {s.mode}
            </Button>
          ))}
          {query.data && sheets.length === 0 && (
            <p className="muted">No sheet yet. Begin one below: it starts with what the mode needs of any radio.</p>
          )}
        </div>
        <form
          className={styles.add}
          onSubmit={(e) => {
            e.preventDefault()
            add()
          }}
        >
          <TextField
            size="small"
            label="Radio"
            value={radio}
            placeholder={profile.station.radio || 'Its name'}
            onChange={(e) => setRadio(e.target.value)}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 60 } }}
          />
          <TextField select size="small" label="Mode" value={mode} onChange={(e) => setMode(e.target.value as SheetMode)}>
            {SHEET_NAMES.map((m) => (
              <MenuItem key={m} value={m}>
                {m}
              </MenuItem>
            ))}
          </TextField>
          <Button type="submit" variant="outlined">
            Begin a sheet
          </Button>
        </form>
      </Panel>
      {shown && <SheetView key={shown.id} sheet={shown} onChange={save} onRemove={() => void drop(shown)} />}
    </Page>
  )
}
