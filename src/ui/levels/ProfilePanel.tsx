'use client'
import { useState, type RefObject } from 'react'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { figuresOf, type LevelProfile } from '@/core/levels'
import { useStation } from '../live/StationProvider'
import { useNow } from '../live/useNow'
import { formatAge, formatSigned, formatUtcDate } from '../parts/formats'
import { panelStyles } from '../parts/Panel'
import { StateMark } from '../parts/StateMark'
import styles from './LevelsScreen.module.css'
import type { useLevelProfile } from './useLevelProfile'

const FIRST_KNOBS = ['Radio volume', 'Interface output']

/** What was good for this radio, interface and device, what differs now, and the form that remembers it. */
export function ProfilePanel({
  use,
  measured,
  formRef,
}: {
  use: ReturnType<typeof useLevelProfile>
  measured: Pick<LevelProfile, 'antennaRiseDb' | 'roomCostDb' | 'converter2500Dbfs'>
  formRef: RefObject<HTMLInputElement | null>
}) {
  const audio = useStation((s) => s.audio)
  const now = useNow(10_000)
  const { stored, changes, key } = use
  return (
    <>
      <p className="muted">
        {key.deviceLabel
          ? `${key.radio || 'Radio without a name'}, ${key.interfaceName || 'interface without a name'}, heard through “${key.deviceLabel}”.`
          : 'Start listening first: what is remembered belongs to the radio, the interface and the audio device together.'}
      </p>
      {stored && (
        <div className={styles.compare}>
          <div className={styles.finding}>
            <StateMark state={changes === undefined ? 'unknown' : changes.length === 0 ? 'ready' : 'attention'} />
            <div>
              <strong>
                {changes === undefined
                  ? 'Comparing as soon as ten seconds were heard.'
                  : changes.length === 0
                    ? 'As it was when it was good.'
                    : `${changes.length} ${changes.length === 1 ? 'thing differs' : 'things differ'} from when it was good.`}
              </strong>{' '}
              <span className="muted">
                Remembered {now === undefined ? formatUtcDate(stored.savedUtcMs) : formatAge(now - stored.savedUtcMs)},{' '}
                {formatUtcDate(stored.savedUtcMs)}.
              </span>
            </div>
          </div>
          {changes && changes.length > 0 && (
            <table className={styles.changes}>
              <thead>
                <tr>
                  <th scope="col">What</th>
                  <th scope="col">When it was good</th>
                  <th scope="col">Now</th>
                  <th scope="col">Means</th>
                </tr>
              </thead>
              <tbody>
                {changes.map((c) => (
                  <tr key={c.what}>
                    <th scope="row">{c.what.replace('-', ' ')}</th>
                    <td>{c.was}</td>
                    <td>{c.is}</td>
                    <td>{c.means}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <dl className={styles.facts}>
            {stored.knobs.map((knob) => (
              <div key={knob.name}>
                <dt>{knob.name}</dt>
                <dd>{knob.position || 'not noted'}</dd>
              </div>
            ))}
            {stored.hostVolume && (
              <div>
                <dt>Host volume</dt>
                <dd>{stored.hostVolume}</dd>
              </div>
            )}
            <div>
              <dt>Noise then</dt>
              <dd>{formatSigned(stored.figures.noise2500Dbfs)} dBFS</dd>
            </div>
            {stored.antennaRiseDb !== null && (
              <div>
                <dt>Antenna brought</dt>
                <dd>{stored.antennaRiseDb.toFixed(0)} dB</dd>
              </div>
            )}
            {stored.transmit && stored.transmit.level !== null && (
              <div>
                <dt>Transmitted then</dt>
                <dd>
                  {Math.round(100 * stored.transmit.level)} %, lead-in {stored.transmit.voxLeadInMs ?? 0} ms
                </dd>
              </div>
            )}
            {stored.note && (
              <div>
                <dt>Note</dt>
                <dd>{stored.note}</dd>
              </div>
            )}
          </dl>
          <Button variant="text" onClick={use.forget}>
            Forget this set-up
          </Button>
        </div>
      )}
      <ProfileForm
        key={stored?.id ?? 'new'}
        stored={stored}
        firstRef={formRef}
        disabled={!audio || !key.deviceLabel || use.saving}
        problem={use.problem}
        onSave={(form) => use.save({ ...key, ...measured, ...form, figures: figuresOf(audio!) })}
      />
    </>
  )
}

function ProfileForm({
  stored,
  firstRef,
  disabled,
  problem,
  onSave,
}: {
  stored: LevelProfile | undefined
  firstRef: RefObject<HTMLInputElement | null>
  disabled: boolean
  problem: string | undefined
  onSave: (form: Pick<LevelProfile, 'knobs' | 'hostVolume' | 'note'>) => Promise<unknown>
}) {
  const [knobs, setKnobs] = useState(stored?.knobs.length ? stored.knobs : FIRST_KNOBS.map((name) => ({ name, position: '' })))
  const [hostVolume, setHostVolume] = useState(stored?.hostVolume ?? '')
  const [note, setNote] = useState(stored?.note ?? '')
  const [saved, setSaved] = useState(false)
  const change = (i: number, part: Partial<{ name: string; position: string }>) =>
    setKnobs((all) => all.map((knob, k) => (k === i ? { ...knob, ...part } : knob)))
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        setSaved(false)
        void onSave({ knobs: knobs.filter((k) => k.name.trim()), hostVolume, note })
          .then(() => setSaved(true))
          .catch(() => undefined)
      }}
    >
      <h3 className={styles.sub}>Remember how it is set now</h3>
      <div className={styles.knobs}>
        {knobs.map((knob, i) => (
          <div key={i} className={styles.knob}>
            <TextField
              size="small"
              label={`Knob ${i + 1}`}
              value={knob.name}
              onChange={(e) => change(i, { name: e.target.value })}
              {...(i === 0 && { inputRef: firstRef })}
            />
            <TextField
              size="small"
              label={`Position ${i + 1}`}
              value={knob.position}
              onChange={(e) => change(i, { position: e.target.value })}
            />
          </div>
        ))}
        <div className={styles.knob}>
          <TextField size="small" label="Host volume" value={hostVolume} onChange={(e) => setHostVolume(e.target.value)} />
          <TextField size="small" label="Note" value={note} onChange={(e) => setNote(e.target.value)} />
        </div>
      </div>
      <div className={panelStyles.row} style={{ marginTop: 10 }}>
        <Button type="submit" variant="contained" disabled={disabled}>
          Remember this as good
        </Button>
        {knobs.length < 12 && (
          <Button variant="text" onClick={() => setKnobs((all) => [...all, { name: '', position: '' }])}>
            One more knob
          </Button>
        )}
        <span role="status">{saved ? 'Remembered.' : disabled ? 'Needs sound to measure.' : ''}</span>
        {problem && <span className={panelStyles.problem}>{problem}</span>}
      </div>
    </form>
  )
}
