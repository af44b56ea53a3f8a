import type { KeyingWay } from '../links'

export const FAMILY_IDS = [
  'acoustic',
  'audioCable',
  'soundInterface',
  'bluetoothTnc',
  'serialTnc',
  'tncInside',
  'networkRadio',
  'networkTnc',
] as const
export type FamilyId = (typeof FAMILY_IDS)[number]

/** One of the ways in which a station is joined to its radio. */
export interface Family {
  id: FamilyId
  name: string
  /** How sound, keying, control and data go, in one line. */
  words: string
  /** Where tones are made: by this device, or by a TNC. */
  modem: 'device' | 'tnc'
  /** How the radio can be keyed in it; the first is the usual way. */
  keying: readonly KeyingWay[]
  control: 'none' | 'possible' | 'usual'
  /** How the TNC is reached, when there is one. */
  tncPort?: 'serial' | 'network' | 'device'
  /** What goes wrong most often. */
  trap: string
}

export const FAMILIES: readonly Family[] = [
  {
    id: 'acoustic',
    name: 'Loudspeaker to microphone',
    words: 'Sound through the air both ways, keyed by the radio’s VOX, dial set by hand.',
    modem: 'device',
    keying: ['vox', 'none'],
    control: 'none',
    trap: 'Talking and room noise spoil the copy, and a volume that is too low never trips the VOX.',
  },
  {
    id: 'audioCable',
    name: 'Audio cable, with or without a USB sound adapter',
    words: 'Headphone and microphone jacks to the radio, keyed by VOX or a key line.',
    modem: 'device',
    keying: ['vox', 'rts', 'dtr', 'none'],
    control: 'possible',
    trap: 'The wrong sound device is chosen, a microphone boost is on, or an earth loop hums.',
  },
  {
    id: 'soundInterface',
    name: 'Interface with sound and control',
    words: 'Line levels in and out; keyed by control, RTS or DTR; dial read over CAT control.',
    modem: 'device',
    keying: ['cat', 'rts', 'dtr', 'vox'],
    control: 'usual',
    trap: 'It shows two serial ports of which one is right, and its control speed differs from the radio’s menu.',
  },
  {
    id: 'bluetoothTnc',
    name: 'KISS TNC or handheld over Bluetooth',
    words: 'Frames over Bluetooth; the TNC makes the tones and keys the radio.',
    modem: 'tnc',
    keying: ['none', 'cat'],
    control: 'possible',
    tncPort: 'device',
    trap: 'A pairing that only one side remembers: delete it on both sides, pair as if new, connect twice.',
  },
  {
    id: 'serialTnc',
    name: 'TNC on a serial line',
    words: 'Frames or typed commands over a serial line; the TNC makes the tones and keys the radio.',
    modem: 'tnc',
    keying: ['none', 'cat'],
    control: 'possible',
    tncPort: 'serial',
    trap: 'Serial speed taken for on-air speed, a TNC left in the other mode, settings lost with its memory battery.',
  },
  {
    id: 'tncInside',
    name: 'Radio with a TNC inside',
    words: 'Frames over the radio’s serial or USB port; modem and keying are inside.',
    modem: 'tnc',
    keying: ['none', 'cat'],
    control: 'possible',
    tncPort: 'serial',
    trap: 'The side used for data and the on-air speed are set in the radio’s menus.',
  },
  {
    id: 'networkRadio',
    name: 'Radio in the network',
    words: 'Control over an address in the network; keyed by control.',
    modem: 'device',
    keying: ['cat', 'vox', 'none'],
    control: 'usual',
    trap: 'The radio was not restarted after a change, or its address belongs to another network than today’s.',
  },
  {
    id: 'networkTnc',
    name: 'KISS TNC in the network',
    words: 'Frames over TCP to a TNC, or a program that is one, elsewhere.',
    modem: 'tnc',
    keying: ['none', 'cat'],
    control: 'possible',
    tncPort: 'network',
    trap: 'Its server is not listening, or on another port.',
  },
]

export function familyOf(id: FamilyId): Family {
  return FAMILIES.find((family) => family.id === id)!
}
