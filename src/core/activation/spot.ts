import type { Activation } from './activation'

export interface Spot {
  call: string
  activation: Pick<Activation, 'name' | 'programme' | 'reference'>
  mode: string
  dialFrequencyHz: number | null
  audioOffsetHz?: number
  parity?: 'even' | 'odd'
  locator: string
}

/** Words a notice of the own station for those who want to work it, on one line, ready to be copied or sent. */
export function wordSpot({ call, activation, mode, dialFrequencyHz, audioOffsetHz, parity, locator }: Spot): string {
  const { name, programme, reference } = activation
  const where = [programme, reference].filter(Boolean).join(' ')
  const place = where && name ? `${where} (${name})` : where || name
  const frequency = dialFrequencyHz === null ? '' : ` on ${(dialFrequencyHz / 1e6).toFixed(3)} MHz`
  const audio = audioOffsetHz === undefined ? '' : ` +${Math.round(audioOffsetHz)} Hz`
  const slots = parity ? `, ${parity} slots` : ''
  return `${call}${place ? ` at ${place}` : ''}, ${mode}${frequency}${audio}${slots}${locator ? `, locator ${locator}` : ''}`
}
