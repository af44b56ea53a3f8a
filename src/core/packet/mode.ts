import { z } from 'zod'
import type { Mode } from '../modes/mode'
import { tncItem } from '../readiness/modeItems'

export const packetMode: Mode = {
  id: 'packet',
  name: 'Packet',
  adif: { mode: 'PKT' },
  sound: false,
  duty: { keyedShare: 0.3, words: 'short bursts at full carrier; long ones when a message goes out' },
  longestMs: 30_000,
  radio: { modes: ['fm', 'fm-data'], words: 'FM' },
  // Channels are a matter of each region; they stand among the channels.
  dials: [],
  settings: z.object({}),
  details: z.object({}),
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
  // The TNC makes the sound; a tone sets its level.
  testSignal: ({ sampleRateHz, amplitude }) =>
    Float32Array.from({ length: sampleRateHz }, (_, i) => amplitude * Math.sin((2 * Math.PI * 1200 * i) / sampleRateHz)),
}
