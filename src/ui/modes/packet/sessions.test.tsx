/** @jest-environment jsdom */
import { act, fireEvent, screen, waitFor, within } from '@testing-library/react'
import type { PacketState, SessionView } from '@/core/packet/station/contracts'
import { answer, noon, serve, show, type } from '../../testing'
import { SessionsScreen } from './SessionsScreen'

const session: SessionView = {
  ...{ id: 4, own: 'Q5RVR', peer: 'Q5CTL-7', via: ['Q8TOP'], by: 'us', phase: 'open', beganUtcMs: noon },
  words: '300 bytes without an acknowledgement, 3 frames on the way, about 20 s more.',
  lines: [
    { sequence: 1, utcMs: noon, way: 'note', text: 'Connected to Q5CTL-7.' },
    { sequence: 2, utcMs: noon, way: 'in', text: 'Q5CTL-7>' },
    { sequence: 3, utcMs: noon, way: 'out', text: 'i' },
  ],
  ladder: [
    { sequence: 5, utcMs: noon, way: 'out', what: 'I P S0 R1', bytes: 2, state: 'acknowledged' },
    { sequence: 6, utcMs: noon, way: 'in', what: 'RR F R1', bytes: 0, state: 'heard' },
  ],
  ...{ pendingBytes: 300, sentBytes: 400, acknowledgedBytes: 100, receivedBytes: 50, sentFrames: 5, sentAgain: 1 },
  ...{ window: 4, length: 128, modulo: 8, roundTripMs: 2100 },
}
const heard = [
  { call: 'Q4HUT', lastUtcMs: noon, by: null, frames: 3, text: 'hut at the lake' },
  { call: 'Q6NOD-1', lastUtcMs: noon, by: 'Q8TOP', frames: 1, text: null },
]
const quiet: PacketState = {
  sessions: [],
  heard,
  beacon: null,
  keyUp: null,
  txDelayMs: 300,
  accepting: null,
  refusal: null,
  busyShare: 0.12,
}

let tell: (state: PacketState) => void = () => undefined
beforeEach(() => {
  globalThis.EventSource = class {
    onmessage: ((event: { data: string }) => void) | undefined
    constructor() {
      tell = (state) => act(() => this.onmessage?.({ data: JSON.stringify(state) }))
    }
    close(): void {
      tell = () => undefined
    }
  } as never
})

const acted = (fetched: ReturnType<typeof serve>) =>
  fetched.mock.calls
    .filter(([url]) => url === '/api/packet/act')
    .map(([, init]) => JSON.parse(init!.body as string) as Record<string, unknown>)

describe('the sessions screen', () => {
  it('says that a TNC is missing, and where it is linked', () => {
    serve(() => answer(200, {}))
    show(<SessionsScreen />)
    tell({ ...quiet, refusal: { why: 'No TNC is there: Off.', need: 'tnc' } })
    expect(screen.getByText('No TNC is there: Off.')).toBeTruthy()
    expect(screen.getByRole('link', { name: 'Link a TNC' }).getAttribute('href')).toBe('/connect/tnc')
    expect(screen.getByText(/No session\. Call a node/)).toBeTruthy()
  })

  it('calls a station that was heard, the way that it was heard', async () => {
    const fetched = serve(() => answer(200, {}))
    show(<SessionsScreen />)
    tell(quiet)
    expect(screen.getByText('2 stations heard')).toBeTruthy()
    expect(screen.getByText('Channel in use 12 % of the last 2 min')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: /Q6NOD-1/ }))
    fireEvent.click(screen.getByRole('button', { name: 'Call' }))
    await waitFor(() => expect(acted(fetched)).toHaveLength(1))
    expect(acted(fetched)[0]).toMatchObject({ act: 'connect', peer: 'Q6NOD-1', via: ['Q8TOP'] })
  })

  it('says what is wrong with a call or a path', async () => {
    const fetched = serve(() => answer(200, {}))
    show(<SessionsScreen />)
    tell(quiet)
    type('Station to call', 'q5ctl-16')
    type('By digipeaters', 'a b c d e f g h i')
    fireEvent.click(screen.getByRole('button', { name: 'Call' }))
    expect(await screen.findByText(/SSID up to 15/)).toBeTruthy()
    expect(screen.getByText(/at most 8 digipeaters/)).toBeTruthy()
    expect(acted(fetched)).toEqual([])
  })

  it('asks for the first check before anything is sent', async () => {
    const fetched = serve(() => answer(200, {}))
    show(<SessionsScreen />)
    tell({ ...quiet, refusal: { why: 'The first transmission of this session needs a short check.', need: 'firstCheck' } })
    type('Station to call', 'Q4HUT')
    fireEvent.click(screen.getByRole('button', { name: 'Call' }))
    fireEvent.click(await screen.findByLabelText(/An antenna or dummy load/))
    expect(acted(fetched)).toEqual([])
    fireEvent.click(screen.getByLabelText(/Hands and people are clear/))
    fireEvent.click(screen.getByRole('button', { name: /^Checked/ }))
    await waitFor(() => expect(acted(fetched)).toHaveLength(2))
    expect(acted(fetched)).toMatchObject([{ act: 'checked' }, { act: 'connect', peer: 'Q4HUT', via: [] }])
  })

  it('shows what is said beside the frames, and sends lines and orders', async () => {
    const fetched = serve(() => answer(200, {}))
    show(<SessionsScreen />)
    tell({ ...quiet, sessions: [session] })
    expect(screen.getByRole('heading', { name: 'Q5CTL-7 by Q8TOP' })).toBeTruthy()
    expect(screen.getByRole('status').textContent).toMatch(/about 20 s more/)
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('25')
    expect(within(screen.getByRole('log')).getByText('i').getAttribute('data-way')).toBe('out')
    const frames = within(screen.getByRole('list', { name: /^Frames/ })).getAllByRole('listitem')
    expect(frames.map((frame) => frame.textContent)).toEqual([expect.stringContaining('← RR F R1'), expect.stringContaining('→ I P S0 R1')])
    expect(screen.getByText(/100 bytes out, 50 bytes in, 1 of 5 frames sent again/)).toBeTruthy()
    type('Line to send', 'hello there')
    fireEvent.click(screen.getByRole('button', { name: 'Send' }))
    await waitFor(() => expect((screen.getByLabelText('Line to send') as HTMLInputElement).value).toBe(''))
    fireEvent.click(screen.getByRole('button', { name: 'Nodes' }))
    fireEvent.click(screen.getByRole('button', { name: 'Disconnect' }))
    fireEvent.click(screen.getByRole('button', { name: 'Cut off' }))
    await waitFor(() => expect(acted(fetched)).toHaveLength(4))
    expect(acted(fetched)).toMatchObject([
      { act: 'type', id: 4, text: 'hello there' },
      { act: 'type', id: 4, text: 'N' },
      { act: 'disconnect', id: 4 },
      { act: 'cut', id: 4 },
    ])
  })

  it('keeps what was typed when it was refused, and says why', async () => {
    serve((url) => (url === '/api/packet/act' ? answer(409, { error: 'That session has ended.' }) : answer(200, {})))
    show(<SessionsScreen />)
    tell({ ...quiet, sessions: [session] })
    type('Line to send', 'hello')
    fireEvent.click(screen.getByRole('button', { name: 'Send' }))
    expect(await screen.findByText('That session has ended.')).toBeTruthy()
    expect((screen.getByLabelText('Line to send') as HTMLInputElement).value).toBe('hello')
  })

  it('lets one that has ended be called again, or put away, and goes from one to the other', async () => {
    const fetched = serve(() => answer(200, {}))
    show(<SessionsScreen />)
    tell({
      ...quiet,
      sessions: [
        { ...session, phase: 'closed', words: 'No answer to 10 calls.', pendingBytes: 0 },
        { ...session, id: 5, peer: 'Q4HUT', via: [] },
      ],
    })
    expect(screen.getByRole('heading', { name: 'Q4HUT' })).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Q5CTL-7, ended' }))
    expect(screen.queryByLabelText('Line to send')).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'Call again' }))
    fireEvent.click(screen.getByRole('button', { name: 'Put away' }))
    await waitFor(() => expect(acted(fetched)).toHaveLength(2))
    expect(acted(fetched)).toMatchObject([
      { act: 'connect', peer: 'Q5CTL-7', via: ['Q8TOP'] },
      { act: 'dismiss', id: 4 },
    ])
  })
})
