'use client'
import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { judgeAntenna, judgeRoom, noiseOf, type AntennaVerdict, type NoiseSample, type RoomVerdict } from '@/core/levels'
import { useLive, useStation } from '../live/StationProvider'
import { formatSigned } from '../parts/formats'
import { panelStyles } from '../parts/Panel'
import { StateMark } from '../parts/StateMark'
import styles from './LevelsScreen.module.css'

/** One situation is listened to for this long. */
const LISTEN_S = 8

type Situation = 'off' | 'on' | 'radioOff' | 'room' | 'playing'
interface Step {
  id: Situation
  do: string
  button: string
  optional?: boolean
}

const ANTENNA_STEPS: readonly Step[] = [
  { id: 'off', do: 'Take the antenna off (or switch to a dummy load, or to a quiet empty frequency).', button: 'Antenna is off: listen' },
  { id: 'on', do: 'Put the antenna on again. Touch no other knob.', button: 'Antenna is on: listen' },
  {
    id: 'radioOff',
    do: 'Switch the radio off, or its volume to nothing. Tells the converter’s own noise.',
    button: 'Radio is off: listen',
    optional: true,
  },
]
const ROOM_STEPS: readonly Step[] = [
  { id: 'room', do: 'Turn the radio’s volume right down. Keep the room as it will be.', button: 'Radio is silent: listen' },
  { id: 'playing', do: 'Turn the volume up to where it was.', button: 'Radio plays: listen' },
]

const MARKS = { good: 'ready', fair: 'attention', poor: 'missing' } as const

/** Listens to each situation for some seconds, by itself. */
function useSituations() {
  const { station } = useLive()
  const audio = useStation((s) => s.audio)
  const [taken, setTaken] = useState<Partial<Record<Situation, NoiseSample>>>({})
  const [listening, setListening] = useState<Situation>()
  useEffect(() => {
    // The restart clears what was heard before, so whatever is there now belongs to the new situation.
    if (!listening || !audio || audio.durationS < LISTEN_S) return
    const noise = noiseOf(audio)
    const situation = listening
    // What the store reports decides when the measurement is done, so the result is set from this effect.
    // eslint-disable-next-line react-hooks/set-state-in-effect
    setTaken((all) => ({ ...all, [situation]: noise }))
    setListening(undefined)
  }, [audio, listening])
  const listen = (situation: Situation) => {
    void station?.do({ type: 'measureLevels' })
    setListening(situation)
  }
  return { taken, listening, heardS: listening ? (audio?.durationS ?? 0) : 0, listen, cancel: () => setListening(undefined) }
}

export function AntennaTest({ onVerdict }: { onVerdict: (verdict: AntennaVerdict, converter2500Dbfs: number | null) => void }) {
  const run = useSituations()
  const { off, on, radioOff } = run.taken
  const verdict = off && on ? judgeAntenna(off, on, radioOff) : undefined
  const told = useRef<string>(undefined)
  useEffect(() => {
    if (!verdict || told.current === verdict.sentence + verdict.limit) return
    told.current = verdict.sentence + verdict.limit
    onVerdict(verdict, radioOff?.noise2500Dbfs ?? null)
  })
  return (
    <>
      <p>
        Tells by how much the band rises over the noise your own station makes, and what limits it. It replaces any rule of thumb for the
        level.
      </p>
      <Steps steps={ANTENNA_STEPS} run={run} />
      {verdict && <Verdict verdict={verdict} />}
      {verdict && verdict.limit !== 'unknown' && (
        <p style={{ marginLeft: 40 }}>
          What limits: <strong>{verdict.limit === 'radio' ? 'the radio’s own noise' : 'the converter'}</strong>.
        </p>
      )}
    </>
  )
}

export function RoomTest({ onVerdict }: { onVerdict: (verdict: RoomVerdict) => void }) {
  const run = useSituations()
  const spoilt = useStation((s) => s.spoiltSlots)
  const { room, playing } = run.taken
  const verdict = room && playing ? judgeRoom(room, playing) : undefined
  const told = useRef<string>(undefined)
  useEffect(() => {
    if (!verdict || told.current === verdict.sentence) return
    told.current = verdict.sentence
    onVerdict(verdict)
  })
  return (
    <>
      <p>For a microphone beside a loudspeaker: what the room’s noise costs, in dB of signal-to-noise ratio.</p>
      <Steps steps={ROOM_STEPS} run={run} />
      {verdict && <Verdict verdict={verdict} />}
      <p style={{ marginTop: 8 }}>
        {spoilt.length === 0
          ? 'No slot was spoilt by talking so far. Ask for quiet from the first to the thirteenth second of each slot.'
          : `${spoilt.length} of the last slots were spoilt by talking; they are marked. Ask for quiet from the first to the thirteenth second of each slot.`}
      </p>
    </>
  )
}

function Steps({ steps, run }: { steps: readonly Step[]; run: ReturnType<typeof useSituations> }) {
  const on = useStation((s) => s.source.kind !== 'none' && s.source.kind !== 'starting')
  const next = steps.find((step) => !run.taken[step.id] && !step.optional)?.id
  return (
    <ol className={styles.tests}>
      {steps.map((step) => {
        const sample = run.taken[step.id]
        const busy = run.listening === step.id
        return (
          <li key={step.id} className={styles.test}>
            <StateMark state={sample ? 'ready' : 'unknown'} size={22} />
            <span>
              {step.do}
              {step.optional && <span className="muted"> If you like.</span>}
            </span>
            {busy ? (
              <span className={panelStyles.row}>
                <progress aria-label="Listening" max={LISTEN_S} value={Math.min(LISTEN_S, run.heardS)} />
                <Button variant="text" onClick={run.cancel}>
                  Cancel
                </Button>
              </span>
            ) : (
              <span className={panelStyles.row}>
                {sample && <strong>{formatSigned(sample.noise2500Dbfs, 1)} dBFS</strong>}
                <Button
                  variant={next === step.id ? 'contained' : 'outlined'}
                  disabled={!on || run.listening !== undefined}
                  onClick={() => run.listen(step.id)}
                >
                  {sample ? 'Again' : step.button}
                </Button>
              </span>
            )}
          </li>
        )
      })}
    </ol>
  )
}

function Verdict({ verdict }: { verdict: Pick<AntennaVerdict, 'state' | 'sentence' | 'advice'> }) {
  return (
    <div className={styles.finding} role="status">
      <StateMark state={MARKS[verdict.state]} />
      <div>
        <strong>{verdict.sentence}.</strong> {verdict.advice}
      </div>
    </div>
  )
}
