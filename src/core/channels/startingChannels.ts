import type { Channel, ChannelMode } from './channel'

export const REGIONS = ['region1', 'region2', 'region3'] as const
export type Region = (typeof REGIONS)[number]
export const REGION_WORDS: Record<Region, string> = {
  region1: 'Europe, Africa, Middle East',
  region2: 'the Americas',
  region3: 'Asia and Pacific',
}

type Row = readonly [name: string, receiveKHz: number, mode: ChannelMode, airBaud: 300 | 1200 | 9600, purpose: string]

/** Used around the world. */
const EVERYWHERE: readonly Row[] = [
  ['Space station digipeater', 145_825, 'fm', 1200, 'Packet by way of space, worldwide'],
  ['HF positions, 30 m', 10_147.6, 'usb-data', 300, 'Positions; tones around 10149.3 kHz'],
  ['HF packet, 20 m', 14_105, 'lsb-data', 300, 'Packet on HF'],
]
/** Customs of the regions as operators follow them; band plans and local rules decide. */
const BY_REGION: Record<Region, readonly Row[]> = {
  region1: [
    ['Positions, 2 m', 144_800, 'fm', 1200, 'Positions and short messages'],
    ['Positions, 70 cm', 432_500, 'fm', 1200, 'Positions, where there is a digipeater'],
  ],
  region2: [
    ['Positions, 2 m', 144_390, 'fm', 1200, 'Positions and short messages'],
    ['Packet 145.01', 145_010, 'fm', 1200, 'Nodes and mailboxes'],
    ['Packet 145.03', 145_030, 'fm', 1200, 'Nodes and mailboxes'],
    ['Packet 145.05', 145_050, 'fm', 1200, 'Nodes and mailboxes'],
    ['Packet 145.07', 145_070, 'fm', 1200, 'Nodes and mailboxes'],
    ['Packet 145.09', 145_090, 'fm', 1200, 'Nodes and mailboxes'],
  ],
  region3: [
    ['Positions, 2 m, Australia', 145_175, 'fm', 1200, 'Positions and short messages'],
    ['Positions, 2 m, New Zealand', 144_575, 'fm', 1200, 'Positions and short messages'],
    ['Positions, 2 m, Japan', 144_660, 'fm', 1200, 'Positions and short messages'],
    ['Positions 9600, 2 m, Japan', 144_640, 'fm-data', 9600, 'Positions at 9600'],
  ],
}

/** Conventional packet and position frequencies of a region, to start one's own list from. */
export function startingChannels(region: Region, newId: () => string): Channel[] {
  return [...BY_REGION[region], ...EVERYWHERE].map(([name, receiveKHz, mode, airBaud, purpose]) => {
    const receiveHz = Math.round(receiveKHz * 1000)
    return { id: newId(), name, receiveHz, transmitHz: receiveHz, tone: 'none', toneHz: null, mode, airBaud, purpose }
  })
}
