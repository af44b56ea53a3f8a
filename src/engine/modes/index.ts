import type { SoundModeId } from '@/core/modes/modeId'
import { Ft8Runner, type Ft8Resources } from './ft8/ft8Runner'
import { Psk31Runner, type Psk31Resources } from './psk31/psk31Runner'
import type { ModeHost, ModeRunner } from './runner'

/** What the modes need from where they run, mode by mode. */
export interface ModeResources {
  ft8: Ft8Resources
  psk31: Psk31Resources
}

/** Every mode that runs here: a forgotten one does not compile. */
export function createRunners(host: ModeHost, resources: ModeResources) {
  return {
    ft8: new Ft8Runner(host, resources.ft8),
    psk31: new Psk31Runner(host, resources.psk31),
  } satisfies Record<SoundModeId, ModeRunner>
}
export type Runners = ReturnType<typeof createRunners>
