'use client'
import Link from 'next/link'
import styles from './modes.module.css'

/** Why nothing was begun, and where it can be mended. */
export function Refusal({ why, need }: { why: string; need: string }) {
  return (
    <div className={styles.notice} role="alert">
      {why} {(need === 'ownCall' || need === 'licence') && <Link href="/station">Set up the station</Link>}
      {need === 'source' && <Link href="/connect">Choose what to hear</Link>}
    </div>
  )
}
