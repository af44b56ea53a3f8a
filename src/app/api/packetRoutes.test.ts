import { createServer, type Server, type Socket } from 'node:net'
import { encodeKiss, KissDecoder, monitorLine, parseAx25, uiFrame } from '@/core/packet'
import { defaultLinkConfig } from '@/core/links'
import { emptyStation } from '@/core/station'
import type { PacketState } from '@/core/packet/station/contracts'
import { writeStation } from '@/server/stationRepository'
import { openTestServices } from '@/server/testServices'
import type { Services } from '@/server/services'
import * as act from './packet/act/route'
import * as frames from './packet/frames/route'
import * as live from './packet/live/route'

let services: Services
let dispose: () => Promise<void>
let server: Server
const sockets: Socket[] = []
const given: string[] = []
const keyUps: number[] = []
const screen = 'screen-a'

beforeAll(async () => {
  ;({ services, dispose } = await openTestServices(() => Date.UTC(2026, 5, 6, 12)))
  const decoder = new KissDecoder()
  server = createServer((socket) => {
    sockets.push(socket)
    socket.on('error', () => undefined)
    socket.on('data', (data: Buffer) => {
      for (const event of decoder.push(new Uint8Array(data))) {
        if (event.type === 'frame' && event.frame.command === 1) keyUps.push(10 * event.frame.data[0]!)
        if (event.type !== 'frame' || event.frame.command !== 0) continue
        const parsed = parseAx25(event.frame.data)
        given.push(parsed.ok ? monitorLine(parsed.value) : parsed.error)
      }
    })
  })
  const port = await new Promise<number>((done) => server.listen(0, '127.0.0.1', () => done((server.address() as { port: number }).port)))
  await services.links.configure({
    ...defaultLinkConfig,
    tnc: { ...defaultLinkConfig.tnc, enabled: true, port: { kind: 'tcp', host: '127.0.0.1', port } },
  })
  await writeStation(services.database, { ...emptyStation, call: 'Q5RVR/P', locator: 'JN97LK', licenceConfirmedUtcMs: 1, powerW: 5 })
  services.lease.order({ action: 'take', id: screen })
  await until(() => sockets.length > 0 && services.links.hub.state(0).tnc.state !== 'opening')
})
afterAll(async () => {
  await dispose()
  sockets.forEach((socket) => socket.destroy())
  server.close()
})

async function until(holds: () => boolean): Promise<void> {
  for (let k = 0; k < 400 && !holds(); k++) await new Promise((done) => setTimeout(done, 25))
  expect(holds()).toBe(true)
}
const post = async (value: unknown) => {
  const answer = await act.POST(new Request('http://127.0.0.1/api/packet/act', { method: 'POST', body: JSON.stringify(value) }))
  return { status: answer.status, told: (await answer.json()) as { error?: string } }
}
const state = async (): Promise<PacketState> => {
  const end = new AbortController()
  const reader = live.GET(new Request('http://127.0.0.1/api/packet/live', { signal: end.signal })).body!.getReader()
  const { value } = await reader.read()
  end.abort()
  return JSON.parse(new TextDecoder().decode(value).replace(/^data: /, '')) as PacketState
}

describe('packet over the server', () => {
  it('sends for the screen that holds the station alone, after the check, to the TNC', async () => {
    expect(await post({ act: 'connect', peer: 'Q5CTL-7', via: [] })).toMatchObject({
      status: 409,
      told: { error: expect.stringMatching(/Another screen/) },
    })
    expect(await post({ act: 'connect', by: 'screen-b', peer: 'Q5CTL-7', via: [] })).toMatchObject({ status: 409 })
    expect(await post({ act: 'connect', by: screen, peer: 'Q5CTL-7', via: [] })).toMatchObject({
      status: 409,
      told: { error: expect.stringMatching(/short check/) },
    })
    expect(given).toEqual([])
    expect((await post({ act: 'checked', by: screen })).status).toBe(200)
    expect((await post({ act: 'connect', by: screen, peer: 'q5ctl-7', via: ['Q8TOP'] })).status).toBe(200)
    // Without what stands behind the stroke: an address has room for six characters.
    await until(() => given.includes('Q5RVR>Q5CTL-7,Q8TOP:<SABM P>'))
    expect((await post({ act: 'unproto', by: screen, to: 'CQ', via: [], text: 'anybody there?' })).status).toBe(200)
    await until(() => given.includes('Q5RVR>CQ:anybody there?'))
  })

  it('tells a TNC its timing over the line that is open', async () => {
    const { tnc, ...config } = services.links.config
    await services.links.configure({ ...config, tnc: { ...tnc, parameters: { ...tnc.parameters, txDelayMs: 250 } } })
    await until(() => keyUps.at(-1) === 250)
    expect(sockets).toHaveLength(1)
  })

  it('tells the last frames to who looks at them', async () => {
    const told = (await frames.GET().json()) as { way: string; line: string }[]
    expect(told).toContainEqual(expect.objectContaining({ way: 'out', line: 'Q5RVR>CQ:anybody there?' }))
  })

  it('takes what the TNC hears', async () => {
    sockets[0]!.write(encodeKiss({ port: 0, command: 0, data: uiFrame('Q4HUT', 'BEACON', [], 'hut at the lake') }))
    await until(() => services.packet.state().heard.length > 0)
    expect((await state()).heard).toEqual([expect.objectContaining({ call: 'Q4HUT', text: 'hut at the lake', by: null })])
  })

  it('is silenced by anybody, also by the silence of all screens', async () => {
    expect((await state()).sessions).toMatchObject([{ peer: 'Q5CTL-7', phase: 'calling' }])
    services.lease.order({ action: 'silence' })
    expect((await state()).sessions).toMatchObject([{ phase: 'closed', words: expect.stringMatching(/^Silenced\./) }])
    const count = given.length
    await new Promise((done) => setTimeout(done, 400))
    expect(given).toHaveLength(count)
    expect((await post({ act: 'silence' })).status).toBe(200)
  })

  it.each([
    [{ act: 'connect', by: screen, peer: 'Q5CTL-99', via: [] }, /SSID up to 15/],
    [{ act: 'connect', by: screen, peer: 'Q5CTL', via: 'ABCDEFGHI'.split('') }, /at most 8/],
    [{ act: 'type', by: screen, id: 1, text: 'x'.repeat(4001) }, /4000/],
    [{ act: 'shout', by: screen }, /./],
    ['hello', /./],
  ])('refuses %#', async (body, words) => {
    const { status, told } = await post(body)
    expect(status).toBe(422)
    expect(told.error).toMatch(words)
  })

  it('says so when the TNC is gone', async () => {
    await services.links.configure(defaultLinkConfig)
    await until(() => services.links.hub.state(0).tnc.state === 'off')
    expect(await post({ act: 'unproto', by: screen, to: 'CQ', via: [], text: 'x' })).toMatchObject({
      status: 409,
      told: { error: 'No TNC is there: Off.' },
    })
    expect((await state()).refusal).toEqual({ why: 'No TNC is there: Off.', need: 'tnc' })
  })
})
