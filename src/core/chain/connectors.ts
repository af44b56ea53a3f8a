/**
 * What a wire between radio and station carries, named by the path and not by one end: `txAudio` goes to the radio's
 * transmitter, `rxAudio` comes from its receiver, whichever side a pin is on. Serial lines have their names at the
 * computer's (DTE) end.
 */
export const NETS = [
  'txAudio',
  'rxAudio',
  'rxAudio9600',
  'ptt',
  'ground',
  'squelch',
  'supply',
  'txd',
  'rxd',
  'rts',
  'cts',
  'dtr',
  'dsr',
  'dcd',
  'ri',
  'other',
  'open',
] as const
export type Net = (typeof NETS)[number]

export const NET_WORDS: Record<Net, string> = {
  txAudio: 'audio to the transmitter',
  rxAudio: 'audio from the receiver',
  rxAudio9600: 'audio from the receiver, unfiltered for 9600',
  ptt: 'PTT: to ground while transmitting',
  ground: 'ground',
  squelch: 'squelch, carrier detect',
  supply: 'supply voltage',
  txd: 'data out of the computer',
  rxd: 'data into the computer',
  rts: 'RTS',
  cts: 'CTS',
  dtr: 'DTR',
  dsr: 'DSR',
  dcd: 'carrier detect',
  ri: 'ring',
  other: 'something else',
  open: 'nothing',
}

export const CONNECTOR_IDS = [
  'miniDin6',
  'din5Tnc',
  'mic8a',
  'mic8b',
  'jack35c',
  'jack35o',
  'handheldPair',
  'de9',
  'db25',
  'de9Device',
  'usb',
] as const
export type ConnectorId = (typeof CONNECTOR_IDS)[number]

export interface Pin {
  pin: string
  net: Net
  /** What manuals call it. */
  label: string
}

/** A socket as it is usually wired. */
export interface Connector {
  id: ConnectorId
  name: string
  /** Which sides have such sockets. */
  sides: readonly ('radio' | 'box')[]
  pins: readonly Pin[]
  /** How the level on it is, for cautions. */
  level: 'microphone' | 'data' | 'headphone' | 'serial' | 'none'
  /** What differs from maker to maker. */
  note: string
}

const pins = (...rows: readonly (readonly [pin: string, net: Net, label: string])[]): Pin[] =>
  rows.map(([pin, net, label]) => ({ pin, net, label }))

const SERIAL_9 = pins(
  ['1', 'dcd', 'DCD'],
  ['2', 'rxd', 'RXD'],
  ['3', 'txd', 'TXD'],
  ['4', 'dtr', 'DTR'],
  ['5', 'ground', 'Signal ground'],
  ['6', 'dsr', 'DSR'],
  ['7', 'rts', 'RTS'],
  ['8', 'cts', 'CTS'],
  ['9', 'ri', 'RI'],
)

export const CONNECTORS: readonly Connector[] = [
  {
    id: 'miniDin6',
    name: '6-pin mini-DIN, data socket',
    sides: ['radio'],
    level: 'data',
    pins: pins(
      ['1', 'txAudio', 'Data in'],
      ['2', 'ground', 'Ground'],
      ['3', 'ptt', 'PTT'],
      ['4', 'rxAudio9600', '9600 out'],
      ['5', 'rxAudio', '1200 out'],
      ['6', 'squelch', 'Squelch'],
    ),
    note: 'Most radios with this socket agree on it. Data in takes some tens of millivolts at the 1200 setting and about a volt at 9600.',
  },
  {
    id: 'mic8a',
    name: '8-pin round, microphone, first order',
    sides: ['radio'],
    level: 'microphone',
    pins: pins(
      ['1', 'txAudio', 'Microphone'],
      ['2', 'ptt', 'PTT'],
      ['3', 'other', 'Down'],
      ['4', 'other', 'Up'],
      ['5', 'supply', 'Supply voltage'],
      ['6', 'open', 'Not the same everywhere'],
      ['7', 'ground', 'Ground'],
      ['8', 'ground', 'Ground'],
    ),
    note: 'Round 8-pin sockets are wired in several orders. Compare this one with your manual pin by pin, the supply voltage first.',
  },
  {
    id: 'mic8b',
    name: '8-pin round, microphone, second order',
    sides: ['radio'],
    level: 'microphone',
    pins: pins(
      ['1', 'txAudio', 'Microphone'],
      ['2', 'supply', 'Supply voltage'],
      ['3', 'other', 'Up and down'],
      ['4', 'squelch', 'Squelch'],
      ['5', 'ptt', 'PTT'],
      ['6', 'ground', 'PTT ground'],
      ['7', 'ground', 'Microphone ground'],
      ['8', 'rxAudio', 'Audio out'],
    ),
    note: 'Round 8-pin sockets are wired in several orders. Compare this one with your manual pin by pin, the supply voltage first.',
  },
  {
    id: 'handheldPair',
    name: '2.5 and 3.5 mm pair, handheld',
    sides: ['radio'],
    level: 'microphone',
    pins: pins(
      ['2.5 tip', 'rxAudio', 'Loudspeaker'],
      ['2.5 ring', 'other', 'Programming data'],
      ['2.5 sleeve', 'ground', 'Ground'],
      ['3.5 tip', 'supply', 'Supply or programming data'],
      ['3.5 ring', 'txAudio', 'Microphone'],
      ['3.5 sleeve', 'ptt', 'PTT, microphone return'],
    ),
    note: 'Common, but not all handhelds follow it. The sleeve of the 3.5 mm plug is not ground: it keys when joined to the other sleeve.',
  },
  {
    id: 'jack35c',
    name: '3.5 mm four-pole, ground on ring 2',
    sides: ['box', 'radio'],
    level: 'headphone',
    pins: pins(
      ['tip', 'txAudio', 'Left headphone'],
      ['ring 1', 'open', 'Right headphone'],
      ['ring 2', 'ground', 'Ground'],
      ['sleeve', 'rxAudio', 'Microphone'],
    ),
    note: 'What most tablets and telephones of today have. Many switch to the headset only when they see a microphone of 1 to 3 kilohms.',
  },
  {
    id: 'jack35o',
    name: '3.5 mm four-pole, microphone on ring 2',
    sides: ['box', 'radio'],
    level: 'headphone',
    pins: pins(
      ['tip', 'txAudio', 'Left headphone'],
      ['ring 1', 'open', 'Right headphone'],
      ['ring 2', 'rxAudio', 'Microphone'],
      ['sleeve', 'ground', 'Ground'],
    ),
    note: 'The older order. In the wrong one sound is thin and the microphone dead; adapters that swap both exist.',
  },
  {
    id: 'din5Tnc',
    name: '5-pin DIN, TNC',
    sides: ['box'],
    level: 'data',
    pins: pins(
      ['1', 'txAudio', 'Transmit audio'],
      ['2', 'ground', 'Ground'],
      ['3', 'ptt', 'PTT'],
      ['4', 'rxAudio', 'Receive audio'],
      ['5', 'squelch', 'Squelch in'],
    ),
    note: 'The usual order of stand-alone TNCs; their level is set by a control inside or a menu.',
  },
  {
    id: 'de9',
    name: 'DE-9 serial, computer (DTE)',
    sides: ['box'],
    level: 'serial',
    pins: SERIAL_9,
    note: 'A USB adapter has this end too. Voltages are up to 12 V and of both signs: never to a pin that expects logic levels.',
  },
  {
    id: 'db25',
    name: 'DB-25 serial, computer (DTE)',
    sides: ['box'],
    level: 'serial',
    pins: pins(
      ['1', 'ground', 'Shield'],
      ['2', 'txd', 'TXD'],
      ['3', 'rxd', 'RXD'],
      ['4', 'rts', 'RTS'],
      ['5', 'cts', 'CTS'],
      ['6', 'dsr', 'DSR'],
      ['7', 'ground', 'Signal ground'],
      ['8', 'dcd', 'DCD'],
      ['20', 'dtr', 'DTR'],
      ['22', 'ri', 'RI'],
    ),
    note: 'The other pins are open in nearly all devices.',
  },
  {
    id: 'de9Device',
    name: 'DE-9 serial, device (DCE)',
    sides: ['radio'],
    level: 'serial',
    pins: SERIAL_9,
    note: 'Named as at the computer, so that a straight lead joins equal numbers. A device wired like a computer needs a crossed lead.',
  },
  {
    id: 'usb',
    name: 'USB',
    sides: ['radio', 'box'],
    level: 'none',
    pins: [],
    note: 'One lead carries all; nothing is to be joined pin by pin.',
  },
]

export function connectorOf(id: ConnectorId): Connector {
  return CONNECTORS.find((connector) => connector.id === id)!
}

/** The pins of a connector, as the operator's manual has them where that was told. */
export function pinsOf(id: ConnectorId, own: Readonly<Record<string, Net>> | undefined): Pin[] {
  return connectorOf(id).pins.map((pin) => {
    const net = own?.[pin.pin]
    return net === undefined || net === pin.net ? pin : { ...pin, net, label: NET_WORDS[net] }
  })
}
