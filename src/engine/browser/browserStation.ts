import { createExaminerClient } from '../levels/examiner.client'
import { createModemClient } from '../modem/modem.client'
import { createPracticeClient } from '../practice/practice.client'
import type { LeaseState } from '@/core/station/lease'
import { newId } from '../newId'
import { RunningStation } from '../station'
import { askPlaces, askWorked, sendClockHistory, sendContacts, sendHeard, sendLevelHistory } from './api'
import { browserDriftStore } from './driftStore'
import { openMicrophone } from './microphone'
import { openOutboxStore } from './outboxStore'
import { openServerClock } from './serverClock'
import { openServerLinks, sendKeyAs } from './serverLinks'
import { openSoundOutput } from './soundOutput'
import { browserUnfinishedStore } from './unfinishedStore'

/** Runs a station in this browser tab. @param screen its name for the server, which tells by `onLease` whether it holds the station */
export function createBrowserStation(screen: string, onLease: (lease: LeaseState) => void): RunningStation {
  return new RunningStation({
    monotonicMs: () => performance.now(),
    wallUtcMs: () => Date.now(),
    newId,
    createModem: createModemClient,
    createPractice: createPracticeClient,
    createExaminer: createExaminerClient,
    openMicrophone,
    openOutput: openSoundOutput,
    outboxStore: openOutboxStore(),
    sendContacts,
    sendHeard,
    askWorked,
    askPlaces,
    sendClockHistory,
    sendLevelHistory,
    driftStore: browserDriftStore,
    unfinishedStore: browserUnfinishedStore,
    openServerClock,
    openServerLinks: (onState) => openServerLinks(screen, onLease, onState),
    sendKey: sendKeyAs(screen),
  })
}
