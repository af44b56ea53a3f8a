/** @jest-environment jsdom */
import { TextEncoder } from 'node:util'
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { defaultLinkConfig, type LinkConfig } from '@/core/links'
import type { KeptSession, MonitorFrame, PacketState } from '@/core/packet/station/contracts'
import { answer, noon, serve, show, type, type AnyState } from '../../testing'
import { SessionsScreen } from './SessionsScreen'

const frame = (sequence: number, line: string, over: Partial<MonitorFrame> = {}): MonitorFrame => ({
  ...{ sequence, utcMs: noon, way: 'in', kind: 'UI', from: 'Q4HUT', to: 'BEACON', line, hex: 'a26a03f0' },
  ...over,
})
const quiet: PacketState = {
  ...{ sessions: [], beacon: null, keyUp: null, txDelayMs: 300, accepting: null, refusal: null, busyShare: 0.1 },
  heard: [{ call: 'Q6NOD-1', lastUtcMs: noon, by: 'Q8TOP', frames: 1, text: null }],
}
const frames = [
  frame(3, 'Q5RVR>Q5CTL-7:<SABM P>', { way: 'out', kind: 'SABM', from: 'Q5RVR', to: 'Q5CTL-7' }),
  frame(2, 'Q4HUT>BEACON:hut at the lake'),
  frame(1, 'Q7FEN-9>BEACON:on the ridge', { from: 'Q7FEN-9' }),
]
const kept: KeptSession = {
  ...{ id: '00000000-0000-4000-8000-000000000001', own: 'Q5RVR', peer: 'Q5CTL-7', via: ['Q8TOP'], by: 'us', practice: false },
  ...{ beganUtcMs: noon, endedUtcMs: noon },
  lines: [
    { sequence: 1, utcMs: noon, way: 'in', text: 'Lock gate open at ten' },
    { sequence: 2, utcMs: noon, way: 'in', text: 'Q5CTL-7>' },
  ],
}

// The simulated page lacks it.
Object.assign(globalThis, { TextEncoder })

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

let config: LinkConfig
beforeEach(() => (config = defaultLinkConfig))
const serving = () =>
  serve((url, init) => {
    if (url === '/api/links/config') {
      if (init?.method === 'PUT') config = JSON.parse(init.body as string) as LinkConfig
      return answer(200, config)
    }
    if (url === '/api/packet/frames') return answer(200, frames)
    if (url.startsWith('/api/packet/kept')) return answer(200, url.includes('words=weir') ? [] : [kept])
    return answer(200, {})
  })
const acted = (fetched: ReturnType<typeof serve>) =>
  fetched.mock.calls.filter(([url]) => url === '/api/packet/act').map(([, init]) => JSON.parse(init!.body as string) as object)
const open = (name: string, state: AnyState = {}) => {
  const fetched = serving()
  const shown = show(<SessionsScreen />, { state, own: { call: 'Q5RVR' } })
  tell(quiet)
  fireEvent.click(screen.getByRole('button', { name }))
  return { fetched, ...shown }
}

describe('the monitor', () => {
  it('shows what goes by, by kind and call, and its bytes on demand', async () => {
    open('Monitor')
    expect(await screen.findByText('3 frames, the newest first')).toBeTruthy()
    const lines = () => screen.queryAllByRole('listitem').flatMap((item) => (item.querySelector('time') ? [item.textContent] : []))
    expect(lines()).toHaveLength(3)
    expect(screen.queryByText('a2 6a 03 f0')).toBeNull()
    type('Call', 'q7fen')
    expect(lines()).toEqual([expect.stringContaining('Q7FEN-9>BEACON:on the ridge')])
    fireEvent.click(screen.getByLabelText('Bytes'))
    expect(screen.getByText('a2 6a 03 f0')).toBeTruthy()
    type('Call', 'q9')
    expect(screen.getByText('None of the last 3 frames is of that kind.')).toBeTruthy()
  })
})

describe('text to everybody', () => {
  it('goes out once, with what it takes on the air, or as a beacon that can be ended', async () => {
    const { fetched } = open('To everybody')
    fireEvent.click(screen.getByRole('button', { name: 'Who we are' }))
    expect(screen.getByText(/^\d\.\d s on the air at 1200 baud; \d+ of 256 letters/)).toBeTruthy()
    type('Text to everybody', 'at the landing')
    fireEvent.click(screen.getByRole('button', { name: 'Begin a beacon' }))
    fireEvent.click(screen.getByRole('button', { name: 'Send once' }))
    await waitFor(() => expect(acted(fetched)).toHaveLength(2))
    expect(acted(fetched)).toMatchObject([
      { act: 'beacon', text: 'at the landing', everyMin: 10, times: 6 },
      { act: 'unproto', to: 'BEACON', text: 'at the landing' },
    ])
    tell({
      ...quiet,
      beacon: { to: 'BEACON', via: [], text: 'at the landing', everyMin: 10, left: 5, nextUtcMs: noon, problem: 'The radio needs a rest.' },
    })
    expect(screen.getByText(/“at the landing” every 10 min, 5 more/)).toBeTruthy()
    expect(screen.getByText(/The last one did not go out: The radio needs a rest\./)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'End the beacon' }))
    await waitFor(() => expect(acted(fetched)).toHaveLength(3))
  })

  it('finds the key-up time against a digipeater that was heard', async () => {
    const { fetched } = open('To everybody')
    expect(screen.getByRole('heading', { name: 'Key-up time: 300 ms' })).toBeTruthy()
    expect(
      await screen.findByText(
        /In the last 2 min the channel was in use for 10 %: with persistence 0\.25 .* is out after 1\.\d s, and \d % collide/,
      ),
    ).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Find the shortest' }))
    await waitFor(() => expect(acted(fetched)).toMatchObject([{ act: 'findKeyUp', digipeater: 'Q8TOP' }]))
    tell({ ...quiet, keyUp: { by: 'Q8TOP', nowMs: 250, sent: 2, repeated: 1, words: null } })
    expect(screen.getByText('250 ms is tried: Q8TOP has repeated 1 of 2 frames.')).toBeTruthy()
    tell({ ...quiet, keyUp: { by: 'Q8TOP', nowMs: 150, sent: 2, repeated: 0, words: 'Q8TOP still copies 200 ms.' } })
    expect(screen.getByText('Q8TOP still copies 200 ms.')).toBeTruthy()
  })
})

describe('kept sessions', () => {
  it('are found by a word, opened, and left again', async () => {
    open('Kept sessions')
    type('Word or call', 'lock gate')
    fireEvent.click(await screen.findByRole('button', { name: /Q5CTL-7.*by Q8TOP.*Lock gate open at ten/ }))
    expect(screen.getByText('Lock gate open at ten').tagName).toBe('MARK')
    fireEvent.click(screen.getByRole('button', { name: 'Back to the list' }))
    type('Word or call', 'weir')
    expect(await screen.findByText('“weir” stands in no session.')).toBeTruthy()
  })
})

describe('calls of others', () => {
  it('are taken for a while, and no more', async () => {
    const { fetched } = open('Session')
    fireEvent.click(screen.getByRole('button', { name: 'Take calls' }))
    await waitFor(() => expect(acted(fetched)).toMatchObject([{ act: 'accept', minutes: 30 }]))
    tell({ ...quiet, accepting: { untilUtcMs: noon + 3_600_000, greeting: 'Hello.' } })
    fireEvent.click(screen.getByRole('button', { name: 'Take no more' }))
    await waitFor(() => expect(acted(fetched)).toHaveLength(2))
  })
})

describe('the modem of this device', () => {
  const listening: AnyState = {
    ...{ mode: 'packet', source: { kind: 'microphone', label: 'Reed Box', warnings: [], pace: 1 } },
    links: { tnc: { modem: true, airBaud: 1200 }, standins: { tnc: null } } as never,
  }

  it('takes the place of a TNC, and gives it back', async () => {
    const tnc = { ...defaultLinkConfig.tnc, enabled: true, port: { kind: 'tcp' as const, host: '127.0.0.1', port: 8001 } }
    config = { ...defaultLinkConfig, tnc }
    serving()
    show(<SessionsScreen />, { state: listening })
    tell(quiet)
    fireEvent.click(await screen.findByRole('button', { name: 'Modem of this device' }))
    await waitFor(() => expect(config.tnc.port).toEqual({ kind: 'browser', by: 'modem' }))
    fireEvent.click(await screen.findByRole('button', { name: 'A TNC' }))
    await waitFor(() => expect(config.tnc.port).toEqual(tnc.port))
  })

  it('says what it hears, what it gained, and waits for a person before it sends', async () => {
    config = { ...defaultLinkConfig, tnc: { ...defaultLinkConfig.tnc, enabled: true, port: { kind: 'browser', by: 'modem' } } }
    serving()
    const last = { utcMs: noon, line: 'Q4HUT>BEACON:x', levelDb: -14.2, snrDb: 17.1, twistDb: -4, mended: 0, corrected: 3 }
    const { commands, answers } = show(<SessionsScreen />, {
      state: {
        ...listening,
        ...{ carrier: true, waiting: 2, counted: { frames: 9, saved: 2, mended: 1 }, held: 'A session wants to send.' },
        ...({ heard: [last] } as AnyState),
      },
    })
    tell(quiet)
    const words = await screen.findByText(/Somebody sends/)
    expect(words.parentElement!.textContent).toBe(
      'Somebody sends, last frame -14 dB of full scale, 17 dB over the noise, higher tone 4 dB weaker, 3 bytes corrected; 2 frames wait for the channel; error correction saved 2 of 9 frames, 1 of 9 were mended.',
    )
    answers['packet.begin'] = { ok: false, why: 'The radio needs a rest.', need: 'wait' }
    fireEvent.click(screen.getByRole('button', { name: 'Let it send' }))
    expect(await screen.findByText('The radio needs a rest.')).toBeTruthy()
    expect(commands).toEqual(expect.arrayContaining([{ type: 'packet.begin' }]))
  })
})
