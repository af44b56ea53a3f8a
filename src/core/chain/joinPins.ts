import type { ChainSetup } from './chainSetup'
import { connectorOf, NET_WORDS, pinsOf, type ConnectorId, type Net, type Pin } from './connectors'

/** A wire of the lead. */
export interface Join {
  net: Net
  radio: Pin
  box: Pin
}

export interface JoinPlan {
  joins: Join[]
  /** Pins that stay open, with the reason. */
  open: { side: 'radio' | 'box'; pin: Pin; why: string }[]
  /** What the lead cannot do. */
  lacks: string[]
  cautions: string[]
}

type PinMap = Readonly<Record<string, Net>> | undefined

/**
 * Which pin joins to which.
 * @param airBaud on-air speed of packet, which decides between filtered and unfiltered audio; null for other modes
 */
export function joinPins(
  radioId: ConnectorId,
  boxId: ConnectorId,
  { airBaud, ownPins }: { airBaud: number | null; ownPins: ChainSetup['ownPins'] },
): JoinPlan {
  const radio = pinsOf(radioId, ownPins[radioId] as PinMap)
  const box = pinsOf(boxId, ownPins[boxId] as PinMap)
  const joins: Join[] = []
  const open: JoinPlan['open'] = []
  const taken = new Set<Pin>()
  const unfiltered = airBaud === 9600 && radio.some((pin) => pin.net === 'rxAudio9600')
  for (const from of radio) {
    const reason = whyOpen(from, unfiltered)
    const net = from.net === 'rxAudio9600' ? 'rxAudio' : from.net
    const to = box.find((pin) => pin.net === net && (net === 'ground' || !taken.has(pin)))
    if (reason === undefined && to) {
      taken.add(to)
      joins.push({ net: from.net, radio: from, box: to })
    } else open.push({ side: 'radio', pin: from, why: reason ?? 'the other side has nothing for it' })
  }
  for (const pin of box)
    if (!taken.has(pin)) open.push({ side: 'box', pin, why: whyOpen(pin, false) ?? 'the other side has nothing for it' })
  return { joins, open, lacks: whatLacks(radioId, boxId, joins), cautions: cautionsOf(radioId, boxId, joins, airBaud) }
}

function whyOpen({ net }: Pin, unfiltered: boolean): string | undefined {
  if (net === 'supply') return 'a supply: joined to anything else it can damage both'
  if (net === 'open' || net === 'other') return 'not used'
  if (net === 'rxAudio9600' && !unfiltered) return 'only for 9600 on the air'
  if (net === 'rxAudio' && unfiltered) return 'filtered for voice: 9600 needs the other output'
  return undefined
}

function whatLacks(radioId: ConnectorId, boxId: ConnectorId, joins: readonly Join[]): string[] {
  const audio = connectorOf(radioId).level !== 'serial' && connectorOf(boxId).level !== 'serial'
  const serial = connectorOf(radioId).level === 'serial' && connectorOf(boxId).level === 'serial'
  if (radioId === 'usb' || boxId === 'usb') return []
  if (!audio && !serial)
    return ['One end carries audio, the other serial data: no lead joins them. Choose the sockets that belong together.']
  const has = (net: Net) => joins.some((join) => join.net === net)
  const lacks: string[] = []
  if (!has('ground')) lacks.push('No ground: nothing works without it.')
  if (serial) {
    if (!has('txd') || !has('rxd')) lacks.push('Data does not go both ways.')
    return lacks
  }
  if (!has('txAudio')) lacks.push('No audio to the transmitter.')
  if (!has('rxAudio') && !has('rxAudio9600'))
    lacks.push('No audio from the receiver: take it from the loudspeaker or headphone socket of the radio.')
  if (!has('ptt')) lacks.push('No PTT through this lead: key by VOX, by control, or by a key line of an interface.')
  return lacks
}

function cautionsOf(radioId: ConnectorId, boxId: ConnectorId, joins: readonly Join[], airBaud: number | null): string[] {
  const radio = connectorOf(radioId).level
  const box = connectorOf(boxId).level
  const cautions: string[] = []
  if (radio === 'microphone' && box === 'headphone' && joins.some((join) => join.net === 'txAudio'))
    cautions.push(
      'A headphone output gives up to a volt, a microphone input wants a few millivolts: put a divider of about 100 to 1 and a capacitor against direct voltage into the audio lead.',
    )
  if (radio === 'data' && joins.some((join) => join.net === 'txAudio'))
    cautions.push(
      `Data in wants ${airBaud === 9600 ? 'about a volt at the 9600 setting' : 'some tens of millivolts at the 1200 setting'}: begin with the lowest level and watch the deviation.`,
    )
  if (radioId === 'handheldPair')
    cautions.push(
      'The 3.5 mm sleeve is PTT, not ground: a lead that joins both sleeves keys the radio for as long as it is plugged in. Dummy load first.',
    )
  if (box === 'serial') cautions.push('Serial voltages are up to 12 V of both signs: a radio that expects logic levels needs a converter.')
  return cautions
}

/** A wire in words, for the table and for screen readers. */
export function joinWords({ net, radio, box }: Join): string {
  return `radio pin ${radio.pin} (${radio.label}) to pin ${box.pin} (${box.label}): ${NET_WORDS[net]}`
}
