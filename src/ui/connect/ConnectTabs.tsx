'use client'
import Link from 'next/link'
import { usePathname } from 'next/navigation'
import styles from './ConnectTabs.module.css'

const TABS = [
  { path: '/connect', label: 'Links' },
  { path: '/connect/setup', label: 'Chain and kit' },
  { path: '/connect/pins', label: 'Pins' },
  { path: '/connect/network', label: 'Network' },
  { path: '/connect/channels', label: 'Channels' },
] as const

/** The parts of the Connect stage. */
export function ConnectTabs() {
  const path = usePathname()
  return (
    <nav className={styles.tabs} aria-label="Parts of Connect">
      {TABS.map((tab) => (
        <Link key={tab.path} href={tab.path} className={styles.tab} aria-current={path === tab.path ? 'page' : undefined}>
          {tab.label}
        </Link>
      ))}
    </nav>
  )
}
