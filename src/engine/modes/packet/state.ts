import type { PacketModemId } from '@/core/packet'
import type { ChannelUse } from '@/core/packet/channelAccess'

/** A frame that the modem of this device read. */
export interface ModemFrame {
  utcMs: number
  /** As a line: who to whom by whom, and what. */
  line: string
  levelDb: number
  snrDb: number
  /** How much stronger the higher tone is; absent at 9600 baud. */
  twistDb?: number
  offsetHz?: number
  /** Bits that were mended, and bytes that the error correction put right. */
  mended: number
  corrected?: number
}

/** The modem of this device as screens see it: plain data. */
export interface PacketModemState {
  /** What goes on with lending it to the server, in words; absent while nothing is listened to. */
  lent?: string
  /** Whether the server uses it. */
  inUse: boolean
  speed: PacketModemId
  /** Whether somebody is heard to send now. */
  carrier: boolean
  use: ChannelUse
  /** The last frames, the newest first. */
  heard: readonly ModemFrame[]
  /** Frames read since it began, those of them that only their error correction made readable, and those that were mended. */
  counted: { frames: number; saved: number; mended: number }
  /** Frames that wait for the channel. */
  waiting: number
  /** Whether a person has let it send since it began, or since the last Silence. */
  allowed: boolean
  /** Why it cannot hear, and why nothing goes out, in words. */
  deaf: string | undefined
  held: string | undefined
}

export const initialPacketModemState: PacketModemState = {
  inUse: false,
  speed: 'packet1200',
  carrier: false,
  use: { overS: 0, othersShare: 0, ownShare: 0, bursts: 0, spoiled: 0 },
  heard: [],
  counted: { frames: 0, saved: 0, mended: 0 },
  waiting: 0,
  allowed: false,
  deaf: undefined,
  held: undefined,
}
