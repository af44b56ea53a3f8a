/**
 * @jest-environment jsdom
 */
import { act, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { emptyDraft, type ConversationView, type FocusView } from '@/engine/modes/psk31/state'
import { noon, show, type AnyState } from '../../testing'
import { hzAt, laidOut, shareOf } from './layout'
import { RibbonsScreen } from './RibbonsScreen'

// The simulated page draws nothing.
HTMLCanvasElement.prototype.getContext = (() => null) as never
Element.prototype.scrollIntoView = () => undefined

const one = (channel: number, frequencyHz: number, over: Partial<ConversationView> = {}): ConversationView => ({
  ...{
    channel,
    frequencyHz,
    snrDb: 4,
    doing: 'text',
    tail: 'cq cq de Q2LMN Q2LMN pse k',
    tailFaint: [],
    cq: true,
    toMe: false,
    lastUtcMs: noon,
    told: {},
  },
  from: 'Q2LMN',
  ...over,
})
const listening: AnyState = { mode: 'psk31', source: { kind: 'microphone', label: 'Test', warnings: [], pace: 1 } }
const focus: FocusView = {
  ...{ channel: 1, frequencyHz: 1000, byHand: [], startedUtcMs: noon },
  facts: { name: { value: 'Isa', times: 2, of: 3, sure: 0.98 }, locator: { value: 'JO31', times: 1, of: 2, sure: 0.5 } },
  draft: { ...emptyDraft, call: 'Q2LMN', name: 'Isa', reportSent: '579' },
  transcript: [{ utcMs: noon, mine: false, text: 'cq de Q2LMN k', faint: [[0, 2]] }],
}

describe('text that is not sure', () => {
  it('stands apart from what was received, in the running line and in what was said', () => {
    show(<RibbonsScreen />, { state: { ...listening, conversations: [one(1, 1000, { tailFaint: [[0, 2]] })], focus } })
    expect(screen.getAllByTitle(/Not sure/).map((part) => part.textContent)).toEqual(['cq', 'cq'])
  })
})

describe('the map of the band', () => {
  it('shows who told a locator, and says who did not', async () => {
    const conversations = [one(1, 1000, { told: { locator: 'JO31' } }), one(2, 800, { from: 'Q7XYZ', cq: false })]
    show(<RibbonsScreen />, { state: { ...listening, conversations } })
    fireEvent.click(screen.getByRole('button', { name: 'Map' }))
    expect(await screen.findByText(/1 station of 2 told no locator yet, and the log knows none/)).toBeTruthy()
    expect(screen.getByRole('img', { name: /1 station within/ })).toBeTruthy()
  })

  it('needs a place of its own', async () => {
    show(<RibbonsScreen />, { state: { ...listening, conversations: [] }, own: { locator: '' } })
    fireEvent.click(screen.getByRole('button', { name: 'Map' }))
    expect(await screen.findByText(/Set your locator/)).toBeTruthy()
  })
})

describe('the ribbons', () => {
  it('say what to do while nothing is heard', () => {
    show(<RibbonsScreen />, { state: { mode: 'psk31' } })
    expect(screen.getByText(/Nothing is being listened to/)).toBeTruthy()
    expect(screen.getByText('Nothing in focus')).toBeTruthy()
  })

  it('stand by frequency, say who is who, and are taken into focus by a touch', async () => {
    const conversations = [
      one(2, 800, { toMe: true, to: 'Q5RVR', cq: false, from: 'Q7XYZ' }),
      one(1, 1000),
      one(3, 2000, { doing: 'gone', cq: false, lastUtcMs: noon - 9000 }),
    ]
    const { commands, answers } = show(<RibbonsScreen />, {
      state: {
        ...listening,
        conversations,
        worked: { Q7XYZ: [{ call: 'Q7XYZ', band: '20m', mode: 'PSK', locator: null, name: 'Isa', startedUtcMs: noon }] },
      },
    })
    expect(screen.getByRole('heading', { name: '3 conversations 2 now' })).toBeTruthy()
    const rows = screen.getAllByRole('listitem').map((row) => row.textContent)
    expect(rows[0]).toMatch(/^800\+4 dBQ7XYZ Isaworked, calls you/)
    expect(rows[1]).toMatch(/^1000\+4 dBQ2LMNcalling CQcq cq de Q2LMN/)
    expect(rows[2]).toMatch(/gone 12 s/)
    answers['psk31.focus'] = { ok: false, why: 'That conversation is no longer heard.' }
    fireEvent.click(within(screen.getAllByRole('listitem')[1]!).getByRole('button'))
    expect(commands).toEqual(expect.arrayContaining([{ type: 'psk31.focus', target: { channel: 1 } }]))
    await waitFor(() => expect(screen.getByText(/no longer heard/)).toBeTruthy())
  })

  it('fill phrases in from what is known, ask for the check, and send', async () => {
    const { commands, answers, passCheck } = show(<RibbonsScreen />, {
      state: { ...listening, focus },
      own: { operatorName: 'Rowan Ames', dialFrequencyHz: null },
    })
    // Without a place or a name that is not known a phrase does without; without a call it cannot be.
    fireEvent.click(screen.getByRole('button', { name: 'Report' }))
    const field = screen.getByLabelText<HTMLTextAreaElement>('What to send')
    expect(field.value).toBe(
      'Q2LMN de Q5RVR = ga Isa tnx fer call = ur rst 579 579 = name Rowan Rowan = loc JN97LK = hw? btu Q2LMN de Q5RVR kn',
    )
    answers['psk31.say'] = { ok: false, why: 'Check first.', need: 'firstCheck' }
    fireEvent.click(screen.getByRole('button', { name: 'Send this over' }))
    fireEvent.click(await screen.findByLabelText(/An antenna or dummy load/))
    fireEvent.click(screen.getByLabelText(/Hands and people are clear/))
    answers['psk31.say'] = { ok: true }
    await act(async () => fireEvent.click(screen.getByRole('button', { name: /^Checked/ })))
    expect(passCheck).toHaveBeenCalled()
    expect(commands.filter((command) => command.type === 'psk31.say')).toHaveLength(2)
  })

  it('send what is typed word by word while an over is on, and take back what waits', async () => {
    const over = { phase: 'sending', sent: 'Q2LMN de ', waiting: 'Q5RVR ', mustEndUtcMs: noon + 60_000 } as const
    const { commands, answers } = show(<RibbonsScreen />, { state: { ...listening, focus, over } })
    answers['psk31.takeBack'] = { ok: true, text: 'Q5RVR ' }
    expect(within(screen.getByLabelText('What was said')).getByText('Q5RVR')).toBeTruthy()
    fireEvent.change(screen.getByLabelText(/^Type on/), { target: { value: 'the weather here is f' } })
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Take back what waits' })))
    // It stands before what was typed meanwhile, and can be mended.
    expect(screen.getByLabelText<HTMLTextAreaElement>(/^Type on/).value).toBe('Q5RVR f')
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Send it and end the over' })))
    expect(commands.filter((command) => command.type.startsWith('psk31'))).toEqual([
      { type: 'psk31.say', text: 'the weather here is ', ends: false },
      { type: 'psk31.takeBack' },
      { type: 'psk31.say', text: 'Q5RVR f', ends: true },
    ])
    expect(screen.getByText(/ends by itself in 57 s at the latest/)).toBeTruthy()
  })

  it('fill the log from what was read, unless the operator says otherwise', async () => {
    const { commands, psk31 } = show(<RibbonsScreen />, { state: { ...listening, focus } })
    fireEvent.change(screen.getByLabelText(/^Name/), { target: { value: 'Isabel' } })
    fireEvent.change(screen.getByLabelText('Locator'), { target: { value: 'jo31' } })
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Log it' })))
    expect(commands.filter((command) => command.type.startsWith('psk31'))).toEqual([
      { type: 'psk31.fill', change: { name: 'Isabel' } },
      { type: 'psk31.fill', change: { locator: 'JO31' } },
      { type: 'psk31.log' },
    ])
    act(() => psk31.setState({ focus: { ...focus, byHand: ['name'], loggedUtcMs: noon } }))
    expect(screen.getByText('In the log since 12:00:00.')).toBeTruthy()
    expect(screen.getByLabelText('Name')).toBeTruthy()
  })

  it('say what speaks for what was read, and take what is not sure only when told', async () => {
    const { commands } = show(<RibbonsScreen />, { state: { ...listening, focus } })
    expect(screen.getByLabelText<HTMLInputElement>('Name, read 2 of 3').value).toBe('Isa')
    expect(screen.getByLabelText<HTMLInputElement>('Locator').value).toBe('')
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Locator JO31? Take it' })))
    expect(commands.filter((command) => command.type === 'psk31.fill')).toEqual([{ type: 'psk31.fill', change: { locator: 'JO31' } }])
  })

  it('say that another mode is in front, and bring theirs there only when told', async () => {
    const { commands } = show(<RibbonsScreen />, { state: { ...listening, mode: 'ft8' } })
    expect(screen.getByText('FT8 is in front.')).toBeTruthy()
    expect(screen.queryByText('Nothing in focus')).toBeNull()
    expect(commands).toEqual([])
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Bring PSK31 to the front' })))
    expect(commands).toEqual([{ type: 'front', mode: 'psk31' }])
  })
})

describe('operating on the ribbons', () => {
  const said = (commands: readonly { type: string }[]) => commands.filter((command) => command.type.startsWith('psk31'))

  it('puts who calls anybody first on request', () => {
    const conversations = [one(1, 700, { cq: false, from: 'Q7XYZ', to: 'Q9ZZZ' }), one(2, 1500), one(3, 900, { cq: true, doing: 'gone' })]
    show(<RibbonsScreen />, { state: { ...listening, conversations } })
    const calls = () => screen.getAllByRole('listitem').map((row) => /^\d+/.exec(row.textContent)![0])
    expect(calls()).toEqual(['700', '1500', '900'])
    fireEvent.click(screen.getByRole('button', { name: 'CQ first' }))
    expect(calls()).toEqual(['1500', '700', '900'])
  })

  it('shows name, direction and distance of who told them', () => {
    const conversations = [one(1, 700, { told: { name: 'Isa', locator: 'JO31' } })]
    show(<RibbonsScreen />, { state: { ...listening, conversations } })
    expect(screen.getByRole('listitem').textContent).toMatch(/Q2LMN Isacalling CQ, \d+\skm \d{3}°/)
  })

  it('tells of the signal in words, and has polite ones ready for an overdriven one', () => {
    const signal = { snrDb: 6, steadiness: 0.9, linearity: { productsDb: -14, atMost: false, withinDb: 0.5 } }
    show(<RibbonsScreen />, { state: { ...listening, focus: { ...focus, signal } } })
    expect(screen.getByText(/overdriven: products 14 dB below/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Your signal' }))
    expect(screen.getByLabelText<HTMLTextAreaElement>('What to send').value).toMatch(/^Q2LMN de Q5RVR = ur imd abt minus 14 db om/)
  })

  it('calls CQ as often as set for the station, shows the pause, and stops', async () => {
    const free: FocusView = { ...focus, draft: emptyDraft, facts: {} }
    const { commands, psk31 } = show(<RibbonsScreen />, { state: { ...listening, focus: free } })
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Call CQ up to 3 times' })))
    expect(said(commands)).toEqual([{ type: 'psk31.callCq', text: 'cq cq cq de Q5RVR Q5RVR Q5RVR pse k', tries: 3, pauseS: 10 }])
    act(() => psk31.setState({ cq: { called: 1, of: 3, nextUtcMs: noon + 20_000 } }))
    expect(screen.getByText(/called again in \d+ s unless somebody is heard/)).toBeTruthy()
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Stop calling' })))
    expect(said(commands).at(-1)).toEqual({ type: 'psk31.stopCq' })
  })

  it('offers what was lost, the way to turn, and a clearer place when they do not copy', async () => {
    const trouble = { kind: 'who', lost: ['call'], words: 'qrz? de Q2LMN', again: 'Q2LMN de Q5RVR Q5RVR Q5RVR k' } as const
    const far = { ...focus, trouble, clearHz: 1120, draft: { ...focus.draft, locator: 'JO31' } }
    const { commands } = show(<RibbonsScreen />, { state: { ...listening, focus: far } })
    expect(screen.getByText('They ask who called.')).toBeTruthy()
    expect(screen.getByText(/^Turn to \d{3}°/)).toBeTruthy()
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Say it again' })))
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Move 120 Hz up, clearer there' })))
    expect(said(commands)).toEqual([
      { type: 'psk31.say', text: trouble.again, ends: true },
      { type: 'psk31.split', sendHz: 1120 },
    ])
  })

  it('sends elsewhere when told, and goes back', async () => {
    const { commands, psk31 } = show(<RibbonsScreen />, { state: { ...listening, focus } })
    const field = screen.getByLabelText(/^Send at, Hz/)
    fireEvent.change(field, { target: { value: '99' } })
    fireEvent.blur(field)
    expect(said(commands)).toEqual([])
    fireEvent.change(field, { target: { value: '1400' } })
    fireEvent.keyDown(field, { key: 'Enter' })
    act(() => psk31.setState({ focus: { ...focus, sendHz: 1400 } }))
    await act(async () => fireEvent.click(screen.getByRole('button', { name: /^Sending at 1400 Hz/ })))
    expect(said(commands)).toEqual([{ type: 'psk31.split', sendHz: 1400 }, { type: 'psk31.split' }])
  })

  it('lists contacts that were begun, to take up or drop', async () => {
    const begun = [
      {
        id: 'a',
        practice: false,
        frequencyHz: 1000,
        draft: focus.draft,
        byHand: [],
        startedUtcMs: noon - 90_000,
        leftUtcMs: noon - 60_000,
        lines: [],
      },
    ]
    const { commands, answers } = show(<RibbonsScreen />, { state: { ...listening, begun } })
    answers['psk31.resume'] = { ok: false, why: 'That contact is no longer kept.' }
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Drop Q2LMN' })))
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Take up Q2LMN' })))
    expect(screen.getByText('That contact is no longer kept.')).toBeTruthy()
    expect(said(commands)).toEqual([
      { type: 'psk31.drop', id: 'a' },
      { type: 'psk31.resume', id: 'a' },
    ])
  })

  it('shows the exercises of the practice band, and which are done', () => {
    const practice: AnyState = { ...listening, source: { kind: 'practice', label: 'Band', warnings: [], pace: 1 } }
    show(<RibbonsScreen />, { state: { ...practice, exercises: ['answer'] } })
    expect(screen.getByText('1 of 8 done')).toBeTruthy()
    const list = within(screen.getByRole('list', { name: 'Exercises' }))
    expect(list.getAllByLabelText('Done')).toHaveLength(1)
    expect(list.getAllByLabelText('To do')).toHaveLength(7)
  })

  it('reminds of the own call when it is due', () => {
    const state = { ...listening, focus, identified: { callUtcMs: noon - 11 * 60_000, sentUtcMs: noon - 1000 } }
    show(<RibbonsScreen />, { state })
    expect(screen.getByText(/Your call was sent 11 min ago: it is due every 10 min/)).toBeTruthy()
    fireEvent.change(screen.getByLabelText('What to send'), { target: { value: 'de q5rvr' } })
    expect(screen.queryByText(/it is due every/)).toBeNull()
  })

  it('is for listening alone where there is no call: text, who and where, and nothing that sends', () => {
    show(<RibbonsScreen />, { state: { ...listening, focus }, own: { call: '' } })
    expect(screen.getByText(/You are listening/)).toBeTruthy()
    for (const name of ['Log it', 'Send this over', 'Report']) expect(screen.queryByRole('button', { name })).toBeNull()
    expect(screen.queryByLabelText('What to send')).toBeNull()
    expect(screen.getByRole('button', { name: 'Save text' })).toBeTruthy()
    expect(screen.getByLabelText(/^Name/)).toBeTruthy()
  })
})

it('the rail goes from the lowest to the highest place, and back', () => {
  expect([shareOf(200), shareOf(3000), shareOf(9000), hzAt(0), hzAt(1), hzAt(shareOf(1234))]).toEqual([0, 1, 1, 200, 3000, 1234])
  expect(laidOut([500, 900]).map((mark) => mark.row)).toEqual([0, 1])
})
