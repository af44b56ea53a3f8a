'use client'
import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { readNmeaRecording, type NmeaSummary } from '@/core/nmea'
import { useLive } from '../../live/StationProvider'
import { FileInput } from '../../parts/FileInput'
import { panelStyles } from '../../parts/Panel'
import { ReceiverRow } from './ReceiverRow'

const LARGEST_NMEA_FILE = 50_000_000

/** What a receiver's recording says of the place, and of the time that was. */
export function NmeaRecordingRow() {
  const [summary, setSummary] = useState<{ name: string; value: NmeaSummary }>()
  const [problem, setProblem] = useState<string>()
  const picker = useRef<HTMLInputElement>(null)
  const { profile, saveStation } = useLive()
  const [unchecked, setUnchecked] = useState<File>()
  const open = async (file: File, acceptUnchecked = false) => {
    setProblem(undefined)
    setSummary(undefined)
    setUnchecked(undefined)
    if (file.size > LARGEST_NMEA_FILE) {
      setProblem(
        `${file.name} has ${Math.round(file.size / 1e6)} MB; up to ${LARGEST_NMEA_FILE / 1e6} MB are opened here. Use "zeptik clock --nmea" for longer ones.`,
      )
      return
    }
    const options = { notAfterUtcMs: Date.now() + 86_400_000, acceptUnchecked }
    const value = readNmeaRecording(new Uint8Array(await file.arrayBuffer()), options, () => undefined)
    if (value.accepted > 0) setSummary({ name: file.name, value })
    else {
      setProblem(`${file.name} holds no sentence of a receiver (${value.rejected} lines were looked at). ${value.remarks.join(' ')}`)
      if (!acceptUnchecked && value.sendsNoChecksums) setUnchecked(file)
    }
  }
  return (
    <ReceiverRow title="A recording" status={undefined}>
      <FileInput
        inputRef={picker}
        label="Receiver recording to open"
        accept=".nmea,.txt,.log,.nma,text/plain"
        onFile={(file) => void open(file)}
      />
      <Button variant="outlined" onClick={() => picker.current?.click()}>
        Open an NMEA file
      </Button>
      {problem ? (
        <span role="alert" className={panelStyles.problem}>
          {problem}{' '}
          {unchecked && (
            <Button variant="outlined" onClick={() => void open(unchecked, true)}>
              Read it without checksums
            </Button>
          )}
        </span>
      ) : summary ? (
        <span role="status">
          {summary.name}: {summary.value.accepted} sentences, last {summary.value.utc?.slice(0, 19).replace('T', ' ') ?? 'without a time'},{' '}
          {summary.value.locator ?? 'no place'}
          {summary.value.trusted ? '' : `, doubtful: ${summary.value.doubt}`}. {summary.value.remarks.join(' ')}{' '}
          {summary.value.locator && summary.value.locator !== profile.station.locator && (
            <Button variant="outlined" onClick={() => void saveStation({ ...profile.station, locator: summary.value.locator! })}>
              Use {summary.value.locator} as the station’s place
            </Button>
          )}
        </span>
      ) : (
        <span className="muted">Gives a place, and what the time was then; it cannot tell what time it is now.</span>
      )}
    </ReceiverRow>
  )
}
