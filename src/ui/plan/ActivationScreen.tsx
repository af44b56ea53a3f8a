'use client'
import Button from '@mui/material/Button'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { judgeActivation, type Activation, type Activations } from '@/core/activation'
import { useActivations } from '../live/fieldDocuments'
import { useLive, useStation } from '../live/StationProvider'
import { useRealNow } from '../live/useRealNow'
import { queryString } from '../log/logApi'
import { formatUtc, formatUtcDate } from '../parts/formats'
import { useMessages } from '../parts/Messages'
import { Page, Panel, panelStyles } from '../parts/Panel'
import { activationQuery, belonging } from './activationContacts'
import { ActivationForm } from './ActivationForm'
import { PlanTabs } from './PlanTabs'
import { ReferenceList } from './ReferenceList'
import { SpotPanel } from './SpotPanel'
import styles from './plan.module.css'

const exportOf = (activation: Activation, day?: string) =>
  `/api/adif?${queryString({ ...belonging(activation), ...(day && { day }), origin: activation.practice ? 'practice' : 'air' })}`

/** A place that counts: how far the goal is, what to tell others, whose place the others are at, and the file at the end. */
export function ActivationScreen() {
  const { value, save, amend, problem } = useActivations()
  return (
    <Page title="Activation" lead="A place that counts in some programme, and a number of contacts to make from it.">
      <PlanTabs />
      {problem && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      {value &&
        (value.current ? (
          <Running key={value.current.id} activation={value.current} all={value} save={save} amend={amend} />
        ) : (
          <ActivationForm onStart={(current) => save({ ...value, current })} last={value.past[0]} />
        ))}
      {value && value.past.length > 0 && (
        <Past past={value.past} onResume={value.current ? undefined : (again) => save(takenUp(again, value))} />
      )}
    </Page>
  )
}

interface RunningProps {
  activation: Activation
  all: Activations
  save: (value: Activations) => void
  amend: (change: (value: Activations) => Activations) => Promise<void>
}

/** One is taken up again where it was left; another one that is under way stays. */
const takenUp = (activation: Activation, all: Activations): Activations =>
  all.current ? all : { current: { ...activation, endedUtcMs: null }, past: all.past.filter(({ id }) => id !== activation.id) }

function Running({ activation, all, save, amend }: RunningProps) {
  const { tell } = useMessages()
  const client = useQueryClient()
  const { profile } = useLive()
  const now = useRealNow(1000)
  const stored = useStation((s) => s.storedCount)
  const practising = useStation((s) => s.source.kind === 'practice')
  const query = useQuery(activationQuery(activation, stored))
  const contacts = query.data ?? []
  const progress = judgeActivation(activation, contacts, Math.max(now ?? 0, contacts[contacts.length - 1]?.endedUtcMs ?? 0))
  const end = () => {
    save({
      current: null,
      past: [{ ...activation, endedUtcMs: Math.max(now ?? Date.now(), activation.startedUtcMs) }, ...all.past].slice(0, 100),
    })
    tell({
      kind: 'undo',
      text: `Ended: ${activation.name || 'the activation'}, ${progress.counted} of ${progress.goal} contacts.`,
      action: { label: 'Resume it', run: () => amend((now) => takenUp(activation, now)) },
    })
  }
  const share = Math.min(1, progress.counted / progress.goal)
  return (
    <>
      <Panel
        title={[activation.name, [activation.programme, activation.reference].filter(Boolean).join(' ')].filter(Boolean).join(', ')}
        aside={
          <Button variant="outlined" onClick={end}>
            End it
          </Button>
        }
      >
        <div className={styles.goal}>
          <span className={styles.count}>
            {progress.counted} <small>of {progress.goal}</small>
          </span>
          <div>
            <p className={styles.big} role="status" style={{ margin: 0 }}>
              {wordProgress(progress)}
            </p>
            <p className="muted" style={{ margin: '4px 0 0' }}>
              Each station counts once per band, mode and UTC day. {progress.repeats > 0 && `${progress.repeats} more are repeats. `}
              {progress.betweenReferences > 0 && `${progress.betweenReferences} with stations at a reference of their own. `}
              Your programme’s rules decide.
            </p>
          </div>
          <div
            className={styles.bar}
            style={{ gridColumn: '1 / -1' }}
            role="progressbar"
            aria-valuemin={0}
            aria-valuemax={progress.goal}
            aria-valuenow={Math.min(progress.counted, progress.goal)}
            aria-label="Contacts towards the goal"
          >
            <i style={{ width: `${100 * share}%` }} />
          </div>
        </div>
        {activation.practice !== practising && (
          <p className={panelStyles.caution} style={{ margin: '12px 0 0' }}>
            {activation.practice
              ? 'This is an activation for practice. Contacts on the air do not count for it.'
              : 'Contacts on the practice band do not count for this one.'}
          </p>
        )}
        {query.isError && <p role="alert">{query.error.message}</p>}
      </Panel>
      <SpotPanel activation={activation} station={profile.station} />
      <div className={styles.two}>
        <Split title="Per band" rows={progress.perBand} first="Band" />
        <Split
          title="Per day, UTC"
          rows={progress.perDay}
          first="Day"
          href={(day) => exportOf(activation, day)}
          all={{ href: exportOf(activation), count: contacts.length }}
        />
      </div>
      <ReferenceList contacts={contacts} onChanged={() => void client.invalidateQueries({ queryKey: ['activation', activation.id] })} />
    </>
  )
}

function wordProgress({ counted, goal, reached, reachedUtcMs, ratePerHour, projection }: ReturnType<typeof judgeActivation>): string {
  if (reached) return `The goal was reached at ${formatUtc(reachedUtcMs!).slice(0, 5)} UTC.`
  const missing = `${goal - counted} to go.`
  if (!projection || ratePerHour === undefined) return `${missing} With three contacts in the last hour the time can be estimated.`
  const at = (utcMs: number) => formatUtc(utcMs).slice(0, 5)
  return `${missing} At ${ratePerHour.toFixed(0)} an hour: about ${at(projection.utcMs)} UTC (${at(projection.earliestUtcMs)} to ${at(projection.latestUtcMs)}).`
}

interface SplitProps {
  title: string
  first: string
  rows: readonly { name: string; count: number }[]
  href?: (name: string) => string
  all?: { href: string; count: number }
}

function Split({ title, first, rows, href, all }: SplitProps) {
  return (
    <Panel
      title={title}
      aside={
        all && (
          <Button variant="contained" component="a" href={all.href} download disabled={all.count === 0}>
            ADIF of all {all.count}
          </Button>
        )
      }
    >
      {rows.length === 0 ? (
        <p className="muted">No contacts yet. Each one that completes is counted here by itself.</p>
      ) : (
        <table className={styles.table}>
          <thead>
            <tr>
              <th>{first}</th>
              <th className={styles.number}>Contacts</th>
              {href && <th>File</th>}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ name, count }) => (
              <tr key={name}>
                <td>{name}</td>
                <td className={styles.number}>{count}</td>
                {href && (
                  <td>
                    <Button
                      component="a"
                      href={href(name)}
                      download
                      aria-label={`ADIF of this day: ${name}`}
                      sx={{ whiteSpace: 'nowrap', px: 0.5 }}
                    >
                      ADIF of this day
                    </Button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Panel>
  )
}

interface PastProps {
  past: readonly Activation[]
  /** Takes one up again; only where none is under way. */
  onResume: ((activation: Activation) => void) | undefined
}

function Past({ past, onResume }: PastProps) {
  return (
    <Panel title="Before">
      <ul className={styles.list}>
        {past.slice(0, 10).map((a) => (
          <li key={a.id}>
            <span className={styles.when}>{formatUtcDate(a.startedUtcMs)}</span>
            <span className={styles.grow}>
              {[a.name, a.programme, a.reference].filter(Boolean).join(', ')}, goal {a.goal}
              {a.practice ? ', practice' : ''}
            </span>
            {onResume && (
              <Button variant="outlined" onClick={() => onResume(a)} aria-label={`Resume ${a.name}`}>
                Resume
              </Button>
            )}
            <Button component="a" href={exportOf(a)} download aria-label={`ADIF of ${a.name}`}>
              ADIF
            </Button>
          </li>
        ))}
      </ul>
    </Panel>
  )
}
