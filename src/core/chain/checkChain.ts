import { modeOfSheet } from '../modes'
import { describePort, type LinkConfig } from '../links'
import { packetSpeeds, type ChainSetup } from './chainSetup'
import { connectorOf } from './connectors'
import { familyOf, type Family } from './families'

const CHECK_IDS = [
  'keyingPath',
  'keyingFits',
  'sharedPorts',
  'controlThere',
  'controlSpeed',
  'tncThere',
  'tncPort',
  'modem',
  'voxPacket',
  'filter9600',
  'serialSpeed',
  'address',
] as const
export type CheckId = (typeof CHECK_IDS)[number]

/** What one part needs of another, checked. `stops`: it cannot work like this. */
export interface ChainCheck {
  id: CheckId
  state: 'good' | 'attention' | 'stops'
  words: string
  todo?: string
}

export interface ChainEvidence {
  setup: ChainSetup
  config: LinkConfig
  /** Serial ports that something else of this station holds, with what holds them. */
  heldPorts: readonly { path: string; by: string }[]
}

interface Context extends ChainEvidence {
  family: Family
  speeds: number[]
}

/** Key-up times below this are lost on a VOX, which needs 50 ms and more to trip. */
const LEAST_VOX_TX_DELAY_MS = 200

/** Checks what each part of the chain needs from the others; empty while no family is chosen. */
export function checkChain(evidence: ChainEvidence): ChainCheck[] {
  const { family } = evidence.setup
  if (family === null) return []
  const context = { ...evidence, family: familyOf(family), speeds: packetSpeeds(evidence.setup) }
  return CHECK_IDS.flatMap((id) => {
    const found = CHECKS[id](context)
    return found ? [{ id, ...found }] : []
  })
}

type Check = (context: Context) => Omit<ChainCheck, 'id'> | undefined
const good = (words: string) => ({ state: 'good' as const, words })
const attention = (words: string, todo: string) => ({ state: 'attention' as const, words, todo })
const stops = (words: string, todo: string) => ({ state: 'stops' as const, words, todo })

const KEYED_BY = { vox: 'VOX', cat: 'CAT control', rts: 'RTS', dtr: 'DTR', none: 'nothing' } as const

/** Everything that holds a serial port, with what it is for. */
function holders({ config: { control, keying, tnc }, heldPorts }: Context): { path: string; by: string }[] {
  const held = [...heldPorts]
  if (control.enabled && control.port?.kind === 'serial') held.push({ path: control.port.path, by: 'radio control' })
  if (tnc.enabled && tnc.port?.kind === 'serial') held.push({ path: tnc.port.path, by: 'the TNC' })
  const controlPath = control.enabled && control.port?.kind === 'serial' ? control.port.path : null
  if ((keying.by === 'rts' || keying.by === 'dtr') && keying.path !== null && keying.path !== controlPath)
    held.push({ path: keying.path, by: 'the key line' })
  return held
}

const CHECKS: Record<CheckId, Check> = {
  keyingPath({ family, config: { keying } }) {
    if (family.modem === 'tnc') return good('The TNC keys the radio; Zeptik need not.')
    if (keying.by === 'none')
      return stops(
        'Nothing keys the radio.',
        `Choose how it is keyed: with this family usually by ${KEYED_BY[family.keying[0]!]}. Without, you can listen only.`,
      )
    return good(`The radio is keyed by ${KEYED_BY[keying.by]}.`)
  },
  keyingFits({ family, config: { keying } }) {
    if (keying.by === 'none' || family.keying.includes(keying.by)) return undefined
    if (family.modem === 'tnc' && keying.by === 'vox')
      return good('VOX is chosen for sound-card modes; the TNC does not use it. Switch VOX off at the radio while the TNC works.')
    return attention(
      `${family.name}: keying by ${KEYED_BY[keying.by]} is unusual there.`,
      `Usual are: ${
        family.keying
          .filter((by) => by !== 'none')
          .map((by) => KEYED_BY[by])
          .join(', ') || 'none, the TNC keys'
      }. Keep yours if your interface has that line.`,
    )
  },
  sharedPorts(context) {
    const held = holders(context)
    const twice = held.find(({ path }, i) => held.findIndex((h) => h.path === path) !== i)
    if (!twice) return held.length > 1 ? good(`${held.length} serial ports, each with one holder.`) : undefined
    const both = held.filter((h) => h.path === twice.path).map((h) => h.by)
    return stops(`${twice.path} is meant for ${both.join(' and ')}; only one can hold it.`, 'Give one of them another port.')
  },
  controlThere({ family, config: { control, keying } }) {
    if (family.control === 'none' && control.enabled)
      return attention('CAT control is on, though this family has none.', 'Switch it off, or choose the family that fits.')
    if (family.control === 'usual' && !control.enabled)
      return attention(
        `CAT control is off: dial, SWR and keying are by hand${keying.by === 'vox' ? ' and VOX' : ''}.`,
        'Switch it on under Radio control, when the lead is there.',
      )
    return control.enabled ? good('Control is on: dial and mode are read from the radio.') : undefined
  },
  controlSpeed({ setup, config: { control } }) {
    if (!control.enabled || control.port?.kind !== 'serial') return undefined
    if (setup.radioControlBaud === null)
      return attention(
        `Control runs at ${control.serialBaud} baud here; what the radio’s menu says is not noted.`,
        'Look it up in the radio’s menu and note it above.',
      )
    if (setup.radioControlBaud !== control.serialBaud)
      return stops(
        `Control speed differs: ${control.serialBaud} baud here, ${setup.radioControlBaud} in the radio’s menu.`,
        'Set both to the same; 9600 and more answer quickly.',
      )
    return good(`Control speed agrees: ${control.serialBaud} baud on both sides.`)
  },
  tncThere({ family, config: { tnc } }) {
    if (family.modem !== 'tnc')
      return tnc.enabled
        ? attention('A TNC is on, though sound goes to this device.', 'Both can be right with two radios. Otherwise switch one off.')
        : undefined
    return tnc.enabled ? good('The TNC’s link is on.') : stops('The TNC’s link is off.', 'Choose its port under TNC and switch it on.')
  },
  tncPort({ family, config: { tnc } }) {
    if (!tnc.enabled || !tnc.port || family.tncPort === undefined) return undefined
    const network = tnc.port.kind === 'tcp'
    if (family.tncPort === 'network' && !network)
      return attention(`${describePort(tnc.port)} is no address in the network.`, 'Choose “Network address”, or another family.')
    if (family.tncPort === 'serial' && network)
      return attention(
        `${describePort(tnc.port)} is an address in the network.`,
        'Right when a server passes the serial port on; else choose the port.',
      )
    return good(`Frames go through ${describePort(tnc.port)}.`)
  },
  modem({ family, setup: { modes }, speeds }) {
    if (family.modem === 'tnc') {
      const sound = modes.filter((mode) => modeOfSheet(mode)?.sound)
      return sound.length > 0
        ? stops(`A TNC makes packet alone: not ${sound.join(', ')}.`, 'Take these modes out, or choose a family with sound.')
        : undefined
    }
    if (family.id === 'acoustic' && speeds.length > 0)
      return speeds.includes(9600)
        ? stops('9600 baud cannot go through loudspeaker and microphone.', 'Join the radio’s 9600 output by wire.')
        : attention('Packet through the air of a room loses many frames.', 'It does for listening; for sessions use a cable.')
    return undefined
  },
  voxPacket({ family, config: { keying, tnc }, speeds }) {
    if (family.modem !== 'device' || keying.by !== 'vox' || speeds.length === 0) return undefined
    if (tnc.parameters.txDelayMs < LEAST_VOX_TX_DELAY_MS)
      return stops(
        `VOX trips too late for packet’s short bursts: key-up is ${tnc.parameters.txDelayMs} ms, and frames lose their beginning.`,
        `Raise key-up to ${LEAST_VOX_TX_DELAY_MS} ms and more, or key by a line.`,
      )
    return attention(
      'VOX holds on after packet’s short bursts and misses the answer.',
      'Set the shortest VOX delay at the radio, or key by control, RTS or DTR.',
    )
  },
  filter9600({ setup, speeds }) {
    if (!speeds.includes(9600)) return undefined
    const socket = setup.radioSocket === null ? undefined : connectorOf(setup.radioSocket)
    if (socket && socket.level !== 'data' && socket.level !== 'none' && socket.level !== 'serial')
      return stops(
        `9600 baud does not pass the voice filters behind this socket: ${socket.name}.`,
        'It needs the unfiltered 9600 output of a data socket.',
      )
    if (setup.dataSocketBaud === 1200)
      return stops('The data socket is set to 1200: its output is filtered, and 9600 baud is lost.', 'Set the socket to 9600 in the menu.')
    if (setup.dataSocketBaud === null)
      return attention('Whether the data socket is set to 9600 is not noted.', 'Look in the radio’s menu and note it above.')
    return good('The data socket is set to 9600, unfiltered.')
  },
  serialSpeed({ config: { tnc } }) {
    if (!tnc.enabled || tnc.port?.kind !== 'serial') return undefined
    if (tnc.serialBaud <= tnc.airBaud)
      return attention(
        `The serial line has ${tnc.serialBaud} baud, the air ${tnc.airBaud}: the line is no faster than what it carries.`,
        'They are two settings. Was one entered as the other? A serial line of 9600 baud and more is usual.',
      )
    return good(`Two speeds: ${tnc.serialBaud} baud on the serial line, ${tnc.airBaud} on the air.`)
  },
  address({ family, config: { control, tnc } }) {
    if (family.id !== 'networkRadio' && family.id !== 'networkTnc') return undefined
    const port = family.id === 'networkRadio' ? control.port : tnc.port
    if (port?.kind !== 'tcp') return stops('No address in the network is chosen.', 'Enter it in the address book, test it, and use it.')
    return good(`The address is ${describePort(port)}: test it in the address book when the network changes.`)
  },
}
