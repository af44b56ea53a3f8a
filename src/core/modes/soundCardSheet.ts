import type { Mode } from './mode'

/** What a radio is set to for any mode whose sound a computer makes and reads. */
export const soundCardSheet: Mode['sheetLines'] = [
  ['Mode', 'Data, or upper sideband', 'Upper sideband'],
  ['Filter', 'Widest: 2.4 kHz or more', '2.4 kHz'],
  ['AGC', 'Fast or off', 'Slow'],
  ['Noise reduction', 'Off', 'As you like'],
  ['Noise blanker', 'Off', 'As you like'],
  ['Speech processor', 'Off', 'On, if you use it'],
  ['Power', 'Half', 'Full'],
  ['VOX', 'On, shortest delay', 'Off'],
]
