/**
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals'
import { fireEvent, screen, within } from '@testing-library/react'
import type { ComponentProps } from 'react'
import { heardAs, hearSlot, reduceExchange, type StationsHeard } from '@/core/ft8'
import type { Slices } from '@/engine/port/stationPort'
import { show as showIn, type AnyState } from '../../testing'
import { ExchangePanel } from './ExchangePanel'
import { isShown, leadingCall, orderViews, viewStations, type Order, type Shown, type Surroundings } from './stationOrder'

const decode = (text: string, snrDb = -8) => heardAs(text, { snrDb })!

const noon = Date.UTC(2026, 5, 1, 12)
const manner = { ownCall: 'Q5RVR', ownLocator: 'JN97LK', finish: 'RR73' as const, maxTries: 6, maxCqTries: 6 }
const slotIndex = noon / 15_000
const answering = reduceExchange(
  { phase: 'idle' },
  { type: 'answer', manner, decode: decode('CQ Q1ABC JO31'), slotIndex, slotUtcMs: noon, audioOffsetHz: 1500 },
)[0]

const next = { text: 'Q1ABC Q5RVR JN97', startUtcMs: noon + 15_000, audioOffsetHz: 1500, onlyIfAsked: false }

function show(state: AnyState, over: Partial<ComponentProps<typeof ExchangePanel>> = {}) {
  const calls = {
    ...{ onCallCq: jest.fn(), onChecked: jest.fn(), onNotNow: jest.fn(), onAnswer: jest.fn(), onParity: jest.fn() },
    ...{ onSay: jest.fn(), onSayAgain: jest.fn() },
  }
  const around = { now: noon + 16_000, parity: 'even', ownHz: 1500, pending: undefined, practice: false, intruder: undefined } as const
  return {
    ...calls,
    ...showIn(<ExchangePanel {...around} {...calls} {...over} />, { state, own: { powerW: null, dialFrequencyHz: null } }),
  }
}

describe('ExchangePanel', () => {
  it('offers to call CQ when nothing is going on', () => {
    const { onCallCq, onParity } = show({})
    fireEvent.click(screen.getByRole('button', { name: 'Call CQ at 1500 Hz' }))
    fireEvent.click(screen.getByRole('button', { name: 'odd :15 :45' }))
    expect(onCallCq).toHaveBeenCalledTimes(1)
    expect(onParity).toHaveBeenCalledWith('odd')
  })

  it('says what comes next and when, and what was heard', () => {
    const { stopExchange } = show({ exchange: answering, next })
    expect(screen.getByRole('status').textContent).toBe('With Q1ABC, try 1 of 6')
    expect(screen.getByText(/^Next, in this slot, 1500 Hz/)).toBeTruthy()
    expect(screen.getByText('Q1ABC Q5RVR JN97')).toBeTruthy()
    const ladder = screen.getByRole('list', { name: 'Sent and received' })
    expect(within(ladder).getByText('CQ Q1ABC JO31')).toBeTruthy()
    expect(within(ladder).getByText('−8 dB')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Stop after this' }))
    expect(stopExchange).toHaveBeenCalledTimes(1)
  })

  it('names the time of a slot to come', () => {
    show({ exchange: answering, next }, { now: noon + 3000 })
    expect(screen.getByText('Next, at 12:00:15, in 12 s, 1500 Hz')).toBeTruthy()
  })

  it('lets nobody pass the first check without both ticks', () => {
    const { onChecked, onNotNow } = show({}, { pending: 'Answer Q1ABC' })
    const go = screen.getByRole<HTMLButtonElement>('button', { name: 'Checked. Answer Q1ABC' })
    expect(go.disabled).toBe(true)
    fireEvent.click(screen.getByLabelText(/An antenna or dummy load/))
    expect(go.disabled).toBe(true)
    fireEvent.click(screen.getByLabelText(/Hands and people are clear/))
    fireEvent.click(go)
    expect(onChecked).toHaveBeenCalledTimes(1)
    expect(screen.getByText(/burns/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Not now' }))
    expect(onNotNow).toHaveBeenCalledTimes(1)
  })

  it('shows who else calls, lets them wait until the contact has ended, and puts one first', () => {
    const decodes = ['Q5RVR Q7XYZ JN18', 'Q5RVR Q8ABC JO22'].map((text) => decode(text))
    const [waiting] = reduceExchange(answering, { type: 'heard', slotIndex, slotUtcMs: noon, decodes })
    const { arrangeCallers } = show({ exchange: waiting })
    expect(screen.getByRole('heading', { name: '2 more call you' })).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'Answer Q7XYZ' })).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'Put first: Q8ABC' }))
    expect(arrangeCallers).toHaveBeenCalledWith(['Q8ABC'])
  })

  it('has the next one ready when the contact has ended', () => {
    const decodes = [decode('Q5RVR Q7XYZ JN18')]
    const [waiting] = reduceExchange(answering, { type: 'heard', slotIndex, slotUtcMs: noon, decodes })
    const { onAnswer } = show({ exchange: reduceExchange(waiting, { type: 'stop' })[0] })
    fireEvent.click(screen.getByRole('button', { name: 'Answer Q7XYZ' }))
    expect(onAnswer).toHaveBeenCalledWith('Q7XYZ')
  })

  it('offers the last words once more, and says what follows', () => {
    const ended = {
      ...answering,
      phase: 'ended',
      reason: 'complete',
      contactMade: true,
      asksAgain: 'seventyThree',
    } as Slices['ft8']['exchange']
    const { onSayAgain } = show({ exchange: ended })
    fireEvent.click(screen.getByRole('button', { name: 'Say it once more' }))
    expect(onSayAgain).toHaveBeenCalledTimes(1)
    show({ exchange: answering })
    expect(screen.getByText(/After that when they report/).textContent).toContain('Q1ABC Q5RVR R-08')
  })

  it('takes a free text that can be sent, and explains one that cannot', () => {
    const { onSay } = show({})
    fireEvent.click(screen.getByRole('button', { name: 'Free text' }))
    const field = screen.getByLabelText('Free text')
    fireEvent.change(field, { target: { value: 'much too long for this' } })
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Send once' }).disabled).toBe(true)
    fireEvent.change(field, { target: { value: 'tnx river' } })
    fireEvent.click(screen.getByRole('button', { name: 'Send once' }))
    expect(onSay).toHaveBeenCalledWith('TNX RIVER')
  })

  it('warns of who came upon the own lane', () => {
    show({ exchange: answering }, { intruder: { call: 'Q9ZZZ', frequencyHz: 1510.4, slotIndex } })
    expect(screen.getByText(/Q9ZZZ sends in your slots at 1510 Hz/)).toBeTruthy()
  })
})

describe('stations in order', () => {
  let stations: StationsHeard = {}
  stations = hearSlot(stations, 90, [decode('CQ Q8OLD JO31')], 'Q5RVR')
  stations = hearSlot(
    stations,
    100,
    [
      decode('Q2BB Q1AA -05', -2),
      ...['CQ Q4CC JO31', 'Q2BB Q3DD RR73', 'Q5RVR Q9EE FN31', 'CQ Q4AB JN97', 'CQ Q4WK JO22'].map((t) => decode(t)),
    ],
    'Q5RVR',
  )
  const worked = { Q4WK: [{ call: 'Q4WK', band: '20m', mode: 'FT8', locator: 'JO22', name: 'Ada', startedUtcMs: noon }] }
  const broken = { otherCall: 'Q1AA', endedUtcMs: 90 * 15_000 } as Slices['ft8']['unfinished'][number]
  const views = viewStations(Object.values(stations), {
    slotNow: 101,
    ownLocator: 'JN97LK',
    band: '20m',
    worked,
    places: { locators: ['JO31', 'JO22'], entities: [] },
    unfinished: [broken],
  })
  it.each([
    ['now', ['Q9EE', 'Q1AA', 'Q4AB', 'Q4CC', 'Q3DD', 'Q4WK', 'Q8OLD']],
    ['farthest', ['Q9EE', 'Q4WK', 'Q4CC', 'Q8OLD', 'Q4AB', 'Q1AA', 'Q3DD']],
    ['strongest', ['Q1AA', 'Q3DD', 'Q4AB', 'Q4CC', 'Q4WK', 'Q9EE', 'Q8OLD']],
    ['newest', ['Q1AA', 'Q3DD', 'Q4AB', 'Q4CC', 'Q4WK', 'Q9EE', 'Q8OLD']],
    ['call', ['Q1AA', 'Q3DD', 'Q4AB', 'Q4CC', 'Q4WK', 'Q8OLD', 'Q9EE']],
  ] as [Order, string[]][])('%s', (order, calls) => expect(orderViews(views, order).map((v) => v.heard.call)).toEqual(calls))

  it.each([
    ['all', 7],
    ['workable', 5],
    ['forMe', 2],
    ['new', 2],
  ] as [Shown, number][])('%s shows %i', (shown, count) => expect(views.filter((v) => isShown(v, shown))).toHaveLength(count))

  it('leads the eye to one row: who calls us, else the first that can be answered', () => {
    const now = orderViews(views, 'now')
    expect(leadingCall(now)).toBe('Q9EE')
    expect(leadingCall(now.filter((v) => v.heard.call !== 'Q9EE'))).toBe('Q1AA')
    expect(leadingCall(now.filter((v) => !v.mine && !v.open))).toBe('Q4AB')
    expect(leadingCall(orderViews(views, 'call'))).toBe('Q9EE')
    expect(leadingCall(now.filter((v) => v.quiet || v.here))).toBeUndefined()
  })

  it('says new only of what is rare among those heard', () => {
    const at = (locators: string[]) =>
      viewStations(Object.values(stations), {
        ...{ slotNow: 101, ownLocator: 'JN97LK', band: '20m', worked, unfinished: [] },
        places: { locators, entities: [] },
      }).filter((v) => v.fresh === 'locator')
    expect(at(['JO31', 'JO22', 'JN97']).map((v) => v.heard.call)).toEqual(['Q9EE'])
    // After the first contact nearly everybody would be new.
    expect(at(['KN44'])).toEqual([])
  })

  it('puts who broke off first while it is heard, and behind those that call once it has faded out', () => {
    const at = (slotNow: number) => {
      const around = { ownLocator: 'JN97LK', band: '20m', worked, places: { locators: [], entities: [] } }
      const heard = hearSlot(stations, 106, [decode('CQ Q4CC JO31')], 'Q5RVR')
      const seen = orderViews(viewStations(Object.values(heard), { ...around, slotNow, unfinished: [broken] }), 'now')
      return seen.map((v) => v.heard.call)
    }
    expect(at(104).indexOf('Q1AA')).toBeLessThan(at(104).indexOf('Q4CC'))
    expect(at(106).indexOf('Q1AA')).toBeGreaterThan(at(106).indexOf('Q4CC'))
    // Nor is it tried again at once, while others call.
    expect(at(97).indexOf('Q1AA')).toBeGreaterThan(at(97).indexOf('Q4CC'))
  })

  it('no longer counts who has just been worked among those who want something', () => {
    const said = hearSlot({}, slotIndex + 4, [decode('Q5RVR Q4WK RR73')], 'Q5RVR')
    const around = {
      slotNow: slotIndex + 5,
      ownLocator: 'JN97LK',
      band: '20m',
      places: { locators: [], entities: [] },
    }
    const view = (log: Surroundings['worked']) => viewStations(Object.values(said), { ...around, worked: log, unfinished: [] })[0]!
    expect(view(worked)).toMatchObject({ mine: false })
    expect(isShown(view(worked), 'workable')).toBe(false)
    expect(view({})).toMatchObject({ mine: true })
  })

  it('takes five hundred of them', () => {
    const crowd = Array.from({ length: 500 }, (_, i) => ({ ...stations.Q4AB!, call: `Q${i % 10}A${i}` }))
    const around = {
      slotNow: 101,
      ownLocator: 'JN97LK',
      band: '20m',
      worked,
      places: { locators: [], entities: [] },
      unfinished: [],
    }
    expect(orderViews(viewStations(crowd, around), 'now')).toHaveLength(500)
  })
})
