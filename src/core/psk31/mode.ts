import type { Mode } from '../modes/mode'
import { soundCardSheet } from '../modes/soundCardSheet'
import { dialItem, locatorItem, logClockItem } from '../readiness/modeItems'
import { psk31Dials } from './dials'
import { encodePsk31 } from './modulate'
import { psk31DetailsSchema, psk31SettingsSchema, type Psk31Settings } from './settings'

const TEST_HZ = 1500
const radio = { modes: ['usb', 'usb-data'], words: 'upper sideband' } as const

export const psk31Mode: Mode<Psk31Settings> = {
  id: 'psk31',
  name: 'PSK31',
  adif: { mode: 'PSK', submode: 'PSK31' },
  sound: true,
  // One of two talks: half of the time, and solid while it lasts.
  duty: { keyedShare: 0.5, words: 'keyed all the time while you type' },
  longestMs: 120_000,
  radio,
  dials: psk31Dials,
  settings: psk31SettingsSchema,
  details: psk31DetailsSchema,
  readiness: (e) => [
    locatorItem(e, { needed: false }),
    logClockItem(e),
    dialItem(e, { mode: 'PSK31', radioModes: radio.modes, words: radio.words, dials: psk31Dials }),
  ],
  contactNeeds: ['band', 'reportSent', 'reportReceived'],
  sheets: ['PSK31'],
  sheetLines: soundCardSheet,
  testSignal({ sampleRateHz, amplitude, ownCall }) {
    return encodePsk31(ownCall ? `test de ${ownCall} ${ownCall} test` : 'test', { sampleRateHz, frequencyHz: TEST_HZ, amplitude })
  },
}
