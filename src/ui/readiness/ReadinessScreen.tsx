'use client'
import Link from 'next/link'
import Button from '@mui/material/Button'
import { modeName } from '@/core/modes'
import type { ReadyItem } from '@/core/readiness'
import { useLive, useStation } from '../live/StationProvider'
import { useNow } from '../live/useNow'
import { MODE_SCREENS } from '../modes'
import { useReadiness } from '../live/useReadiness'
import { useServerGone } from '../live/useServerGone'
import { counted, formatAge } from '../parts/formats'
import { useMessages } from '../parts/Messages'
import { Page } from '../parts/Panel'
import { useStartPractice } from '../practise/practiceOptions'
import { STATE_WORDS, StateMark } from '../parts/StateMark'
import styles from './ReadinessScreen.module.css'

const ANSWERS = { operate: 'ready', listen: 'attention', no: 'missing' } as const

/** The home screen: can I operate yet, and if not, why? */
export function ReadinessScreen() {
  const readiness = useReadiness()
  const { profile } = useLive()
  const source = useStation((s) => s.source)
  const mode = useStation((s) => s.mode)
  const now = useNow(1000)
  const begin = useStartPractice()
  const { tell } = useMessages()
  const log = useLogItem()
  const practise = async () => {
    const why = await begin()
    if (why) tell({ kind: 'problem', text: why, action: { label: 'Practice', href: '/practise' } })
  }
  if (!readiness)
    return (
      <Page title="Looking at the station…">
        <p>Reading the station’s data from the server.</p>
      </Page>
    )
  return (
    <div className={styles.screen}>
      <div className={styles.answer} role="status">
        <StateMark state={ANSWERS[readiness.answer]} size={52} />
        <h1>{readiness.sentence}</h1>
      </div>
      <ul className={styles.list} aria-label="What operating needs, in the order of the work">
        {readiness.items.map((item) => (
          <Item key={item.id} item={item} now={now} dialPath={MODE_SCREENS[mode].path} />
        ))}
        {log && <Item item={log} now={now} dialPath="" />}
      </ul>
      {readiness.others.length > 0 && (
        <ul className={styles.others} aria-label="The other modes in use">
          {readiness.others.map((other) => (
            <li key={other.mode}>
              <StateMark state={ANSWERS[other.answer]} size={20} />
              <strong>{modeName(other.mode)}</strong>
              <span>{other.sentence}</span>
            </li>
          ))}
        </ul>
      )}
      <div className={styles.acts}>
        {source.kind === 'none' ? (
          <>
            <Button variant="contained" size="large" onClick={() => void practise()}>
              Start the practice band
            </Button>
            <Button component={Link} href="/connect" variant="outlined" size="large">
              Listen to a radio or a recording
            </Button>
          </>
        ) : (
          <Button component={Link} href={MODE_SCREENS[mode].path} variant="contained" size="large">
            {MODE_SCREENS[mode].go}
          </Button>
        )}
        {profile.demo && <span className="muted">Demo scenario: everything here is made up.</span>}
      </div>
    </div>
  )
}

/** The log, when it does not take what was made. */
function useLogItem(): Omit<ReadyItem, 'id'> | undefined {
  const waiting = useStation((s) => s.waitingContacts)
  const gone = useServerGone()
  if (!gone && waiting === 0) return undefined
  const kept = waiting > 0 ? `${counted(waiting, 'contact')} kept in this device until it does` : 'contacts will be kept in this device'
  return {
    title: 'Log',
    state: 'attention',
    evidence: `the log server ${gone ? 'does not answer' : 'has not stored all yet'}: ${kept}`,
    neededToHear: false,
  }
}

function Item({ item, now, dialPath }: { item: Omit<ReadyItem, 'id'>; now: number | undefined; dialPath: string }) {
  return (
    <li className={styles.item}>
      <StateMark state={item.state} />
      <span className={styles.state}>{STATE_WORDS[item.state]}</span>
      <span className={styles.title}>{item.title}</span>
      <span className={styles.evidence}>{item.evidence}</span>
      <span className={styles.age}>{item.sinceUtcMs !== undefined && now !== undefined ? formatAge(now - item.sinceUtcMs) : ''}</span>
      <span className={styles.action}>
        {item.action && (
          <Button component={Link} href={item.action.stage === 'dial' ? dialPath : `/${item.action.stage}`} variant="outlined">
            {item.action.label}
          </Button>
        )}
      </span>
    </li>
  )
}
