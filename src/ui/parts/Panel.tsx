import type { ReactNode } from 'react'
import styles from './Panel.module.css'

/** A card with a heading. */
export function Panel({ title, aside, children, id }: { title: string; aside?: ReactNode; children: ReactNode; id?: string }) {
  const headingId = id ?? `panel-${title.toLowerCase().replace(/[^a-z]+/g, '-')}`
  return (
    <section className={styles.panel} aria-labelledby={headingId}>
      <div className={styles.head}>
        <h2 id={headingId}>{title}</h2>
        {aside}
      </div>
      {children}
    </section>
  )
}

/** The body of a screen with its heading. */
export function Page({ title, lead, children }: { title: string; lead?: ReactNode; children: ReactNode }) {
  return (
    <div className={styles.page}>
      <div>
        <h1>{title}</h1>
        {lead && <p className="muted">{lead}</p>}
      </div>
      {children}
    </div>
  )
}

/** A caution about what can hurt someone, where the act happens. */
export function Caution({ children }: { children: ReactNode }) {
  return (
    <p className={styles.caution}>
      <strong>Caution. </strong>
      {children}
    </p>
  )
}

export { styles as panelStyles }
