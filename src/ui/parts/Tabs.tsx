'use client'
import Link from 'next/link'
import { usePathname } from 'next/navigation'
import styles from './Tabs.module.css'

/** The parts of a stage, each with an address of its own. */
export function Tabs({ tabs, label }: { tabs: readonly { path: string; label: string }[]; label: string }) {
  const path = usePathname()
  return (
    <nav className={styles.tabs} aria-label={label}>
      {tabs.map((tab) => (
        <Link key={tab.path} href={tab.path} className={styles.tab} aria-current={path === tab.path ? 'page' : undefined}>
          {tab.label}
        </Link>
      ))}
    </nav>
  )
}
