'use client'
import { useCallback, useEffect, useRef } from 'react'
import { readChosenDevices } from '../connect/devices'
import { MODE_SCREENS } from '../modes'
import { notifyOutOfSight, soundAlert, vibrate, type Alert } from './alerts'
import { useDeviceSettings } from './deviceSettings'
import { useStation } from './StationProvider'

/** Sounds, vibration and notifications for an operator who looks elsewhere, as set up on this device. */
export function Alerts() {
  const { sounds, soundsTo, vibration, notifications } = useDeviceSettings()
  const mode = useStation((s) => s.mode)
  const notice = useStation((s) => s.notice)
  const lost = useStation((s) => (s.source.kind === 'none' ? s.source.problem : undefined))
  const made = useStation((s) => s.storedCount + s.waitingContacts)
  const alert = useCallback(
    (what: Alert, text: string) => {
      if (sounds) void soundAlert(what, soundsTo, readChosenDevices().output ?? '')
      if (vibration) vibrate(what)
      if (notifications) notifyOutOfSight(what, text)
    },
    [sounds, soundsTo, vibration, notifications],
  )
  const madeBefore = useRef(made)
  useEffect(() => {
    if (made > madeBefore.current) alert('made', 'It is in the log.')
    madeBefore.current = made
  }, [made, alert])
  useEffect(() => {
    if (notice) alert('alarm', notice.text)
  }, [notice, alert])
  useEffect(() => {
    if (lost) alert('alarm', lost)
  }, [lost, alert])
  const { CallWatch } = MODE_SCREENS[mode]
  return <CallWatch key={mode} onCalled={(call) => alert('called', `${call} calls you.`)} />
}

/** Keeps the screen on while the station listens. */
export function KeepAwake() {
  const { awake } = useDeviceSettings()
  const listening = useStation((s) => s.source.kind === 'microphone' || s.source.kind === 'practice')
  useEffect(() => {
    if (!awake || !listening || !('wakeLock' in navigator)) return
    let lock: WakeLockSentinel | undefined
    let over = false
    const hold = async () => {
      if (document.visibilityState !== 'visible') return
      // Refused while the battery is low: the screen then does as the device likes.
      const got = await navigator.wakeLock.request('screen').catch(() => undefined)
      if (over) void got?.release()
      else lock = got
    }
    void hold()
    // It is given up with every change to another tab.
    document.addEventListener('visibilitychange', hold)
    return () => {
      over = true
      document.removeEventListener('visibilitychange', hold)
      void lock?.release()
    }
  }, [awake, listening])
  return null
}
