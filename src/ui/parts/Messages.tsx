'use client'
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import styles from './Messages.module.css'

export interface Message {
  /** A problem stays until it is put away; so does what can be undone. What was merely done goes by itself. */
  kind: 'problem' | 'done' | 'undo'
  text: string
  /** What mends or undoes it, one tap away. */
  action?: { label: string } & ({ href: string } | { run: () => void | Promise<unknown> })
  /** A later message of the same topic takes the place of an earlier one. */
  topic?: string
}
type Told = Message & { id: number }

interface Messages {
  tell(message: Message): void
  /** Takes back what was said on a topic: it is over. */
  withdraw(topic: string): void
}

const MessagesContext = createContext<Messages>({ tell: () => undefined, withdraw: () => undefined })
const ToldContext = createContext<{ told: readonly Told[]; dismiss: (id: number) => void }>({ told: [], dismiss: () => undefined })

const KEPT = 12
const DONE_MS = 8000

/** Keeps what the screens have to say, over a change of screen. */
export function MessagesProvider({ children }: { children: ReactNode }) {
  const [told, setTold] = useState<readonly Told[]>([])
  const ids = useRef(0)
  const dismiss = useCallback((id: number) => setTold((before) => before.filter((one) => one.id !== id)), [])
  const messages = useMemo<Messages>(
    () => ({
      tell: (message) => {
        const id = ++ids.current
        setTold((before) => [
          { ...message, id },
          ...before.filter((one) => (message.topic ? one.topic !== message.topic : one.text !== message.text)).slice(0, KEPT - 1),
        ])
        if (message.kind === 'done') setTimeout(() => dismiss(id), DONE_MS)
      },
      withdraw: (topic) =>
        setTold((before) => (before.some((one) => one.topic === topic) ? before.filter((one) => one.topic !== topic) : before)),
    }),
    [dismiss],
  )
  const area = useMemo(() => ({ told, dismiss }), [told, dismiss])
  return (
    <MessagesContext.Provider value={messages}>
      <ToldContext.Provider value={area}>{children}</ToldContext.Provider>
    </MessagesContext.Provider>
  )
}

/** Says something in the one place that is always in view. */
export function useMessages(): Messages {
  return useContext(MessagesContext)
}

/** Says something for as long as it is so. */
export function useStandingMessage(topic: string, text: string | undefined, action?: Message['action']): void {
  const { tell, withdraw } = useMessages()
  const href = action && 'href' in action ? action.href : undefined
  const label = action?.label
  useEffect(() => {
    if (text) tell({ kind: 'problem', topic, text, ...(href && label && { action: { href, label } }) })
    else withdraw(topic)
  }, [tell, withdraw, topic, text, href, label])
}

/** The one place of messages: under every screen, over none of it. */
export function MessageArea() {
  const { told, dismiss } = useContext(ToldContext)
  const [all, setAll] = useState(false)
  const shown = all ? told : told.slice(0, 1)
  return (
    <div className={styles.area} role="region" aria-label="Messages" aria-live="polite" data-any={told.length > 0}>
      {shown.map((message) => (
        <div key={message.id} className={styles.message} data-kind={message.kind}>
          <span className={styles.text}>{message.text}</span>
          {message.action && <Act message={message} onDone={() => dismiss(message.id)} />}
          <Button onClick={() => dismiss(message.id)} aria-label={`Put away: ${message.text}`}>
            OK
          </Button>
        </div>
      ))}
      {told.length > 1 && (
        <Button className={styles.more ?? ''} onClick={() => setAll(!all)} aria-expanded={all}>
          {all ? 'Only the latest' : `${told.length - 1} more`}
        </Button>
      )}
    </div>
  )
}

function Act({ message, onDone }: { message: Told; onDone: () => void }) {
  const { action } = message
  const { tell } = useMessages()
  if (!action) return null
  if ('href' in action)
    return (
      <Button component={Link} href={action.href} variant="contained" onClick={onDone}>
        {action.label}
      </Button>
    )
  const run = async () => {
    try {
      await action.run()
      onDone()
    } catch (error) {
      tell({ kind: 'problem', text: (error as Error).message })
    }
  }
  return (
    <Button variant="contained" onClick={() => void run()}>
      {action.label}
    </Button>
  )
}
