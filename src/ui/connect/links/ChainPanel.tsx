'use client'
import Link from 'next/link'
import { strandsOf, type Strand } from '@/core/links'
import { useStation } from '../../live/StationProvider'
import { Panel } from '../../parts/Panel'
import { StateMark, STATE_WORDS } from '../../parts/StateMark'
import { useChainChecks } from '../setup/useChainChecks'
import styles from './links.module.css'

const ENDS = { toRadio: [false, true], fromRadio: [true, false], both: [true, true] } as const
const MACHINES = { device: 'This device', computer: 'Field computer' } as const

/** The chain from this station to its radio: each strand drawn, with its state. */
export function ChainPanel() {
  const source = useStation((s) => s.source.kind)
  const worst = useStation((s) => s.audio?.findings.find((f) => f.severity !== 'note'))
  const outputProblem = useStation((s) => s.outputProblem)
  const links = useStation((s) => s.links)
  const strands = strandsOf({
    source: source === 'starting' ? 'none' : source,
    ...(worst && { worstFinding: { name: worst.name, fault: worst.severity === 'fault' } }),
    ...(outputProblem !== undefined && { outputProblem }),
    ...(links && { links }),
  })
  const machines = (['device', 'computer'] as const).filter((machine) => strands.some((s) => s.from === machine))
  return (
    <Panel title="The chain">
      <div className={styles.chain}>
        <div className={styles.machines}>
          {machines.map((machine) => (
            <div key={machine} className={styles.box} style={{ flexGrow: strands.filter((s) => s.from === machine).length }}>
              {MACHINES[machine]}
            </div>
          ))}
        </div>
        <ul className={styles.strands} aria-label="Strands to the radio">
          {machines.flatMap((machine) =>
            strands.filter((s) => s.from === machine).map((strand) => <Line key={strand.id} strand={strand} />),
          )}
        </ul>
        <div className={styles.box}>Radio</div>
      </div>
      <PartsLine />
    </Panel>
  )
}

/** Whether the parts fit one another, in a line. */
function PartsLine() {
  const checks = useChainChecks()
  if (!checks) return null
  const stops = checks.find((check) => check.state === 'stops')
  const look = stops ?? checks.find((check) => check.state === 'attention')
  return (
    <p className={styles.partsLine}>
      <StateMark state={stops ? 'missing' : look ? 'attention' : checks.length > 0 ? 'ready' : 'unknown'} size={22} />
      <span>
        {look ? (
          <>
            <strong>{look.words}</strong> {look.todo}
          </>
        ) : checks.length > 0 ? (
          'The parts of the chain fit one another.'
        ) : (
          'Which family of link it is has not been told, so its parts are not checked.'
        )}{' '}
        <Link href="/connect/setup">Chain and kit</Link>
      </span>
    </p>
  )
}

function Line({ strand: { name, direction, state, words } }: { strand: Strand }) {
  const [left, right] = ENDS[direction]
  return (
    <li className={styles.strand} data-state={state}>
      <span className={styles.wireLine}>
        {left && <Head back />}
        <span className={styles.thread} />
        <StateMark state={state} size={22} />
        <span className={styles.thread} />
        {right && <Head />}
      </span>
      <span className={styles.strandWords}>
        <strong>{name}</strong> <span className="visually-hidden">{STATE_WORDS[state]}: </span>
        {words}
      </span>
    </li>
  )
}

/** Which way it goes: an open hook at the end of the thread. */
function Head({ back = false }: { back?: boolean }) {
  return (
    <svg width="12" height="14" viewBox="0 0 12 14" aria-hidden="true" style={{ flex: 'none', transform: back ? 'scaleX(-1)' : undefined }}>
      <path d="M2 1l8 6-8 6" fill="none" stroke="var(--ink)" strokeWidth="2.5" strokeLinecap="round" strokeLinejoin="round" />
    </svg>
  )
}
