import { createExaminerClient } from '../station/levels/examiner.client'
import { createModemClient } from '../modes/ft8/modem.client'
import { createPacketModem } from '../modes/packet/packetModem.client'
import { createPsk31Modem } from '../modes/psk31/psk31Modem.client'
import { createPracticeClient } from '../station/practice/practice.client'
import type { LeaseState } from '@/core/station/lease'
import { LocalStation } from '../port/localStation'
import type { StationPort } from '../port/stationPort'
import { newId } from '../station/newId'
import { RunningStation } from '../station/station'
import { askPlaces, askWorked, sendClockHistory, sendContacts, sendHeard, sendLevelHistory } from './api'
import { browserDriftStore } from './driftStore'
import { openMicrophone } from './microphone'
import { openOutboxStore } from './outboxStore'
import { openServerClock } from './serverClock'
import { openServerLinks, sendKeyAs } from './serverLinks'
import { lendModem } from './lentPorts'
import { modeInFrontStore } from './modeInFront'
import { openSoundOutput } from './soundOutput'
import { browserUnfinishedContacts, browserUnfinishedStore } from './unfinishedStore'

/** Runs a station in this browser tab. @param screen its name for the server, which tells by `onLease` whether it holds the station */
export function createBrowserStation(screen: string, onLease: (lease: LeaseState) => void): { port: StationPort; close: () => void } {
  const station = new RunningStation({
    monotonicMs: () => performance.now(),
    wallUtcMs: () => Date.now(),
    newId,
    modes: {
      ft8: { createModem: createModemClient, unfinishedStore: browserUnfinishedStore },
      psk31: { createModem: createPsk31Modem, unfinishedStore: browserUnfinishedContacts },
      packet: { createModem: createPacketModem, lend: lendModem, random: Math.random },
    },
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
    openServerClock,
    openServerLinks: (onState) => openServerLinks(screen, onLease, onState),
    sendKey: sendKeyAs(screen),
  })
  station.store.setState({ holder: 'here' })
  const inFront = modeInFrontStore.load()
  if (inFront) station.bringToFront(inFront)
  station.store.subscribe(({ mode }, before) => {
    if (mode !== before.mode) modeInFrontStore.save(mode)
  })
  return { port: new LocalStation(station), close: () => station.close() }
}
