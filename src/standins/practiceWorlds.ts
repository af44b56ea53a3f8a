import type { SoundModeId } from '@/core/modes'
import { createFt8World } from './ft8/ft8World'
import type { PracticeWorld } from './practiceWorld'
import { createPacketChannelWorld } from './packet/packetChannelWorld'
import { createPsk31World } from './psk31/psk31World'

export interface WorldOptions {
  seed: number
  stations: number
}

/** The band for practice of every mode. */
export const PRACTICE_WORLDS: Record<SoundModeId, (options: WorldOptions) => PracticeWorld> = {
  ft8: createFt8World,
  psk31: createPsk31World,
  packet: createPacketChannelWorld,
}
