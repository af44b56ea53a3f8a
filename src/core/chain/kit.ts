import { modeOfSheet } from '../modes'
import { packetSpeeds, type ChainSetup } from './chainSetup'
import { connectorOf } from './connectors'
import { familyOf } from './families'

/** One thing to pack. */
export interface KitItem {
  /** Lasting name, by which a tick is remembered. */
  id: string
  name: string
  group: 'Radio and power' | 'Antenna' | 'Leads and boxes' | 'Computer' | 'Paper and safety' | 'Own additions'
  why?: string
}

export interface KitNames {
  radio: string
  interfaceName: string
  antenna: string
}

/** What to pack for a chain: every box, lead and adapter, and what a day outside needs beside them. */
export function kitFor(setup: ChainSetup, names: KitNames): KitItem[] {
  const items: KitItem[] = []
  const add = (group: KitItem['group'], id: string, name: string, why?: string) => items.push({ id, group, name, ...(why && { why }) })
  const named = (name: string, other: string) => (name.trim() === '' ? other : name.trim())
  const radio = named(names.radio, 'the radio')
  const family = setup.family === null ? undefined : familyOf(setup.family)

  add('Radio and power', 'radio', named(names.radio, 'Radio'))
  add('Radio and power', 'battery', 'Battery, charged', 'Its charge is checked the evening before, not at the site.')
  add('Radio and power', 'powerLead', `Power lead for ${radio}, fused at the battery end`)
  add('Radio and power', 'fuses', 'Spare fuses')
  add('Antenna', 'antenna', named(names.antenna, 'Antenna'))
  add('Antenna', 'feedLine', 'Feed line, with the adapters for both ends')
  add('Antenna', 'dummyLoad', 'Dummy load', 'For the first transmission, and to tell antenna faults from radio faults.')
  add('Antenna', 'swrMeter', 'SWR meter, unless the radio has one')
  if (setup.modes.some((mode) => modeOfSheet(mode)?.sound)) add('Antenna', 'mast', 'Mast, guys and pegs')

  const box = named(names.interfaceName, family?.modem === 'tnc' ? 'the TNC' : 'the interface')
  const plug = setup.hostSocket === 'usbC' ? 'USB-C' : 'USB-A'
  switch (family?.id) {
    case 'acoustic':
      add('Leads and boxes', 'clip', 'Something soft to stand the device on, beside the loudspeaker', 'It keeps handling noise out.')
      break
    case 'audioCable':
      add('Leads and boxes', 'soundAdapter', `USB sound adapter with ${plug} plug, if the device has no headset jack`)
      break
    case 'soundInterface':
      add('Leads and boxes', 'box', named(names.interfaceName, 'Interface'))
      add('Leads and boxes', 'boxUsb', `USB lead from ${box} to ${plug}, one that carries data`)
      break
    case 'bluetoothTnc':
      add('Leads and boxes', 'box', named(names.interfaceName, 'KISS TNC'))
      add('Leads and boxes', 'boxPower', `Charger or power lead for ${box}`)
      break
    case 'serialTnc':
      add('Leads and boxes', 'box', named(names.interfaceName, 'TNC'))
      add('Leads and boxes', 'boxPower', `Power lead for ${box}`)
      add(
        'Leads and boxes',
        'serialAdapter',
        `Serial adapter with ${plug} plug`,
        'One of two has its own driver: the one that was tried at home.',
      )
      add('Leads and boxes', 'serialLead', `Serial lead from adapter to ${box}: 9 or 25 poles, straight`)
      add('Leads and boxes', 'backupBattery', `Memory battery for ${box}`, 'A flat one loses the settings at each power-down.')
      break
    case 'tncInside':
      add('Leads and boxes', 'boxUsb', `Data lead from ${radio} to ${plug}`)
      break
    case 'networkRadio':
    case 'networkTnc':
      add('Leads and boxes', 'router', 'Small router, or a telephone that makes a hotspot', 'With the names and passwords of its network.')
      add('Leads and boxes', 'networkLead', 'Network lead, as a way without radio')
      break
    case undefined:
      break
  }
  if (setup.radioSocket !== null && setup.boxSocket !== null && setup.radioSocket !== 'usb' && setup.boxSocket !== 'usb')
    add(
      'Leads and boxes',
      `lead ${setup.radioSocket} ${setup.boxSocket}`,
      `Lead from ${connectorOf(setup.radioSocket).name} to ${connectorOf(setup.boxSocket).name}`,
    )
  else if (family && (setup.radioSocket ?? setup.boxSocket) === null && family.id !== 'acoustic' && family.id !== 'tncInside')
    add('Leads and boxes', 'lead', `Lead between ${radio} and ${box}`, 'Choose both sockets and it is named here.')
  if (family?.modem === 'device') add('Leads and boxes', 'ferrites', 'Clip-on ferrites', 'For audio and USB leads near the antenna.')

  add('Computer', 'device', 'This tablet or laptop, charged')
  add('Computer', 'deviceCharger', 'Its charger, and a way to charge it from the battery')
  if (setup.hostSocket === 'usbC') add('Computer', 'usbAdapter', 'Adapter from USB-C to USB-A')
  add('Computer', 'timeSource', 'A source of time: GPS receiver or a watch set this morning')
  add('Paper and safety', 'licence', 'Licence, and permission for the place')
  add('Paper and safety', 'manuals', `Manuals of ${radio} and ${box}, or their menu pages`)
  add('Paper and safety', 'paperLog', 'Paper and pencil')
  add('Paper and safety', 'gloves', 'Gloves, tape, multimeter')
  if (packetSpeeds(setup).length > 0) add('Paper and safety', 'channels', 'Printed list of channels and nodes')
  setup.ownKit.forEach((name) => add('Own additions', `own ${name}`, name))
  return items
}
