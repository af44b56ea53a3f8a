import type { SoundModeId } from '@/core/modes/modeId'
import { Ft8Runner, type Ft8Resources } from './ft8/ft8Runner'
import { PacketRunner, type PacketResources } from './packet/packetRunner'
import { Psk31Runner, type Psk31Resources } from './psk31/psk31Runner'
import type { ModeHost, ModeRunner } from './runner'

/** What the modes need from where they run, mode by mode. */
export interface ModeResources {
  ft8: Ft8Resources
  psk31: Psk31Resources
  packet: PacketResources
}

/** Every mode that runs here: a forgotten one does not compile. */
export function createRunners(host: ModeHost, resources: ModeResources) {
  return {
    ft8: new Ft8Runner(host, resources.ft8),
    psk31: new Psk31Runner(host, resources.psk31),
    packet: new PacketRunner(host, resources.packet),
  } satisfies Record<SoundModeId, ModeRunner>
}
export type Runners = ReturnType<typeof createRunners>
