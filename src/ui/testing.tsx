import { jest } from '@jest/globals'
import { fireEvent, render, screen } from '@testing-library/react'
import type { ReactNode } from 'react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createStore } from 'zustand/vanilla'
import { defaultSettings, emptyStation, type Settings, type Station } from '@/core/station'
import type { RunningStation } from '@/engine/station/station'
import { initialState, type StationState } from '@/engine/station/state'
import { LiveContext } from './live/StationProvider'

// What the tests of screens share: a station that only notes what it is told, and a server that answers as it is told.
export const noon = Date.UTC(2026, 5, 1, 12)
const station: Station = {
  ...emptyStation,
  call: 'Q5RVR',
  locator: 'JN97LK',
  licenceConfirmedUtcMs: noon,
  dialFrequencyHz: 14_074_000,
  powerW: 10,
}

export function show(what: ReactNode, { state = {}, profileState = 'ready' as 'ready' | 'loading' | 'problem' } = {}) {
  const store = createStore<StationState>(() => ({ ...initialState, holder: 'here', ...state }))
  const running = {
    store,
    clock: { nowUtcMs: () => noon + 3000, monotonicMs: () => 3000 },
    time: {
      byHand: jest.fn(),
      follow: jest.fn(),
      leaveOut: jest.fn(),
      read: jest.fn(),
      acceptFound: jest.fn(),
      blind: { cancel: jest.fn(), proposedUtcMs: (slots: number) => noon + slots * 15_000 },
    },
    levels: { restart: jest.fn((_sourceChanged: boolean) => store.setState({ audio: undefined })) },
    sendTest: jest.fn(async (_kind: string, _options: unknown): Promise<unknown> => ({ sent: false, why: 'No.', need: 'wait' })),
    whyNot: jest.fn((): { need: string } | undefined => undefined),
    passCheck: jest.fn(),
    silence: jest.fn(),
    setOutputDelayMs: jest.fn(),
    findSlots: jest.fn(),
    stopListening: jest.fn(),
    playRecording: jest.fn(),
    listenToMicrophone: jest.fn(async () => undefined),
  }
  const saveStation = jest.fn(async (_station: Station) => undefined)
  const saveSettings = jest.fn(async (_settings: Settings) => undefined)
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <LiveContext.Provider
        value={{
          station: running as unknown as RunningStation,
          profile: { station, settings: defaultSettings, demo: false },
          profileState,
          takeOver: () => undefined,
          silence: () => undefined,
          saveStation,
          saveSettings,
        }}
      >
        {what}
      </LiveContext.Provider>
    </QueryClientProvider>,
  )
  return { ...running, saveStation, saveSettings }
}

export const type = (label: string | RegExp, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } })
export const answer = (status: number, value: unknown) => ({ ok: status < 400, status, json: async () => value }) as Response
/** The simulated page has no network of its own. */
export function serve(respond: (url: string, init?: RequestInit) => Response) {
  const fetched = jest.fn(async (url: unknown, init?: RequestInit) => respond(String(url), init))
  globalThis.fetch = fetched as typeof fetch
  return fetched
}
