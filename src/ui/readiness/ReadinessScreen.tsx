'use client'
import Link from 'next/link'
import Button from '@mui/material/Button'
import type { ReadyItem } from '@/core/readiness'
import { useLive, useStation } from '../live/StationProvider'
import { useNow } from '../live/useNow'
import { useReadiness } from '../live/useReadiness'
import { formatAge } from '../parts/formats'
import { Page } from '../parts/Panel'
import { STATE_WORDS, StateMark } from '../parts/StateMark'
import styles from './ReadinessScreen.module.css'

/** The home screen: can I operate yet, and if not, why? */
export function ReadinessScreen() {
  const readiness = useReadiness()
  const { profile } = useLive()
  const source = useStation((s) => s.source)
  const now = useNow(1000)
  if (!readiness)
    return (
      <Page title="Looking at the station…">
        <p>Reading the station’s data from the server.</p>
      </Page>
    )
  const mark = readiness.answer === 'operate' ? 'ready' : readiness.answer === 'listen' ? 'attention' : 'missing'
  return (
    <div style={{ padding: '18px 20px 28px', maxWidth: 1160, display: 'flex', flexDirection: 'column', gap: 16 }}>
      <div className={styles.answer} role="status">
        <StateMark state={mark} size={52} />
        <h1>{readiness.sentence}</h1>
      </div>
      <ul className={styles.list} aria-label="What operating needs, in the order of the work">
        {readiness.items.map((item) => (
          <Item key={item.id} item={item} now={now} />
        ))}
      </ul>
      <div style={{ display: 'flex', gap: 12, flexWrap: 'wrap', alignItems: 'center' }}>
        {source.kind === 'none' ? (
          <>
            <Button component={Link} href="/practise" variant="contained" size="large">
              Start the practice band
            </Button>
            <Button component={Link} href="/connect" variant="outlined" size="large">
              Listen to a radio or a recording
            </Button>
          </>
        ) : (
          <Button component={Link} href="/slots" variant="contained" size="large">
            Go to the slots
          </Button>
        )}
        {profile.demo && <span className="muted">Demo scenario: everything here is made up.</span>}
      </div>
    </div>
  )
}

function Item({ item, now }: { item: ReadyItem; now: number | undefined }) {
  return (
    <li className={styles.item}>
      <StateMark state={item.state} />
      <span className={styles.state}>{STATE_WORDS[item.state]}</span>
      <span className={styles.title}>{item.title}</span>
      <span className={styles.evidence}>{item.evidence}</span>
      <span className={styles.age}>{item.sinceUtcMs !== undefined && now !== undefined ? formatAge(now - item.sinceUtcMs) : ''}</span>
      <span className={styles.action}>
        {item.action && (
          <Button component={Link} href={`/${item.action.stage}`} variant="outlined">
            {item.action.label}
          </Button>
        )}
      </span>
    </li>
  )
}
