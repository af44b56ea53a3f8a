'use client'
import { useEffect, useRef, useState } from 'react'
import Tab from '@mui/material/Tab'
import Tabs from '@mui/material/Tabs'
import { withMinus } from '@/core/audio/decibelWords'
import type { LevelProfile } from '@/core/levels'
import { useLive, useStation } from '../live/StationProvider'
import { useNow } from '../live/useNow'
import { formatSigned } from '../parts/formats'
import { Page, Panel } from '../parts/Panel'
import { FindingList } from './FindingList'
import { GuidedSetup } from './GuidedSetup'
import { LevelChart } from './LevelChart'
import styles from './LevelsScreen.module.css'
import { levelSentence } from './levelSentence'
import { AntennaTest, RoomTest } from './NoiseTest'
import { PracticeKnobs } from './PracticeKnobs'
import { ProfilePanel } from './ProfilePanel'
import { SpectrumView } from './SpectrumView'
import { TargetMeter } from './TargetMeter'
import { TransmitSetup } from './TransmitSetup'
import { useLevelProfile } from './useLevelProfile'

const TESTS = [
  ['antenna', 'What the antenna brings'],
  ['room', 'What the room costs'],
  ['transmit', 'Transmit'],
] as const
type Test = (typeof TESTS)[number][0]
type Measured = Pick<LevelProfile, 'antennaRiseDb' | 'roomCostDb' | 'converter2500Dbfs'>

/** How loud, how clean, and what to turn. */
export function LevelsScreen() {
  const { station } = useLive()
  const audio = useStation((s) => s.audio)
  const source = useStation((s) => s.source)
  const now = useNow(10_000)
  const [test, setTest] = useState<Test>('antenna')
  const [measured, setMeasured] = useState<Measured>({ antennaRiseDb: null, roomCostDb: null, converter2500Dbfs: null })
  const knobs = useRef<HTMLInputElement>(null)
  const profile = useLevelProfile()
  const stored = profile.stored?.converter2500Dbfs ?? undefined
  const converter = measured.converter2500Dbfs ?? stored
  useEffect(() => {
    if (converter === stored) return
    // What was just measured counts while this screen is open; what is remembered counts again after it.
    void station?.do({ type: 'converterNoise', dbfs: converter })
    return () => void station?.do({ type: 'converterNoise', dbfs: stored })
  }, [station, converter, stored])
  const on = source.kind !== 'none' && source.kind !== 'starting'
  return (
    <Page
      title={levelSentence(audio, on)}
      lead="What is heard is measured twenty seconds back, and what is wrong is named with its evidence."
    >
      <Panel title="Receive level">
        <TargetMeter audio={audio} on={on} />
        <GuidedSetup
          converter2500Dbfs={converter}
          onGood={() => {
            knobs.current?.focus()
            knobs.current?.scrollIntoView({ block: 'center' })
          }}
        />
      </Panel>
      <Panel title="What is wrong">
        <FindingList findings={audio?.findings ?? []} heard={audio !== undefined} unseen={audio?.unseen ?? []} />
      </Panel>
      <PracticeKnobs />
      <Panel title="Spectrum">
        <SpectrumView audio={audio} />
      </Panel>
      <Panel title="Now, and when it was good">
        <ProfilePanel use={profile} measured={measured} formRef={knobs} />
      </Panel>
      <Panel title="Tests" id="level-tests">
        <Tabs
          value={test}
          onChange={(_, value: Test) => setTest(value)}
          variant="scrollable"
          scrollButtons="auto"
          aria-label="Tests"
          className={styles.tabs}
        >
          {TESTS.map(([value, label]) => (
            <Tab key={value} value={value} label={label} id={`test-${value}`} aria-controls="test-body" />
          ))}
        </Tabs>
        <div role="tabpanel" id="test-body" aria-labelledby={`test-${test}`}>
          {test === 'antenna' && (
            <AntennaTest
              onVerdict={(verdict, converter2500Dbfs) =>
                setMeasured((m) => ({ ...m, antennaRiseDb: verdict.riseDb, converter2500Dbfs: converter2500Dbfs ?? m.converter2500Dbfs }))
              }
            />
          )}
          {test === 'room' && <RoomTest onVerdict={(verdict) => setMeasured((m) => ({ ...m, roomCostDb: verdict.costDb }))} />}
          {test === 'transmit' && <TransmitSetup />}
        </div>
      </Panel>
      <Panel title="Over time">{now !== undefined && <LevelChart nowUtcMs={now} />}</Panel>
      {audio && (
        <Panel title="All figures">
          <Figures />
        </Panel>
      )}
    </Page>
  )
}

function Figures() {
  const audio = useStation((s) => s.audio)
  if (!audio) return null
  const db = (value: number, unit = 'dBFS') => (Number.isFinite(value) ? `${withMinus(value, 1)} ${unit}` : 'none')
  const rows: [string, string][] = [
    ['Mean, with the stations', db(audio.rmsDbfs)],
    ['Peaks', db(audio.peakDbfs)],
    ['Crest', db(audio.crestDb, 'dB')],
    ['Headroom', db(audio.headroomDb, 'dB')],
    ['Noise per hertz', db(audio.noiseFloorDbfsPerHz, 'dBFS per Hz')],
    ['Noise in 2500 Hz', db(audio.noise2500Dbfs)],
    ['Passband', audio.passbandHz ? `${audio.passbandHz.map((hz) => Math.round(hz)).join(' to ')} Hz` : 'not found'],
    ['Clipped', `${(100 * audio.clippedFraction).toFixed(3)} %`],
    ['Offset', `${formatSigned(100 * audio.dcOffset, 2)} %`],
    ['Hum', audio.humHz ? `${audio.humHz} Hz, ${db(audio.humDbfs!)}` : 'none'],
    ['Noise ducks by', db(audio.dynamics.duckDb, 'dB')],
    ['Channels', audio.channels.map((c) => (c.constant ? 'silent' : db(c.rmsDbfs))).join(', ')],
    ['Rate', `${audio.sampleRateHz} per second`],
    [
      'Rate error',
      audio.sampleClock ? `${withMinus(audio.sampleClock.ppm)} ppm ±${audio.sampleClock.uncertaintyPpm.toFixed(0)}` : 'not measured',
    ],
    ['Heard', `${audio.durationS.toFixed(0)} s`],
  ]
  return (
    <dl className={styles.facts}>
      {rows.map(([name, value]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  )
}
