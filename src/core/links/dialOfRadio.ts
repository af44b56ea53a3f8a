import type { LinkState } from './linkContracts'

/**
 * The dial as the radio's control line says it is, in Hz. It is undefined without a line that answers, and for what is not
 * heard from that radio: practice and recordings.
 */
export function dialOfRadio(control: LinkState['control'] | undefined, source: string): number | undefined {
  if (source === 'practice' || source === 'recording' || control?.state !== 'talking') return undefined
  return control.frequencyHz ?? undefined
}
