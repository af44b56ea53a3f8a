'use client'
import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import Slider from '@mui/material/Slider'
import { SAMPLE_RATE_HZ } from '@/core/dsp'
import {
  adviseLevel,
  dutyReminder,
  HARMONIC_LIMIT_DB,
  HUM_LIMIT_DB,
  INTERMOD_LIMIT_DB,
  LONGEST_TEST_S,
  measureTone,
  measureTwoTones,
  rampGain,
  type LevelAdvice,
  type TestKind,
} from '@/core/transmit'
import { useLive, useStation } from '../live/StationProvider'
import { formatSigned } from '../parts/formats'
import { FirstCheck } from '../parts/FirstCheck'
import { Caution, panelStyles } from '../parts/Panel'
import { StateMark } from '../parts/StateMark'
import { DelayTest } from './DelayTest'
import styles from './LevelsScreen.module.css'
import { useLevelTest } from './useLevelTest'
import { VoxTest } from './VoxTest'

const RAMP_S = 8
const TONE_S = 4

interface Line {
  state: 'ready' | 'attention' | 'missing' | 'unknown'
  words: string
}

/** Levels of what is sent: by ear when the station can hear itself, by the radio's meters when it cannot. */
export function TransmitSetup() {
  const { profile, saveStation, station } = useLive()
  const onAir = useStation((s) => s.onAir)
  const mode = useStation((s) => s.mode)
  /** Level at which the operator saw the meter move, in the ramp that is on. */
  const seen = useRef<number | undefined>(undefined)
  const test = useLevelTest()
  const [level, setLevel] = useState(profile.station.transmitLevel)
  const [lines, setLines] = useState<Line[]>()
  const [advice, setAdvice] = useState<LevelAdvice>()
  const [saved, setSaved] = useState<string>()
  const { busy } = test

  const save = (transmitLevel: number) =>
    saveStation({ ...profile.station, transmitLevel: Math.round(100 * transmitLevel) / 100 })
      .then(() => setSaved(`Transmitted audio is now at ${Math.round(100 * transmitLevel)} %.`))
      .catch((error: Error) => setSaved(error.message))
  const run = (kind: 'tone' | 'twoTone' | 'mode' | 'ramp') =>
    test.afterCheck(
      () =>
        void (async () => {
          setLines(undefined)
          setAdvice(undefined)
          setSaved(undefined)
          seen.current = undefined
          const durationS = kind === 'ramp' ? RAMP_S : kind === 'mode' ? LONGEST_TEST_S : TONE_S
          const amplitude = kind === 'ramp' ? 1 : level
          const result = await test.send(kind, { amplitude, durationS })
          if (!result?.sent) return
          if (seen.current !== undefined) setAdvice(bySight(seen.current))
          else if (!result.complete) setLines([{ state: 'attention', words: 'The test was broken off, so it says nothing.' }])
          else if (kind === 'ramp') setAdvice(adviseLevel(result.heard, RAMP_S, 1))
          else setLines(judgeHeard(kind, result.heard.subarray(SAMPLE_RATE_HZ / 2, Math.round((durationS - 0.3) * SAMPLE_RATE_HZ))))
        })(),
    )
  const meterMoves = () => {
    if (!onAir || !station) return
    // The operator needs a moment to see and to press; the step before is the one that was still good.
    const share = (station.clock.nowUtcMs() - onAir.startUtcMs) / (1000 * RAMP_S)
    seen.current = rampGain(Math.max(0, Math.min(0.999, share)))
    void station.do({ type: 'silence', why: 'The level control moved.' })
  }
  const button = (kind: 'tone' | 'twoTone' | 'mode' | 'ramp', words: string) => (
    <Button variant={kind === 'ramp' ? 'contained' : 'outlined'} disabled={busy !== undefined} onClick={() => run(kind)}>
      {busy === kind ? 'Sending…' : words}
    </Button>
  )
  return (
    <>
      <Caution>
        Begin with the lowest power and an antenna or dummy load for this band, hands clear. A handheld beside another receiver overloads
        it: lowest power, and a few metres apart. The radio’s manual and the local rules decide.
      </Caution>
      <p style={{ margin: '8px 0' }}>{dutyReminder(mode, profile.station.powerW)}</p>
      {test.checking ? (
        <FirstCheck what="Send the test" practice={false} onChecked={test.checked} onNotNow={test.notNow} />
      ) : (
        <>
          <h3 className={styles.sub}>The level of transmitted audio</h3>
          <p>
            The ramp rises in twelve steps over {RAMP_S} s. If a monitor, a second receiver or a cable brings it back to the audio input,
            Zeptik finds where it stops following. If not: watch power and the level-control meter, and stop below where the meter begins to
            move.
          </p>
          <div className={styles.sliderRow}>
            <span id="tx-level">Level for tests</span>
            <Slider
              aria-labelledby="tx-level"
              value={Math.round(100 * level)}
              min={1}
              max={100}
              valueLabelDisplay="off"
              onChange={(_, value) => setLevel((value as number) / 100)}
            />
            <strong>{Math.round(100 * level)} %</strong>
          </div>
          <div className={panelStyles.row}>
            {busy === 'ramp' && onAir ? (
              <Button variant="contained" onClick={meterMoves}>
                The meter moves: stop
              </Button>
            ) : (
              button('ramp', `Ramp, ${RAMP_S} s`)
            )}
            {button('tone', `One tone, ${TONE_S} s`)}
            {button('twoTone', `Two tones, ${TONE_S} s`)}
            {button('mode', `FT8 signal, ${LONGEST_TEST_S} s`)}
            <Button variant="text" disabled={level === profile.station.transmitLevel} onClick={() => void save(level)}>
              Use {Math.round(100 * level)} %
            </Button>
          </div>
          <div role="status">
            {saved && <p>{saved}</p>}
            {lines?.map((line) => (
              <p key={line.words} className={styles.finding}>
                <StateMark state={line.state} size={22} />
                <span>{line.words}</span>
              </p>
            ))}
            {advice && <RampResult advice={advice} onUse={save} />}
          </div>
          {test.refusal && (
            <p role="alert" className={panelStyles.problem}>
              {test.refusal.why}
            </p>
          )}
          <VoxTest test={test} />
          <DelayTest test={test} />
        </>
      )}
    </>
  )
}

/** What follows when the operator stopped the ramp by the radio's own meter: a step below where it moved. */
function bySight(seenLevel: number): LevelAdvice {
  const level = seenLevel * 10 ** (-3 / 20)
  return {
    level,
    points: [],
    words: `The level control moved at ${Math.round(100 * seenLevel)} % of full scale. Use ${Math.max(1, Math.round(100 * level))} %, 3 dB below.`,
  }
}

function RampResult({ advice, onUse }: { advice: LevelAdvice; onUse: (level: number) => Promise<void> }) {
  const { level, points } = advice
  const x = (db: number) => 40 + ((db + 33) / 33) * 340
  const top = Math.max(...points.map((p) => p.heardDbfs), -60)
  const y = (db: number) => 12 + ((top - db) / 40) * 110
  return (
    <div className={styles.ramp}>
      {points.length > 2 && (
        <svg
          viewBox="0 0 400 160"
          role="img"
          aria-label={`Heard level against sent level, ${points.length} steps${advice.bendDb === undefined ? ', straight' : `, bends at ${formatSigned(advice.bendDb)} dB`}`}
        >
          <path d="M40 8V126H384" fill="none" stroke="var(--ink)" />
          {[-30, -20, -10, 0].map((db) => (
            <text key={db} x={x(db)} y="141" textAnchor="middle" fontSize="12" fill="var(--muted)">
              {formatSigned(db)}
            </text>
          ))}
          {[0, -20].map((db) => (
            <text key={db} x="36" y={y(top + db) + 4} textAnchor="end" fontSize="12" fill="var(--muted)">
              {formatSigned(top + db)}
            </text>
          ))}
          <line
            x1={x(points[0]!.sentDb)}
            y1={y(points[0]!.heardDbfs)}
            x2={x(0)}
            y2={y(points[0]!.heardDbfs - points[0]!.sentDb)}
            stroke="var(--muted)"
            strokeDasharray="4 4"
          />
          <polyline
            points={points.map((p) => `${x(p.sentDb)},${y(p.heardDbfs)}`).join(' ')}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="2.5"
          />
          {points.map((p) => (
            <circle key={p.sentDb} cx={x(p.sentDb)} cy={y(p.heardDbfs)} r="4" fill="var(--ink)" />
          ))}
          <text x="212" y="155" textAnchor="middle" fontSize="12" fill="var(--muted)">
            sent, dB; upwards: heard, dBFS{points[0]!.sentDb > -33 ? '; quieter steps did not come back' : ''}
          </text>
        </svg>
      )}
      <div>
        <p>
          <strong>{advice.words}</strong>
        </p>
        {level !== undefined && (
          <Button variant="contained" onClick={() => void onUse(level)}>
            Use {Math.round(100 * level)} %
          </Button>
        )}
      </div>
    </div>
  )
}

const UNHEARD: Line = {
  state: 'unknown',
  words:
    'It was not heard back, so nothing can be measured here. Watch the radio: power must come up, and the level-control meter must just not move.',
}

/** What came back of a tone or two, in sentences. */
function judgeHeard(kind: TestKind, heard: Float32Array): Line[] {
  if (kind === 'twoTone') {
    const two = measureTwoTones(heard)
    if (!two) return [UNHEARD]
    const bad = Math.max(two.thirdDb, two.fifthDb) > INTERMOD_LIMIT_DB
    return [
      {
        state: bad ? 'missing' : 'ready',
        words: `Third-order mixtures ${formatSigned(two.thirdDb)} dB, fifth ${formatSigned(two.fifthDb)} dB against one tone: ${bad ? 'overdriven, turn the audio down' : 'clean'}.`,
      },
      {
        state: two.unevenDb > 6 ? 'attention' : 'ready',
        words: `The tones differ by ${two.unevenDb.toFixed(0)} dB${two.unevenDb > 6 ? ': an equaliser or a narrow transmit filter is on' : ''}.`,
      },
    ]
  }
  if (kind === 'mode')
    return [{ state: 'unknown', words: 'Sent. Power must stay steady over the ten seconds; if it falls, the radio gets hot.' }]
  const tone = measureTone(heard)
  if (!tone) return [UNHEARD]
  const harmonic = Math.max(...tone.harmonicsDb)
  return [
    { state: 'ready', words: `Heard back at ${formatSigned(tone.toneDbfs)} dBFS.` },
    {
      state: harmonic > HARMONIC_LIMIT_DB ? 'missing' : 'ready',
      words: `Harmonics ${formatSigned(harmonic)} dB: ${harmonic > HARMONIC_LIMIT_DB ? 'overdriven, turn the audio down' : 'clean'}.`,
    },
    {
      state: tone.crestExcessDb < -0.4 ? 'missing' : 'ready',
      words: tone.crestExcessDb < -0.4 ? 'The tops of the wave are flat: turn the audio down.' : 'The tops of the wave are round.',
    },
    {
      state: tone.humDb > HUM_LIMIT_DB ? 'attention' : 'ready',
      words: `Hum on the signal ${formatSigned(tone.humDb)} dB${tone.humDb > HUM_LIMIT_DB ? ': isolate the audio lead, or run from batteries' : ': none to speak of'}.`,
    },
  ]
}
