import type { ScreenPath } from '../frame/screens'

interface SettingPlace {
  /** As it is labelled where it stands. */
  label: string
  path: ScreenPath
  /** Other words by which somebody may look for it. */
  also?: string
}

const at = (path: ScreenPath, ...labels: (string | readonly [label: string, also: string])[]): SettingPlace[] =>
  labels.map((one) => (typeof one === 'string' ? { label: one, path } : { label: one[0], path, also: one[1] }))

/** Where each thing that can be set stands, over all screens: to be searched. */
export const SETTING_PLACES: readonly SettingPlace[] = [
  ...at('/station', ['Own call', 'callsign identity'], 'Name', ['Locator', 'grid square place'], ['Power in W', 'watts']),
  ...at('/station', ['Antenna', 'aerial'], 'Radio', 'Interface', ['VOX lead-in in ms', 'delay'], ['Audio level in %', 'volume transmit']),
  ...at('/station', 'Gear', 'PSK31 CQs in a row', 'Pause after a CQ in s', 'Identify every, in min'),
  ...at('/station', 'Only listen: no controls for sending on the ribbons'),
  ...at('/station', 'Tries for one step', 'CQ calls in a row', 'How you finish', 'How you begin', 'Of several callers first'),
  ...at('/station', ['Decoding depth', 'quick deep battery'], 'Word after CQ'),
  ...at('/connect', ['Audio input', 'microphone sound device'], ['Audio output for transmitting', 'loudspeaker sound device']),
  ...at('/connect/control', ['Command set', 'CAT radio model'], ['The radio is keyed', 'PTT VOX RTS DTR'], ['Stop above SWR', 'limit']),
  ...at('/connect/tnc', ['Speed on the air', 'baud packet'], ['Key-up, ms', 'TX delay KISS'], 'Persistence, 0 to 1', 'Slot time, ms'),
  ...at('/clock', ['Serial speed', 'GPS NMEA baud'], ['Accept data from', 'phone network']),
  ...at('/practise', ['Pace', 'practice speed'], ['Stations', 'practice crowd'], ['Your clock', 'practice fault'], 'Band number'),
  ...at('/settings', ['Theme', 'night dark daylight colour'], ['Distances', 'kilometres miles units'], ['Text size', 'zoom letters']),
  ...at('/settings', ['Modes in use', 'FT8 PSK31 packet'], ['Sounds', 'alarm beep'], ['Vibrate', 'haptic'], 'Output for sounds'),
  ...at('/settings', ['Keep the screen on while listening', 'sleep awake'], 'Notify when another tab is in front'),
]
