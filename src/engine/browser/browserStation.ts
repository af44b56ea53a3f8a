import { createModemClient } from '../modem/modem.client'
import { createPracticeClient } from '../practice/practice.client'
import { RunningStation } from '../station'
import { askWorked, sendContacts, sendHeard } from './api'
import { openMicrophone } from './microphone'
import { openOutboxStore } from './outboxStore'
import { openSoundOutput } from './soundOutput'

/** Runs a station in this browser tab. */
export function createBrowserStation(): RunningStation {
  return new RunningStation({
    monotonicMs: () => performance.now(),
    wallUtcMs: () => Date.now(),
    newId: () => crypto.randomUUID(),
    createModem: createModemClient,
    createPractice: createPracticeClient,
    openMicrophone,
    openOutput: openSoundOutput,
    outboxStore: openOutboxStore(),
    sendContacts,
    sendHeard,
    askWorked,
  })
}
