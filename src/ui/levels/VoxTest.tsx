'use client'
import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { findTone, reduceVox, startVoxSearch, voxLevel, voxResult, type VoxSearch } from '@/core/transmit'
import { useLive } from '../live/StationProvider'
import { panelStyles } from '../parts/Panel'
import styles from './LevelsScreen.module.css'
import type { useLevelTest } from './useLevelTest'

const BURST_S = 1
/** The gate wants a rest as long as the burst; a little more, so that it never refuses. */
const REST_MS = 1600
/** The longest lead-in that fits before the slot's first symbol. */
const LONGEST_LEAD_MS = 450
/** A person needs about this long from the lamp to the key. */
const REACTION_MS = 220

/** Finds the lowest level at which the VOX trips, how long it takes and how long it holds on. */
export function VoxTest({ test }: { test: ReturnType<typeof useLevelTest> }) {
  const { profile, saveStation } = useLive()
  const [search, setSearch] = useState<VoxSearch>()
  const [said, setSaid] = useState('')
  const running = useRef(false)
  const lamp = useRef<{ onMs?: number; offMs?: number }>({})
  useEffect(() => () => void (running.current = false), [])

  const run = async () => {
    let state = startVoxSearch()
    let goesOn = false
    running.current = true
    setSaid('')
    setSearch(state)
    while (running.current && state.phase !== 'done' && state.phase !== 'never') {
      lamp.current = {}
      const startMs = performance.now() + 200
      const result = await test.send('vox', { amplitude: voxLevel(state), durationS: BURST_S, goesOn })
      goesOn = true
      if (!running.current) break
      if (!result?.sent || !result.complete) {
        running.current = false
        setSaid(result?.sent ? 'Broken off.' : (result?.why ?? ''))
        break
      }
      await new Promise((done) => setTimeout(done, REST_MS))
      const tone = findTone(result.heard)
      const seen = lamp.current
      if (tone)
        // What is heard tells when it keyed; the carrier's end cannot be heard once the tone has ended.
        state = reduceVox(state, { type: 'burst', keyed: true, delayMs: Math.max(0, 1000 * tone.fromS) })
      else if (seen.onMs !== undefined)
        state = reduceVox(state, {
          type: 'burst',
          keyed: true,
          delayMs: Math.max(0, seen.onMs - startMs - REACTION_MS),
          ...(seen.offMs !== undefined && { hangMs: Math.max(0, seen.offMs - startMs - 1000 * BURST_S - REACTION_MS) }),
        })
      else state = reduceVox(state, { type: 'burst', keyed: false })
      setSearch(state)
    }
    running.current = false
  }
  const stop = () => {
    running.current = false
    setSearch(undefined)
  }
  const result = search && voxResult(search, LONGEST_LEAD_MS)
  const busy = search !== undefined && (search.phase === 'trying' || search.phase === 'timing') && said === ''
  return (
    <>
      <h3 className={styles.sub}>VOX</h3>
      <p>
        Short bursts, each louder than the last, until the radio keys; then three more to time it. When nothing brings the tone back, press
        the button when the radio’s transmit lamp lights, and again when it goes out.
      </p>
      <div className={panelStyles.row}>
        {busy ? (
          <>
            <Button
              variant="contained"
              onClick={() => {
                const nowMs = performance.now()
                lamp.current = lamp.current.onMs === undefined ? { onMs: nowMs } : { ...lamp.current, offMs: nowMs }
              }}
            >
              The lamp changes
            </Button>
            <Button variant="outlined" onClick={stop}>
              Stop the bursts
            </Button>
            <span role="status">
              {search.phase === 'trying'
                ? `Trying ${Math.round(100 * voxLevel(search))} %`
                : `Keyed; timing, ${search.delaysMs.length} of 3`}
            </span>
          </>
        ) : (
          <Button variant="outlined" disabled={test.busy !== undefined} onClick={() => test.afterCheck(() => void run())}>
            Find the VOX level
          </Button>
        )}
        {said && <span className={panelStyles.problem}>{said}</span>}
        {search?.phase === 'never' && (
          <span className={panelStyles.problem}>
            It never keyed. Switch VOX on, raise its gain, turn the host’s volume up, and check the lead.
          </span>
        )}
        {result && (
          <>
            <strong role="status">{result.words}</strong>
            <Button
              variant="contained"
              onClick={() =>
                void saveStation({ ...profile.station, voxLeadInMs: result.leadInMs })
                  .then(() => setSaid(`Lead-in is now ${result.leadInMs} ms.`))
                  .catch((error: Error) => setSaid(error.message))
              }
            >
              Use a lead-in of {result.leadInMs} ms
            </Button>
          </>
        )}
      </div>
    </>
  )
}
