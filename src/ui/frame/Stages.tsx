'use client'
import { useState } from 'react'
import Link from 'next/link'
import { usePathname } from 'next/navigation'
import { ChevronDown, ChevronRight } from 'lucide-react'
import type { ReadyState } from '@/core/readiness'
import { useLive, useStation } from '../live/StationProvider'
import { useReadiness } from '../live/useReadiness'
import { StateMark, STATE_WORDS } from '../parts/StateMark'
import { Help } from './Help'
import { isAt, stagesFor, stateOf, worstOf, type StageGroup } from './stages'
import styles from './Stages.module.css'

/** Where everything is done, in the order of the work: groups that fold, upright a bar of groups under the thumb. */
export function Stages() {
  const path = usePathname()
  const { profile } = useLive()
  const inFront = useStation((s) => s.mode)
  const readiness = useReadiness()
  const groups = stagesFor(profile.settings.modes)
  const here = groups.find((group) => group.stages.some((stage) => isAt(path, stage.path)))?.id
  const [folded, setFolded] = useState<readonly StageGroup['id'][]>([])
  /** Upright one group is open: the one that was tapped, else the one of this screen. */
  const [tapped, setTapped] = useState<{ group: StageGroup['id']; path: string }>()
  const open = tapped?.path === path ? tapped.group : here
  return (
    <nav className={styles.nav} aria-label="Stages">
      {groups.map(({ id, label, stages }) => {
        const states = stages.map((stage) => stateOf(stage, readiness, inFront))
        const single = stages.length === 1 && stages[0]!.label === label
        const isFolded = folded.includes(id)
        return (
          <div
            key={id}
            className={styles.group}
            data-open={open === id}
            data-tapped={tapped?.path === path && tapped.group === id}
            data-folded={isFolded}
          >
            {!single && (
              <button
                type="button"
                className={styles.head}
                aria-expanded={!isFolded}
                data-here={here === id}
                onClick={() => {
                  setTapped({ group: id, path })
                  setFolded(isFolded ? folded.filter((one) => one !== id) : [...folded, id])
                }}
              >
                <Mark state={worstOf(states)} />
                <span>
                  {label}
                  <Said state={worstOf(states)} />
                </span>
                <span className={styles.chevron} aria-hidden="true">
                  {isFolded ? <ChevronRight size={16} /> : <ChevronDown size={16} />}
                </span>
              </button>
            )}
            <div className={single ? styles.single : styles.stages}>
              {stages.map((stage, i) => (
                <Link
                  key={stage.path}
                  href={stage.path}
                  className={styles.stage}
                  aria-current={isAt(path, stage.path) ? 'page' : undefined}
                >
                  {states[i] ? <Mark state={states[i]} /> : <span className={styles.gap} />}
                  {stage.label}
                  <Said state={states[i]} />
                </Link>
              ))}
            </div>
            {/* Beside the settings: always there, and no row of its own. */}
            {id === 'settings' && <Help />}
          </div>
        )
      })}
    </nav>
  )
}

const Mark = ({ state }: { state: ReadyState | undefined }) => state && <StateMark state={state} size={18} />

/** The mark in words, for those who hear the screen. */
const Said = ({ state }: { state: ReadyState | undefined }) =>
  state && <span className="visually-hidden">, {STATE_WORDS[state].toLowerCase()}</span>
