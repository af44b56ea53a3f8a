'use client'
import { useEffect } from 'react'
import { useMutation, useQuery } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import {
  describePort,
  hasSerialSpeed,
  lastGood,
  RUNG_NAMES,
  sameSettings,
  type LinkConfig,
  type LinkState,
  type RungState,
  type TriedLink,
} from '@/core/links'
import type { ReadyState } from '@/core/readiness'
import { panelStyles } from '../../parts/Panel'
import { StateMark } from '../../parts/StateMark'
import { KeysRung } from './KeysRung'
import { diagnoseLink, fetchLadders } from './linkApi'
import styles from './links.module.css'

const MARKS: Record<RungState['status'], ReadyState> = {
  good: 'ready',
  notNeeded: 'ready',
  bad: 'missing',
  unsure: 'unknown',
  asking: 'attention',
  testing: 'attention',
  waiting: 'unknown',
}
const WORDS: Record<RungState['status'], string> = {
  good: 'OK',
  notNeeded: 'not needed',
  bad: 'failed',
  unsure: 'not sure',
  asking: 'asks you',
  testing: 'being tried…',
  waiting: 'not yet tried',
}

interface LadderProps {
  link: TriedLink
  state: LinkState | undefined
  config: LinkConfig
  /** Applies the setting that would put it right. */
  onFix: (config: LinkConfig) => void
}

/** The ladder of a link: what was tried, what it showed, and what to do where it stopped. */
export function Ladder({ link, state, config, onFix }: LadderProps) {
  const order = useMutation({ mutationFn: diagnoseLink })
  const diagnosis = state?.diagnosis?.link === link ? state.diagnosis.now : undefined
  const verdict = diagnosis?.verdict
  const asking = diagnosis?.rungs.find((r) => r.status === 'asking')
  const running = diagnosis !== undefined && diagnosis.at !== null
  const fix = verdict && !verdict.ok ? verdict.fix : undefined
  return (
    <div>
      <div className={panelStyles.row}>
        {running ? (
          <Button variant="outlined" onClick={() => order.mutate({ action: 'stop' })}>
            Stop trying
          </Button>
        ) : (
          <Button
            variant="outlined"
            disabled={!state || config[link].port === null}
            onClick={() => order.mutate({ action: 'start', link })}
          >
            {verdict ? 'Try the link again' : 'Try the link, rung by rung'}
          </Button>
        )}
        <span className="muted">Each rung is tried by itself, up to three times; what only you can see, you are asked.</span>
      </div>
      {order.isError && (
        <p role="alert" className={panelStyles.problem}>
          {order.error.message}
        </p>
      )}
      {diagnosis && (
        <>
          {/* What is asked and what came of it stand where they are seen; the rungs are their evidence. */}
          <div role="status">
            {asking && (
              <div className={panelStyles.check} role="group" aria-label="Question of the ladder">
                <strong>{asking.question}</strong>
                <div className={panelStyles.row}>
                  {(['yes', 'no', 'unknown'] as const).map((answer) => (
                    <Button
                      key={answer}
                      variant={answer === 'yes' ? 'contained' : 'outlined'}
                      onClick={() => order.mutate({ action: 'answer', rung: asking.rung, answer })}
                    >
                      {{ yes: 'Yes', no: 'No', unknown: 'I cannot tell' }[answer]}
                    </Button>
                  ))}
                </div>
              </div>
            )}
            {verdict?.ok && (
              <p>
                <strong>{verdict.words}</strong>
                {verdict.unsure.length > 0 && ` Not shown: ${verdict.unsure.map((r) => RUNG_NAMES[r].toLowerCase()).join(', ')}.`}
              </p>
            )}
            {verdict && !verdict.ok && (
              <p>
                <strong className={panelStyles.problem}>{verdict.evidence}</strong> <strong>Do:</strong> {verdict.advice}
              </p>
            )}
          </div>
          {fix && (
            <Button
              variant="contained"
              onClick={() =>
                onFix({
                  ...config,
                  [link]: { ...config[link], ...(fix.port && { port: fix.port }), ...(fix.serialBaud && { serialBaud: fix.serialBaud }) },
                })
              }
            >
              {fix.port ? 'Use that port' : `Use ${fix.serialBaud} baud`}
            </Button>
          )}
          <ol className={styles.ladder} aria-label="Ladder">
            {diagnosis.rungs.map((rung) => (
              <li key={rung.rung} className={styles.rung} data-status={rung.status}>
                <StateMark state={MARKS[rung.status]} size={22} />
                <strong>{RUNG_NAMES[rung.rung]}</strong>
                <span>
                  <span className="muted">{WORDS[rung.status]}</span>
                  {rung.evidence && ` · ${rung.evidence}`}
                </span>
              </li>
            ))}
          </ol>
        </>
      )}
      {link === 'control' && verdict?.ok && <KeysRung />}
      <LastGood link={link} config={config} ended={verdict !== undefined && verdict !== null} onUse={onFix} />
    </div>
  )
}

interface LastGoodProps {
  link: TriedLink
  config: LinkConfig
  /** A climb has just ended: its result is new. */
  ended: boolean
  onUse: (config: LinkConfig) => void
}

/** What worked last time, and the way back to it. */
function LastGood({ link, config, ended, onUse }: LastGoodProps) {
  const results = useQuery({ queryKey: ['links', 'ladders'], queryFn: fetchLadders, retry: 1 })
  const { refetch } = results
  useEffect(() => {
    if (ended) void refetch()
  }, [ended, refetch])
  const good = results.data && lastGood(results.data, link)
  if (!good) return null
  const then = good.config[link]
  const where = then.port ? `${describePort(then.port)}${hasSerialSpeed(then.port) ? ` at ${then.serialBaud} baud` : ''}` : 'no port'
  return (
    <div className={panelStyles.row} style={{ marginTop: 10 }}>
      <span>
        Worked last: <strong>{where}</strong>, {new Date(good.utcMs).toISOString().slice(0, 16).replace('T', ' ')} UTC.
      </span>
      {sameSettings(config, good) ? (
        <span className="muted">The settings of today are the same.</span>
      ) : (
        <Button variant="outlined" onClick={() => onUse({ ...config, [link]: then })}>
          Use what worked
        </Button>
      )}
    </div>
  )
}
