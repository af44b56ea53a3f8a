import { defaultLinkConfig, type LinkConfig } from '../links'
import { chainSetupSchema, emptyChainSetup, type ChainSetup } from './chainSetup'
import { checkChain, type CheckId } from './checkChain'
import { CONNECTORS, connectorOf, NETS, pinsOf } from './connectors'
import { FAMILIES, FAMILY_IDS } from './families'
import { joinPins } from './joinPins'
import { kitFor } from './kit'

const serial = (path: string) => ({ kind: 'serial' as const, path })
const config = (over: {
  control?: Partial<LinkConfig['control']>
  keying?: Partial<LinkConfig['keying']>
  tnc?: Partial<LinkConfig['tnc']>
}): LinkConfig => ({
  ...defaultLinkConfig,
  control: { ...defaultLinkConfig.control, ...over.control },
  keying: { ...defaultLinkConfig.keying, ...over.keying },
  tnc: { ...defaultLinkConfig.tnc, ...over.tnc },
})
const setup = (over: Partial<ChainSetup>): ChainSetup => ({ ...emptyChainSetup, ...over })
const control = { enabled: true, port: serial('/dev/ttyS1'), serialBaud: 9600 }
const tnc = { enabled: true, port: serial('/dev/ttyS2'), serialBaud: 9600 }
const parameters = defaultLinkConfig.tnc.parameters

describe('families', () => {
  it('has all eight, each with a usual way of keying and a trap', () => {
    expect(FAMILIES.map((f) => f.id)).toEqual(FAMILY_IDS)
    for (const family of FAMILIES) {
      expect(family.keying.length).toBeGreaterThan(0)
      expect(family.trap).toMatch(/\.$/)
      if (family.modem === 'tnc') expect(family.tncPort).toBeDefined()
    }
  })
})

describe('checkChain', () => {
  const stateOf = (id: CheckId, s: Partial<ChainSetup>, c: Parameters<typeof config>[0], heldPorts: { path: string; by: string }[] = []) =>
    checkChain({ setup: setup(s), config: config(c), heldPorts }).find((check) => check.id === id)

  it('says nothing while no family is chosen', () => {
    expect(checkChain({ setup: emptyChainSetup, config: defaultLinkConfig, heldPorts: [] })).toEqual([])
  })

  it.each<{ id: CheckId; state: string | undefined; s: Partial<ChainSetup>; c: Parameters<typeof config>[0]; words?: RegExp }>([
    { id: 'keyingPath', state: 'stops', s: { family: 'soundInterface' }, c: { keying: { by: 'none' } }, words: /Nothing keys/ },
    { id: 'keyingPath', state: 'good', s: { family: 'acoustic' }, c: {}, words: /by VOX/ },
    { id: 'keyingPath', state: 'good', s: { family: 'serialTnc' }, c: { keying: { by: 'none' } } },
    { id: 'keyingFits', state: 'attention', s: { family: 'acoustic' }, c: { keying: { by: 'rts', path: '/dev/ttyS1' } } },
    { id: 'keyingFits', state: undefined, s: { family: 'audioCable' }, c: { keying: { by: 'rts', path: '/dev/ttyS1' } } },
    { id: 'controlThere', state: 'attention', s: { family: 'soundInterface' }, c: {}, words: /and VOX/ },
    { id: 'controlThere', state: 'attention', s: { family: 'acoustic' }, c: { control } },
    { id: 'controlThere', state: 'good', s: { family: 'soundInterface' }, c: { control } },
    { id: 'controlSpeed', state: 'stops', s: { family: 'soundInterface', radioControlBaud: 4800 }, c: { control }, words: /9600.*4800/ },
    { id: 'controlSpeed', state: 'good', s: { family: 'soundInterface', radioControlBaud: 9600 }, c: { control } },
    { id: 'controlSpeed', state: 'attention', s: { family: 'soundInterface' }, c: { control } },
    {
      id: 'controlSpeed',
      state: undefined,
      s: { family: 'networkRadio', radioControlBaud: 4800 },
      c: { control: { enabled: true, port: { kind: 'tcp', host: 'radio', port: 4532 } } },
    },
    { id: 'tncThere', state: 'stops', s: { family: 'serialTnc' }, c: {} },
    { id: 'tncThere', state: 'good', s: { family: 'serialTnc' }, c: { tnc } },
    { id: 'tncThere', state: 'attention', s: { family: 'acoustic' }, c: { tnc } },
    { id: 'tncPort', state: 'attention', s: { family: 'networkTnc' }, c: { tnc } },
    {
      id: 'tncPort',
      state: 'attention',
      s: { family: 'tncInside' },
      c: { tnc: { enabled: true, port: { kind: 'tcp', host: 'a', port: 8001 } } },
    },
    { id: 'tncPort', state: 'good', s: { family: 'serialTnc' }, c: { tnc } },
    { id: 'modem', state: 'stops', s: { family: 'serialTnc', modes: ['FT8', 'packet 1200'] }, c: { tnc }, words: /not FT8/ },
    { id: 'modem', state: undefined, s: { family: 'serialTnc', modes: ['packet 1200'] }, c: { tnc } },
    { id: 'modem', state: 'attention', s: { family: 'acoustic', modes: ['packet 1200'] }, c: {} },
    { id: 'modem', state: 'stops', s: { family: 'acoustic', modes: ['packet 9600'] }, c: {} },
    { id: 'voxPacket', state: 'attention', s: { family: 'audioCable', modes: ['packet 1200'] }, c: {}, words: /misses the answer/ },
    {
      id: 'voxPacket',
      state: 'stops',
      s: { family: 'audioCable', modes: ['packet 1200'] },
      c: { tnc: { parameters: { ...parameters, txDelayMs: 120 } } },
      words: /120 ms/,
    },
    { id: 'voxPacket', state: undefined, s: { family: 'audioCable', modes: ['FT8'] }, c: {} },
    { id: 'voxPacket', state: undefined, s: { family: 'audioCable', modes: ['packet 1200'] }, c: { keying: { by: 'cat' }, control } },
    {
      id: 'filter9600',
      state: 'stops',
      s: { family: 'audioCable', modes: ['packet 9600'], radioSocket: 'mic8a' },
      c: {},
      words: /voice filters/,
    },
    {
      id: 'filter9600',
      state: 'stops',
      s: { family: 'audioCable', modes: ['packet 9600'], radioSocket: 'miniDin6', dataSocketBaud: 1200 },
      c: {},
    },
    { id: 'filter9600', state: 'attention', s: { family: 'audioCable', modes: ['packet 9600'], radioSocket: 'miniDin6' }, c: {} },
    {
      id: 'filter9600',
      state: 'good',
      s: { family: 'audioCable', modes: ['packet 9600'], radioSocket: 'miniDin6', dataSocketBaud: 9600 },
      c: {},
    },
    { id: 'filter9600', state: undefined, s: { family: 'audioCable', modes: ['packet 1200'], dataSocketBaud: 1200 }, c: {} },
    {
      id: 'serialSpeed',
      state: 'attention',
      s: { family: 'serialTnc' },
      c: { tnc: { ...tnc, serialBaud: 1200 } },
      words: /two settings|no faster/,
    },
    { id: 'serialSpeed', state: 'good', s: { family: 'serialTnc' }, c: { tnc } },
    { id: 'address', state: 'stops', s: { family: 'networkRadio' }, c: {} },
    {
      id: 'address',
      state: 'good',
      s: { family: 'networkTnc' },
      c: { tnc: { enabled: true, port: { kind: 'tcp', host: 'a', port: 8001 } } },
    },
    {
      id: 'sharedPorts',
      state: 'stops',
      s: { family: 'soundInterface' },
      c: { control, tnc: { ...tnc, port: control.port } },
      words: /radio control and the TNC/,
    },
    { id: 'sharedPorts', state: 'good', s: { family: 'soundInterface' }, c: { control, tnc } },
    // A key line on the control port is one port with one holder.
    { id: 'sharedPorts', state: undefined, s: { family: 'soundInterface' }, c: { control, keying: { by: 'rts', path: '/dev/ttyS1' } } },
  ])('$id is $state: case %#', ({ id, state, s, c, words }) => {
    const found = stateOf(id, s, c)
    expect(found?.state).toBe(state)
    if (words) expect(found!.words).toMatch(words)
    if (state === 'stops' || state === 'attention') expect(found!.todo).toBeTruthy()
  })

  it('knows ports that the clock holds', () => {
    const held = [{ path: '/dev/ttyS1', by: 'the GPS receiver' }]
    expect(stateOf('sharedPorts', { family: 'soundInterface' }, { control }, held)).toMatchObject({
      state: 'stops',
      words: '/dev/ttyS1 is meant for the GPS receiver and radio control; only one can hold it.',
    })
  })
})

describe('joinPins', () => {
  const join = (a: Parameters<typeof joinPins>[0], b: Parameters<typeof joinPins>[1], airBaud: number | null = null, ownPins = {}) =>
    joinPins(a, b, { airBaud, ownPins })
  const wires = (plan: ReturnType<typeof join>) => plan.joins.map(({ radio, box }) => `${radio.pin}-${box.pin}`).sort()

  it('joins a data socket to a TNC, filtered for 1200 and unfiltered for 9600', () => {
    expect(wires(join('miniDin6', 'din5Tnc', 1200))).toEqual(['1-1', '2-2', '3-3', '5-4', '6-5'])
    expect(wires(join('miniDin6', 'din5Tnc', 9600))).toEqual(['1-1', '2-2', '3-3', '4-4', '6-5'])
    expect(join('miniDin6', 'din5Tnc', 9600).open).toMatchObject([{ side: 'radio', pin: { pin: '5' } }])
  })

  it('joins a straight serial lead by equal names, 9 to 25 poles', () => {
    expect(wires(join('de9Device', 'db25'))).toEqual(['1-8', '2-3', '3-2', '4-20', '5-1', '6-6', '7-4', '8-5', '9-22'])
    expect(wires(join('de9Device', 'de9'))).toEqual(['1-1', '2-2', '3-3', '4-4', '5-5', '6-6', '7-7', '8-8', '9-9'])
  })

  it('never joins a supply, whatever the other side has', () => {
    for (const radio of CONNECTORS)
      for (const box of CONNECTORS)
        for (const { net, radio: a, box: b } of join(radio.id, box.id, 9600).joins) {
          expect([net, a.net, b.net]).not.toContain('supply')
          expect(b.net).toBe(net === 'rxAudio9600' ? 'rxAudio' : net)
        }
  })

  it('warns of the sleeve that keys, of levels, and of what is missing', () => {
    const handheld = join('handheldPair', 'jack35c')
    expect(handheld.cautions.join(' ')).toMatch(/sleeve is PTT.*/)
    expect(handheld.cautions.join(' ')).toMatch(/100 to 1/)
    expect(handheld.lacks).toEqual(['No PTT through this lead: key by VOX, by control, or by a key line of an interface.'])
    expect(join('mic8a', 'jack35c').lacks[0]).toMatch(/No audio from the receiver/)
    expect(join('miniDin6', 'de9').lacks[0]).toMatch(/no lead joins them/)
    expect(join('usb', 'usb')).toMatchObject({ joins: [], lacks: [] })
  })

  it('follows the operator’s own manual', () => {
    const own = { mic8a: { '1': 'ground', '7': 'txAudio' } }
    expect(wires(join('mic8a', 'jack35c', null, own))).toEqual(['1-ring 2', '7-tip', '8-ring 2'])
    expect(pinsOf('mic8a', { '5': 'other' }).find((p) => p.pin === '5')!.net).toBe('other')
  })
})

describe('connectors', () => {
  it('names each pin once and knows every net', () => {
    for (const { id, pins } of CONNECTORS) {
      expect(new Set(pins.map((p) => p.pin)).size).toBe(pins.length)
      for (const pin of pins) expect(NETS).toContain(pin.net)
      expect(connectorOf(id).id).toBe(id)
    }
  })
})

describe('kitFor', () => {
  const names = { radio: 'Heron 20', interfaceName: 'Reed Box', antenna: 'End-fed wire, 20 m' }
  it.each(FAMILY_IDS)('%s: every thing once, with the boxes and leads of the family', (family) => {
    const kit = kitFor(setup({ family, ownKit: ['Blue folding chair'] }), names)
    expect(new Set(kit.map((item) => item.id)).size).toBe(kit.length)
    expect(kit.map((item) => item.name)).toEqual(expect.arrayContaining(['Heron 20', 'Dummy load', 'Blue folding chair']))
    expect(kit.filter((item) => item.group === 'Leads and boxes').length).toBeGreaterThan(0)
  })

  it('names the lead by both its ends, and the adapter that a USB-C device needs', () => {
    const kit = kitFor(setup({ family: 'serialTnc', modes: ['packet 1200'], radioSocket: 'miniDin6', boxSocket: 'din5Tnc' }), names)
    expect(kit.map((item) => item.name)).toEqual(
      expect.arrayContaining([
        'Lead from 6-pin mini-DIN, data socket to 5-pin DIN, TNC',
        'Adapter from USB-C to USB-A',
        'Printed list of channels and nodes',
      ]),
    )
    expect(kitFor(setup({ hostSocket: 'usbA' }), names).map((item) => item.id)).not.toContain('usbAdapter')
  })
})

describe('chainSetupSchema', () => {
  it('takes the empty set-up and own pins of some connectors', () => {
    expect(chainSetupSchema.parse(emptyChainSetup)).toEqual(emptyChainSetup)
    expect(chainSetupSchema.safeParse({ ...emptyChainSetup, ownPins: { mic8a: { '1': 'ptt' } } }).success).toBe(true)
    expect(chainSetupSchema.safeParse({ ...emptyChainSetup, ownPins: { mic8a: { '1': 'magic' } } }).success).toBe(false)
    expect(chainSetupSchema.safeParse({ ...emptyChainSetup, family: 'telepathy' }).success).toBe(false)
  })
})
