import { z } from 'zod'
import type { Mode } from '../modes/mode'
import { uiFrame } from './ax25Frame'
import { PACKET_MODEMS } from './modem/packetModem'
import { tncItem } from '../readiness/modeItems'
import { packetSettingsSchema, type PacketSettings } from './settings'

export const packetMode: Mode<PacketSettings> = {
  id: 'packet',
  name: 'Packet',
  adif: { mode: 'PKT' },
  sound: false,
  soundNow: ({ links }) => links?.tnc.modem === true,
  realPace: true,
  // Under FM the noise falls whenever a carrier comes.
  noFault: ['noise-gate', 'agc-pumping'],
  duty: { keyedShare: 0.3, words: 'short bursts at full carrier; long ones when a message goes out' },
  longestMs: 30_000,
  radio: { modes: ['fm', 'fm-data'], words: 'FM' },
  // Channels are a matter of each region; they stand among the channels.
  dials: [],
  settings: packetSettingsSchema,
  details: z.object({
    /** The frame itself. */
    hex: z.string().max(5000),
    levelDb: z.number().optional(),
    mended: z.number().int().min(0).optional(),
    corrected: z.number().int().min(0).optional(),
  }),
  readiness: (e) => [tncItem(e)],
  contactNeeds: ['band'],
  sheets: ['packet 1200', 'packet 9600'],
  sheetLines: [
    ['Mode', 'FM', 'FM'],
    ['Squelch', 'Fully open', 'Closed just above the noise'],
    ['Tone squelch', 'Off', 'As the repeater needs it'],
    ['Data socket speed', '1200', '1200'],
    ['Band side for data', 'The side in use', 'Any'],
    ['Power', 'Lowest that works', 'As needed'],
    ['Battery saver', 'Off', 'On'],
  ],
  testSignal: ({ sampleRateHz, amplitude, ownCall }) =>
    PACKET_MODEMS.packet1200.modulate([uiFrame(ownCall || 'TEST', 'TEST', [], 'test')], { sampleRateHz, amplitude, txDelayMs: 500 }),
}
