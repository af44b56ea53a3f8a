'use client'
import type { LadderFrame, SessionView } from '@/core/packet/station/contracts'
import { byteWords } from '@/core/packet/station/sessionWords'
import { counted, formatUtc } from '../../parts/formats'
import styles from './Sessions.module.css'

const STATES: Record<LadderFrame['state'], string> = {
  heard: 'heard',
  sent: 'sent',
  waits: 'waits',
  again: 'sent again',
  acknowledged: 'acknowledged',
}

/** The frames of a session in time, the newest first: ours to the right, theirs to the left. */
export function FrameLadder({ session }: { session: SessionView }) {
  const { ladder, acknowledgedBytes, receivedBytes, sentAgain, sentFrames, window, length, modulo, roundTripMs } = session
  return (
    <div className={styles.ladder}>
      <h3>Frames</h3>
      <p className={styles.figures}>
        {byteWords(acknowledgedBytes)} out, {byteWords(receivedBytes)} in
        {sentFrames > 0 && `, ${sentAgain} of ${counted(sentFrames, 'frame')} sent again`}. {counted(window, 'frame')} of {length} bytes at
        once{modulo === 128 ? ', counted modulo 128' : ''}
        {roundTripMs === null ? '' : `; an answer takes ${(roundTripMs / 1000).toFixed(1)} s`}.
      </p>
      <ol className={styles.rungs} aria-label="Frames, the newest first">
        {[...ladder].reverse().map(({ sequence, utcMs, way, what, bytes, state }) => (
          <li key={sequence} data-way={way} data-state={state}>
            <time>{formatUtc(utcMs)}</time>
            <span className={styles.what}>
              {way === 'out' ? '→' : '←'} {what}
            </span>
            <span>{bytes > 0 ? `${bytes} B` : ''}</span>
            <span>{STATES[state]}</span>
          </li>
        ))}
      </ol>
    </div>
  )
}
