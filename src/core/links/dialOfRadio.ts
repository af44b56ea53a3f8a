import { bandOf } from '../log/bands'
import type { LinkState } from './linkContracts'

/**
 * The dial as the radio's control line says it is, in Hz. It is undefined without a line that answers, and for what is not
 * heard from that radio: practice and recordings.
 */
export function dialOfRadio(control: LinkState['control'] | undefined, source: string): number | undefined {
  if (source === 'practice' || source === 'recording' || control?.state !== 'talking') return undefined
  return control.frequencyHz ?? undefined
}

/**
 * The band on which nobody but the operator watches the SWR: undefined while the radio's meter is read, where nothing
 * reaches an antenna, and while the band is not known.
 */
export function bandWithoutMeter(control: LinkState['control'] | undefined, source: string, dialHz: number | null): string | undefined {
  if (source === 'practice' || source === 'recording' || dialHz === null) return undefined
  if (control?.state === 'talking' && control.swrMeter) return undefined
  return bandOf(dialHz)
}
