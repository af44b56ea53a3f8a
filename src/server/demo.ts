import { emptyChainSetup, type ChainSetup } from '@/core/chain'
import { startingChannels, type Channel } from '@/core/channels'
import type { AddressBook } from '@/core/links'
import { emptyContact, type Contact } from '@/core/log'
import { emptySheet, type RadioSheet } from '@/core/levels'
import { defaultFieldSetup } from '@/core/power'
import { emptyPlan, type SessionPlan } from '@/core/session'
import { emptyStation } from '@/core/station'
import type { Services } from './services'
import { storeSheets } from './levelRepository'
import { readProfile, writeDocument, writeStation } from './stationRepository'

const HOUR_MS = 3_600_000

/** Contacts of the demo scenario: call, locator, minutes ago, reports sent and received, audio offset, name. */
const MADE: readonly (readonly [string, string, number, string, string, number, string | null])[] = [
  ['Q2LMN', 'JO31', 212, '-07', '-11', 1210, 'Ines'],
  ['Q7HAY', 'IO83', 188, '+02', '-04', 845, null],
  ['Q1TOR', 'KP20', 171, '-15', '-17', 1630, 'Bram'],
  ['Q9WIL', 'JN54', 149, '+06', '+03', 2015, null],
  ['Q3SED', 'JO65', 121, '-10', '-12', 1385, 'Tilde'],
  ['Q4FEN', 'IM77', 96, '-18', '-20', 640, null],
  ['Q6RUS', 'KN44', 74, '-02', '-06', 1920, 'Oskar'],
  ['Q8ELD', 'JO10', 41, '-13', '-09', 1105, null],
]

/** Where the settings of the two invented radios are found. */
const WHERE: Record<string, Record<string, string>> = {
  'Heron 20': {
    Mode: 'Key MODE until DATA shows',
    Filter: 'Turn WIDTH fully right',
    AGC: 'Menu 3, page 2',
    'Noise reduction': 'Key NR, lamp out',
    'Noise blanker': 'Key NB, lamp out',
    'Speech processor': 'Menu 5: COMP 0',
    Power: 'Menu 1',
    VOX: 'Menu 7: delay 100 ms',
  },
  'Teal 2': {
    Mode: 'Key V/M',
    Squelch: 'Knob fully left',
    'Tone squelch': 'Menu 11',
    'Data socket speed': 'Menu 34',
    'Band side for data': 'Menu 33: B',
    Power: 'Key LOW twice',
    'Battery saver': 'Menu 2',
  },
}

function demoSheets(nowUtcMs: number): RadioSheet[] {
  return (['Heron 20', 'Teal 2'] as const).map((radio, i) => {
    const sheet = emptySheet(`00000000-0000-4000-8000-00000000010${i}`, radio, i === 0 ? 'FT8' : 'packet 1200', nowUtcMs)
    return {
      ...sheet,
      lines: sheet.lines.map((line, k) => ({ ...line, where: WHERE[radio]![line.setting] ?? '', ticked: i === 0 && k < 3 })),
      note: i === 0 ? 'Power at 5 W for FT8: the case gets warm at 10 W.' : 'The lead to the Reed Box TNC is the one with the red sleeve.',
    }
  })
}

const demoId = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`

const DEMO_CHAIN: ChainSetup = {
  ...emptyChainSetup,
  family: 'soundInterface',
  modes: ['FT8', 'PSK31'],
  radioSocket: 'miniDin6',
  boxSocket: 'din5Tnc',
  packed: ['radio', 'battery', 'powerLead', 'antenna', 'box'],
  ownKit: ['Race programme and start lists'],
}

const DEMO_NETWORK: AddressBook = {
  topology: 'house',
  entries: [
    {
      id: demoId(201),
      name: 'Heron 20 at the landing',
      kind: 'radio',
      user: 'rowan',
      places: { house: { host: '192.168.77.20', port: 4532 }, radioOwn: { host: '192.168.4.1', port: 4532 } },
    },
    { id: demoId(202), name: 'Boathouse TNC', kind: 'tnc', user: '', places: { house: { host: '192.168.77.31', port: 8001 } } },
  ],
}

function demoChannels(): Channel[] {
  let n = 300
  const race: Channel = {
    ...{ id: demoId(299), name: 'Race control', receiveHz: 144_937_500, transmitHz: 144_937_500 },
    ...{ tone: 'none', toneHz: null, mode: 'fm', airBaud: 1200, purpose: 'Mailbox Q5CTL-7, results of the river race' },
  }
  return [race, ...startingChannels('region1', () => demoId(++n))]
}

const DEMO_ACTIVATION = { id: demoId(400), name: 'Sallow Reach ferry landing', programme: 'RIVERS', reference: 'SR-0042', goal: 10 }

/** A day at the landing: one band until the second start, a pause for it, another band towards dusk. */
function demoPlan(nowUtcMs: number): SessionPlan {
  const hour = Math.floor(nowUtcMs / HOUR_MS) * HOUR_MS
  const at = (hours: number) => hour + hours * HOUR_MS
  return {
    ...emptyPlan,
    blocks: [
      ...([
        [demoId(401), at(-3), at(2), 14_074_000, 'FT8', 'until the second start'],
        [demoId(402), at(2), at(2.5), null, 'Pause', 'second start of the race'],
        [demoId(403), at(2.5), at(6), 7_074_000, 'FT8', ''],
      ] as const),
    ].map(([id, startUtcMs, endUtcMs, dialFrequencyHz, mode, note]) => ({ id, startUtcMs, endUtcMs, dialFrequencyHz, mode, note })),
    nets: [
      {
        ...{ id: demoId(404), name: 'Results of the race', weekday: null, startMinute: ((new Date(at(4)).getUTCHours() * 60) % 1440) + 15 },
        ...{ durationMin: 30, frequencyHz: 144_937_500, note: 'by packet, to Q5CTL-7' },
      },
    ],
  }
}

/** Sets up the demo station (Sallow Reach ferry landing) in a folder that holds no station yet. */
export async function seedDemo({ database, logbook, network }: Services, nowUtcMs: number): Promise<void> {
  const profile = await readProfile(database, true)
  if (profile.station.call !== '') return
  await writeStation(database, {
    ...emptyStation,
    call: 'Q5RVR',
    operatorName: 'Rowan Ames',
    locator: 'JN97LK',
    place: 'Sallow Reach ferry landing',
    radio: 'Heron 20',
    interfaceName: 'Reed Box',
    antenna: 'End-fed wire, 20 m',
    powerW: 10,
    licenceConfirmedUtcMs: nowUtcMs - 20 * 24 * HOUR_MS,
    dialFrequencyHz: 14_074_000,
    dialSetUtcMs: nowUtcMs - HOUR_MS,
    voxLeadInMs: 200,
  })
  const made: Contact[] = MADE.map(([call, locator, minutesAgo, reportSent, reportReceived, audioOffsetHz, name], i) => {
    const startedUtcMs = Math.floor((nowUtcMs - minutesAgo * 60_000) / 15_000) * 15_000
    const id = `00000000-0000-4000-8000-${String(i + 1).padStart(12, '0')}`
    return {
      ...emptyContact({ id, call, mode: 'FT8', startedUtcMs, endedUtcMs: startedUtcMs + 60_000, origin: 'air' }),
      band: '20m',
      dialFrequencyHz: 14_074_000,
      audioOffsetHz,
      reportSent,
      reportReceived,
      // One contact lacks its locator, so that the demo shows what is missing and how it is filled in.
      locator: call === 'Q4FEN' ? null : locator,
      ownCall: 'Q5RVR',
      ownLocator: 'JN97LK',
      powerW: 10,
      ownProgramme: DEMO_ACTIVATION.programme,
      ownReference: DEMO_ACTIVATION.reference,
      name,
      clockUncertaintyMs: 40,
    }
  })
  await logbook.store(made)
  await storeSheets(database, demoSheets(nowUtcMs))
  await writeDocument(database, 'chain', DEMO_CHAIN)
  await writeDocument(database, 'channels', demoChannels())
  await writeDocument(database, 'plan', demoPlan(nowUtcMs))
  const begun = { startedUtcMs: nowUtcMs - 4 * HOUR_MS, endedUtcMs: null, practice: false }
  await writeDocument(database, 'activations', { current: { ...DEMO_ACTIVATION, ...begun }, past: [] })
  const power = { ...defaultFieldSetup.power, otherW: 4, temperatureC: 9, connectedUtcMs: nowUtcMs - 1.5 * HOUR_MS }
  await writeDocument(database, 'field', { ...defaultFieldSetup, power })
  await network.store(DEMO_NETWORK)
}
