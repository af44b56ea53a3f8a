import type { Metadata } from 'next'

/** What a screen is called, what it is for, and what to do there. */
export interface ScreenWords {
  title: string
  purpose: string
  todo: string
}

/** Every screen by its path; a page without an entry does not compile. */
const SCREENS = {
  '/': {
    title: 'Ready?',
    purpose: 'Answers whether you can operate now, and if not, why.',
    todo: 'Go through the list from the top: each line that is not OK has a button that leads to its cure.',
  },
  '/plan': {
    title: 'Session',
    purpose: 'Your day by the clock: when you operate on which frequency, and the nets you check into.',
    todo: 'Add a period or a net; Zeptik reminds you before it begins.',
  },
  '/plan/activation': {
    title: 'Activation',
    purpose: 'Counts the contacts from a place that needs a number of them.',
    todo: 'Name the place and the goal, start it, operate, and take its file with you at the end.',
  },
  '/plan/power': {
    title: 'Battery',
    purpose: 'Estimates how long your battery lasts with this equipment and manner of operating.',
    todo: 'Enter the battery and what draws from it; compare with what is left in the evening.',
  },
  '/plan/exposure': {
    title: 'Exposure',
    purpose: 'Estimates how far people should stay from the antenna.',
    todo: 'Enter power and antenna, and keep people beyond the distance. Your local rules decide.',
  },
  '/station': {
    title: 'Station',
    purpose: 'Who you are, where you are and with how much power you transmit.',
    todo: 'Fill in call, locator and power, and confirm your licence: nothing is sent without.',
  },
  '/connect': {
    title: 'Connect',
    purpose: 'Brings the sound of the radio in and out, and shows the whole chain.',
    todo: 'Choose the audio input and start listening; radio control and a TNC have tabs of their own.',
  },
  '/connect/control': {
    title: 'Radio control',
    purpose: 'Links the radio, so that its dial is read and it is keyed.',
    todo: 'Choose port, speed and command set, switch it on, then try the link from the bottom rung upwards.',
  },
  '/connect/tnc': {
    title: 'TNC',
    purpose: 'Links a TNC, which makes and hears packet.',
    todo: 'Choose how it is reached and its serial speed, which is not its speed on the air; then try the link.',
  },
  '/connect/setup': {
    title: 'Chain and kit',
    purpose: 'The chain from radio to antenna and computer, and what must be in the bag for it.',
    todo: 'Choose what you use, tick what is packed.',
  },
  '/connect/pins': {
    title: 'Pins',
    purpose: 'Which pin goes where between radio, interface and TNC.',
    todo: 'Choose both ends and follow the drawing; check it against both manuals.',
  },
  '/connect/channels': {
    title: 'Channels',
    purpose: 'Frequencies that you use, by region and purpose.',
    todo: 'Begin with the customs of your region and change what differs where you are.',
  },
  '/connect/network': {
    title: 'Network',
    purpose: 'Addresses of packet nodes and gateways that are reached over a network.',
    todo: 'Enter an address, test it, and put those to be tried into order.',
  },
  '/clock': {
    title: 'Clock',
    purpose: 'Shows how far the clock may be off, and keeps it right for the modes in use.',
    todo: 'Start a source of time; use it when it agrees with what the band says.',
  },
  '/levels': {
    title: 'Levels',
    purpose: 'Judges the receive and transmit audio, names what is wrong and what it costs.',
    todo: 'Cure the first finding, then look again; set the transmit level with the guided steps.',
  },
  '/radio': {
    title: 'Radio',
    purpose: 'A sheet of settings for each radio and what it is used for.',
    todo: 'Tick each setting at the radio, and turn the sheet round when you go back to voice.',
  },
  '/slots': {
    title: 'Slots',
    purpose: 'Who is heard in FT8, where a transmit offset is clear, and your exchange.',
    todo: 'Answer a station that calls CQ, or call CQ yourself on a clear offset.',
  },
  '/ribbons': {
    title: 'Ribbons',
    purpose: 'Every PSK31 conversation heard, each as a running line of text at its place.',
    todo: 'Bring one into focus, read it, and answer with a phrase or by typing.',
  },
  '/sessions': {
    title: 'Sessions',
    purpose: 'Packet: who is heard, and connected sessions with nodes, mailboxes and stations.',
    todo: 'Tap a station to call it, or enter a call and its path; then type, line by line.',
  },
  '/reach': {
    title: 'Reach',
    purpose: 'Where the stations are that you heard and worked, and how the session went.',
    todo: 'Look which directions are open, and choose the next band by it.',
  },
  '/log': {
    title: 'Log',
    purpose: 'Every contact, with its evidence; practice is kept apart.',
    todo: 'Fill in what is missing, and export what was on the air as ADIF.',
  },
  '/practise': {
    title: 'Practise',
    purpose: 'A simulated band and simulated devices: nothing is transmitted.',
    todo: 'Start the practice band and make a contact; switch a fault on and find it.',
  },
  '/settings': {
    title: 'Settings',
    purpose: 'How Zeptik looks, sounds and behaves.',
    todo: 'Set the theme for the light you sit in, and the modes that you use.',
  },
} as const satisfies Record<string, ScreenWords>
export type ScreenPath = keyof typeof SCREENS

/** The screen of a path, also of one below it. */
export function screenAt(path: string): ScreenWords {
  const known = Object.keys(SCREENS) as ScreenPath[]
  const best = known.filter((at) => path === at || path.startsWith(`${at}/`)).sort((a, b) => b.length - a.length)[0]
  return SCREENS[best ?? '/']
}

export const titled = (path: ScreenPath): Metadata => ({ title: SCREENS[path].title })
