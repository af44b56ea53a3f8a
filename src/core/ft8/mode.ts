import type { Mode } from '../modes/mode'
import { soundCardSheet } from '../modes/soundCardSheet'
import { dialItem, locatorItem, slotClockItem } from '../readiness/modeItems'
import { conventionalDials } from './dials'
import { modulate } from './modulate'
import { packMessage } from './payload'
import { ft8DetailsSchema, ft8SettingsSchema, type Ft8Settings } from './settings'
import { SLOT_S, TRANSMISSION_S } from './signal'
import { payloadToTones } from './symbols'

const TEST_HZ = 1500
// Stations decode what is up to some two and a half seconds off; the rest is room for their own clocks.
const CLOCK_WITHIN_MS = 1500
const radio = { modes: ['usb', 'usb-data'], words: 'upper sideband' } as const

export const ft8Mode: Mode<Ft8Settings> = {
  id: 'ft8',
  name: 'FT8',
  adif: { mode: 'FT8' },
  sound: true,
  duty: { keyedShare: TRANSMISSION_S / (2 * SLOT_S), words: 'keyed 12.6 of 30 s at full carrier' },
  longestMs: 1000 * SLOT_S,
  radio,
  dials: conventionalDials,
  clockWithinMs: CLOCK_WITHIN_MS,
  settings: ft8SettingsSchema,
  details: ft8DetailsSchema,
  readiness: (e) => [
    locatorItem(e, { needed: true }),
    slotClockItem(e, CLOCK_WITHIN_MS),
    dialItem(e, { mode: 'FT8', radioModes: radio.modes, words: radio.words, dials: conventionalDials }),
  ],
  contactNeeds: ['locator', 'band', 'reportSent', 'reportReceived'],
  sheets: ['FT8'],
  sheetLines: soundCardSheet,
  testSignal({ sampleRateHz, amplitude, ownCall }) {
    const packed = packMessage(ownCall ? `CQ ${ownCall}` : 'TEST')
    return modulate(payloadToTones(packed.ok ? packed.payload : new Uint8Array(10)), { sampleRateHz, audioOffsetHz: TEST_HZ, amplitude })
  },
}
