/**
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals'
import { fireEvent, render, screen, within } from '@testing-library/react'
import type { ComponentProps } from 'react'
import { createStore } from 'zustand/vanilla'
import { heardAs, hearSlot, reduceExchange, type HeardStation } from '@/core/ft8'
import { defaultSettings, emptyStation } from '@/core/station'
import type { RunningStation } from '@/engine/station'
import { initialState, type StationState } from '@/engine/stationState'
import { LiveContext } from '../live/StationProvider'
import { ExchangePanel } from './ExchangePanel'
import { LevelBar } from '../connect/LevelBar'
import { orderStations } from './stationOrder'

const decode = (text: string, snrDb = -8) => heardAs(text, { snrDb })!

const noon = Date.UTC(2026, 5, 1, 12)
const manner = { ownCall: 'Q5RVR', ownLocator: 'JN97LK', finish: 'RR73' as const, maxTries: 6, maxCqTries: 6 }
const slotIndex = noon / 15_000
const answering = reduceExchange(
  { phase: 'idle' },
  { type: 'answer', manner, decode: decode('CQ Q1ABC JO31'), slotIndex, slotUtcMs: noon, audioOffsetHz: 1500 },
)[0]

function show(state: Partial<StationState>, over: Partial<ComponentProps<typeof ExchangePanel>> = {}) {
  const store = createStore<StationState>(() => ({ ...initialState, ...state }))
  const stopExchange = jest.fn()
  const station = { store, stopExchange } as unknown as RunningStation
  const calls = { onCallCq: jest.fn(), onChecked: jest.fn(), onNotNow: jest.fn(), onAnswer: jest.fn(), onParity: jest.fn() }
  render(
    <LiveContext.Provider
      value={{
        station,
        profile: { station: { ...emptyStation, call: 'Q5RVR', locator: 'JN97LK' }, settings: defaultSettings, demo: false },
        profileState: 'ready',
        takeOver: () => undefined,
        silence: () => undefined,
        saveStation: async () => undefined,
        saveSettings: async () => undefined,
      }}
    >
      <ExchangePanel now={noon + 16_000} parity="even" ownHz={1500} pending={undefined} practice={false} {...calls} {...over} />
    </LiveContext.Provider>,
  )
  return { ...calls, stopExchange }
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
    const { stopExchange } = show({ exchange: answering })
    expect(screen.getByRole('status').textContent).toBe('With Q1ABC, try 1 of 6')
    expect(screen.getByText(/^Next, in this slot, 1500 Hz/)).toBeTruthy()
    expect(screen.getByText('Q1ABC Q5RVR JN97')).toBeTruthy()
    const ladder = screen.getByRole('list', { name: 'Said and heard' })
    expect(within(ladder).getByText('CQ Q1ABC JO31')).toBeTruthy()
    expect(within(ladder).getByText('−8 dB')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Stop after this' }))
    expect(stopExchange).toHaveBeenCalledTimes(1)
  })

  it('names the time of a slot to come', () => {
    show({ exchange: answering }, { now: noon + 3000 })
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

  it('shows other callers, but lets them wait until the contact has ended', () => {
    const said = decode('Q5RVR Q7XYZ JN18')
    const [offering] = reduceExchange(answering, { type: 'heard', slotIndex, slotUtcMs: noon, decodes: [said] })
    show({ exchange: offering })
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Q7XYZ' }).disabled).toBe(true)
  })

  it('says why something was not sent', () => {
    show({ notice: { text: 'It is too late in this slot to begin.', utcMs: noon } })
    expect(screen.getByRole('alert').textContent).toMatch(/too late/)
  })
})

describe('orderStations', () => {
  it('puts first who answers me, then who calls anyone, then who will soon be free, and last who is gone', () => {
    let stations: ReadonlyMap<string, HeardStation> = new Map()
    stations = hearSlot(stations, 90, [decode('CQ Q8OLD JO31')], 'Q5RVR')
    stations = hearSlot(
      stations,
      100,
      ['Q2BB Q1AA -05', 'CQ Q4CC JO31', 'Q2BB Q3DD RR73', 'Q5RVR Q9EE JO31', 'CQ Q4AB JN97'].map((t) => decode(t)),
      'Q5RVR',
    )
    expect(orderStations(stations.values(), 101).map((s) => s.call)).toEqual(['Q9EE', 'Q4AB', 'Q4CC', 'Q3DD', 'Q1AA', 'Q8OLD'])
  })
})

describe('drawings', () => {
  it('the level bar tells its level to those who cannot see it', () => {
    render(<LevelBar level={{ rmsDbfs: -34.2, peakDbfs: -20, clippedSamples: 0, digitalSilence: false, durationS: 1 }} />)
    expect(screen.getByRole('meter').getAttribute('aria-valuetext')).toBe('−34 dBFS, peak −20 dBFS')
  })
})
