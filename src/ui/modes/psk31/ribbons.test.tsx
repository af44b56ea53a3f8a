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
  },
  from: 'Q2LMN',
  ...over,
})
const listening: AnyState = { mode: 'psk31', source: { kind: 'microphone', label: 'Test', warnings: [], pace: 1 } }
const focus: FocusView = {
  ...{ channel: 1, frequencyHz: 1000, byHand: [], startedUtcMs: noon },
  draft: { ...emptyDraft, call: 'Q2LMN', name: 'Isa', reportSent: '579' },
  transcript: [{ utcMs: noon, mine: false, text: 'cq de Q2LMN k', faint: [[0, 2]] }],
}

describe('text that is not sure', () => {
  it('stands apart from what was received, in the running line and in what was said', () => {
    show(<RibbonsScreen />, { state: { ...listening, conversations: [one(1, 1000, { tailFaint: [[0, 2]] })], focus } })
    expect(screen.getAllByTitle(/Not sure/).map((part) => part.textContent)).toEqual(['cq', 'cq'])
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
    expect(screen.getByRole('heading', { name: '2 conversations' })).toBeTruthy()
    const rows = screen.getAllByRole('listitem').map((row) => row.textContent)
    expect(rows[0]).toMatch(/^800\+4 dBQ7XYZworked, calls you/)
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
    const { commands } = show(<RibbonsScreen />, { state: { ...listening, focus, over } })
    expect(within(screen.getByLabelText('What was said')).getByText('Q5RVR')).toBeTruthy()
    fireEvent.change(screen.getByLabelText(/^Type on/), { target: { value: 'the weather here is f' } })
    fireEvent.click(screen.getByRole('button', { name: 'Take back what waits' }))
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Send it and end the over' })))
    expect(commands.filter((command) => command.type.startsWith('psk31'))).toEqual([
      { type: 'psk31.say', text: 'the weather here is ', ends: false },
      { type: 'psk31.takeBack' },
      { type: 'psk31.say', text: 'f', ends: true },
    ])
    expect(screen.getByText(/ends by itself in 57 s at the latest/)).toBeTruthy()
  })

  it('fill the log from what was read, unless the operator says otherwise', async () => {
    const { commands, psk31 } = show(<RibbonsScreen />, { state: { ...listening, focus } })
    fireEvent.change(screen.getByLabelText('Name, read'), { target: { value: 'Isabel' } })
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

  it('say that another mode is in front, and bring theirs there only when told', async () => {
    const { commands } = show(<RibbonsScreen />, { state: { ...listening, mode: 'ft8' } })
    expect(screen.getByText('FT8 is in front.')).toBeTruthy()
    expect(screen.queryByText('Nothing in focus')).toBeNull()
    expect(commands).toEqual([])
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Bring PSK31 to the front' })))
    expect(commands).toEqual([{ type: 'front', mode: 'psk31' }])
  })
})

it('the rail goes from the lowest to the highest place, and back', () => {
  expect([shareOf(200), shareOf(3000), shareOf(9000), hzAt(0), hzAt(1), hzAt(shareOf(1234))]).toEqual([0, 1, 1, 200, 3000, 1234])
  expect(laidOut([500, 900]).map((mark) => mark.row)).toEqual([0, 1])
})
