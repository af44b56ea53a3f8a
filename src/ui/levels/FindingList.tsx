import type { ReactNode } from 'react'
import type { Finding } from '@/core/audio'
import { StateMark } from '../parts/StateMark'
import styles from './LevelsScreen.module.css'

const MARKS = { fault: 'missing', warning: 'attention', note: 'unknown' } as const
const WORDS = { fault: 'Fault', warning: 'Warning', note: 'Note' }

/** What is wrong, the dearest first: name, evidence, what to turn. */
export function FindingList({ findings, heard, unseen }: { findings: readonly Finding[]; heard: boolean; unseen: readonly string[] }) {
  if (!heard)
    return <p className="muted">Start listening on the Connect screen, or a practice band. After two seconds this names what is wrong.</p>
  if (findings.length === 0)
    return (
      <>
        <Row mark={<StateMark state="ready" />}>
          <strong>Nothing wrong is heard.</strong> Level, filter and converter are as they should be.
        </Row>
        <Unseen unseen={unseen} />
      </>
    )
  return (
    <>
      <ol className={styles.findings}>
        {findings.map((f) => (
          <li key={f.code}>
            <Row mark={<StateMark state={MARKS[f.severity]} />}>
              <h3 className={styles.findingName}>
                {f.name}
                <span className="muted">
                  {' '}
                  {WORDS[f.severity]}, {howSure(f.confidence)}
                  {f.severity !== 'note' && f.costDb >= 0.5 && f.costDb < 50 ? `, costs about ${f.costDb.toFixed(0)} dB` : ''}
                </span>
              </h3>
              <p>{f.evidence[0]!.toUpperCase() + f.evidence.slice(1)}.</p>
              <p>
                <strong>Do:</strong> {f.advice}
              </p>
            </Row>
          </li>
        ))}
      </ol>
      <Unseen unseen={unseen} />
    </>
  )
}

/** What the stations on the air hide, so that nobody takes silence on it for an answer. */
function Unseen({ unseen }: { unseen: readonly string[] }) {
  if (unseen.length === 0) return null
  return (
    <p className="muted">
      Not to be told from what is on the air now: {unseen.join(', ')}.
      {unseen.length > 1 && ' The band is full: look again where fewer stations are on, or use the room and antenna tests below.'}
    </p>
  )
}

function Row({ mark, children }: { mark: ReactNode; children: ReactNode }) {
  return (
    <div className={styles.finding}>
      {mark}
      <div>{children}</div>
    </div>
  )
}

/** In words: a figure would claim more than anyone knows. */
function howSure(confidence: number): string {
  return confidence >= 0.9 ? 'clearly heard' : confidence >= 0.6 ? 'likely' : 'possible'
}
