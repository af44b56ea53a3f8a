import Button from '@mui/material/Button'
import Slider from '@mui/material/Slider'
import type { ReceiveFault } from '@/standins'
import { useLive, useStation } from '../live/StationProvider'
import { formatSigned } from '../parts/formats'
import { Panel, panelStyles } from '../parts/Panel'
import { savePracticeOptions } from '../practise/practiceOptions'
import styles from './LevelsScreen.module.css'

const LOWEST_DB = -50
const HIGHEST_DB = 70

/** What one would do to a real station. The level faults have the volume for it. */
const CURES: Partial<Record<ReceiveFault, string>> = {
  'digital-silence': 'Unmute the input',
  'dc-offset': 'Plug in an isolated interface',
  'hum-50': 'Run all of it from batteries',
  'hum-60': 'Run all of it from batteries',
  'agc-pumping': 'Switch automatic gain off',
  'noise-gate': 'Open the squelch',
  'noise-reduction': 'Switch noise reduction off',
  'narrow-filter': 'Switch to the wide filter',
  speech: 'Ask for quiet',
  dropouts: 'Close other programs',
  'one-channel': 'Use the right plug',
}

/** The knobs of the practice receiver, so that what was found wrong can be put right where it was found. */
export function PracticeKnobs() {
  const { station } = useLive()
  const practice = useStation((s) => s.source.kind === 'practice')
  const volumeDb = useStation((s) => s.practiceVolumeDb)
  const faults = useStation((s) => s.practiceFaults)
  if (!practice) return null
  const turn = (db: number) => void station?.do({ type: 'practiceVolume', db: Math.max(LOWEST_DB, Math.min(HIGHEST_DB, db)) })
  const cure = (fault: ReceiveFault) => {
    const left = faults.filter((f) => f !== fault)
    savePracticeOptions({ faults: left })
    void station?.do({ type: 'practiceFaults', faults: left })
  }
  return (
    <Panel title="Knobs of the practice receiver">
      <div className={styles.knobRow}>
        <span id="practice-volume">Volume</span>
        <Button variant="outlined" aria-label="Volume down by 3 dB" onClick={() => turn(volumeDb - 3)}>
          −3
        </Button>
        <Slider
          aria-labelledby="practice-volume"
          value={volumeDb}
          min={LOWEST_DB}
          max={HIGHEST_DB}
          step={1}
          onChange={(_, value) => turn(Array.isArray(value) ? value[0]! : value)}
          getAriaValueText={(db) => `${formatSigned(db)} dB`}
        />
        <Button variant="outlined" aria-label="Volume up by 3 dB" onClick={() => turn(volumeDb + 3)}>
          +3
        </Button>
        <strong className={styles.knobValue}>{formatSigned(volumeDb)} dB</strong>
      </div>
      <div className={panelStyles.row} role="group" aria-label="What can be put right">
        {faults.map(
          (fault) =>
            CURES[fault] && (
              <Button key={fault} variant="outlined" onClick={() => cure(fault)}>
                {CURES[fault]}
              </Button>
            ),
        )}
        <span className="muted">
          {faults.length > 0
            ? 'Turn the volume, or press what the evidence above asks for: what is heard shows it within twenty seconds.'
            : 'No fault is switched on; the Practise screen has them.'}
        </span>
      </div>
    </Panel>
  )
}
