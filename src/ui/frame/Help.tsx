'use client'
import { useEffect, useState } from 'react'
import { usePathname } from 'next/navigation'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { CircleQuestionMark } from 'lucide-react'
import { screenAt } from './screens'
import styles from './Stages.module.css'

const SHORTCUTS: readonly (readonly [string, string])[] = [
  ['Escape', 'Silence: ends what is on the air and what was begun. Works everywhere, also while typing.'],
  ['Tab', 'The next button or field; the very first one skips to the screen.'],
  ['↑ ↓', 'The row above or below, in a list of stations or conversations.'],
  ['?', 'This help. Not while typing.'],
]

/** Whether what is typed goes into a field. */
function isTyping(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
}

/** What this screen is for and what to do there, and the keys that do something everywhere. */
export function Help() {
  const [open, setOpen] = useState(false)
  const { title, purpose, todo } = screenAt(usePathname())
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === '?' && !event.ctrlKey && !event.metaKey && !isTyping(event.target)) setOpen(true)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
  return (
    <>
      <button type="button" className={styles.help} onClick={() => setOpen(true)} aria-keyshortcuts="?">
        <CircleQuestionMark size={18} aria-hidden="true" />
        <span className={styles.helpWord}>Help</span>
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="help-heading" maxWidth="sm" fullWidth>
        <DialogTitle id="help-heading">Help: {title}</DialogTitle>
        <DialogContent>
          <p>{purpose}</p>
          <p style={{ marginTop: 8 }}>{todo}</p>
          <h3 className={styles.keysHead}>Keys</h3>
          <dl className={styles.keys}>
            {SHORTCUTS.map(([key, words]) => (
              <div key={key}>
                <dt>
                  <kbd>{key}</kbd>
                </dt>
                <dd>{words}</dd>
              </div>
            ))}
          </dl>
        </DialogContent>
        <DialogActions>
          <Button variant="contained" onClick={() => setOpen(false)}>
            Close
          </Button>
        </DialogActions>
      </Dialog>
    </>
  )
}
