import { createExaminerClient } from '../levels/examiner.client'
import { createModemClient } from '../modem/modem.client'
import { createPracticeClient } from '../practice/practice.client'
import { RunningStation } from '../station'
import { askPlaces, askWorked, sendClockHistory, sendContacts, sendHeard, sendLevelHistory } from './api'
import { browserDriftStore } from './driftStore'
import { openMicrophone } from './microphone'
import { openOutboxStore } from './outboxStore'
import { openServerClock } from './serverClock'
import { openServerLinks, sendKey } from './serverLinks'
import { openSoundOutput } from './soundOutput'
import { browserUnfinishedStore } from './unfinishedStore'

/** Runs a station in this browser tab. */
export function createBrowserStation(): RunningStation {
  return new RunningStation({
    monotonicMs: () => performance.now(),
    wallUtcMs: () => Date.now(),
    newId: () => crypto.randomUUID(),
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
    openServerLinks,
    sendKey,
  })
}
