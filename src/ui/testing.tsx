import { jest } from '@jest/globals'
import { AppRouterContext } from 'next/dist/shared/lib/app-router-context.shared-runtime'
import { configure, fireEvent, render, screen } from '@testing-library/react'
import type { ReactNode } from 'react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createStore, type StoreApi } from 'zustand/vanilla'
import type { AudioReport } from '@/core/audio'
import { receiveTarget, withDose } from '@/core/levels'
import { defaultSettings, emptyStation, type Settings, type Station } from '@/core/station'
import type { Command } from '@/engine/port/commands'
import type { HeardAudio } from '@/engine/station/state'
import { initialSlices, type Done, type Slices, type StationPort } from '@/engine/port/stationPort'
import { LiveContext } from './live/StationProvider'

// What the tests of screens share: a station that only notes what it is told, and a server that answers as it is told.
export const noon = Date.UTC(2026, 5, 1, 12)
// A busy machine takes its time; what never comes still fails.
configure({ asyncUtilTimeout: 20_000 })
const station: Station = {
  ...emptyStation,
  call: 'Q5RVR',
  locator: 'JN97LK',
  licenceConfirmedUtcMs: noon,
  dialFrequencyHz: 14_074_000,
  powerW: 10,
}

/** State of all slices in one, as a test wants it. */
export type AnyState = Partial<Slices['station'] & Slices['ft8'] & Slices['psk31'] & Slices['packet']>

/** What the tests have a station do; each is told what was asked for. */
function createSpies(store: StoreApi<Slices['station']>) {
  return {
    time: { byHand: jest.fn(), follow: jest.fn(), leaveOut: jest.fn(), read: jest.fn(), acceptFound: jest.fn() },
    dropFound: jest.fn(),
    levels: { restart: jest.fn((_sourceChanged: boolean) => store.setState({ audio: undefined })) },
    sendTest: jest.fn(async (_kind: string, _options: unknown): Promise<unknown> => ({ sent: false, why: 'No.', need: 'wait' })),
    passCheck: jest.fn(),
    silence: jest.fn(),
    setOutputDelayMs: jest.fn(),
    findSlots: jest.fn(),
    stopListening: jest.fn(),
    playRecording: jest.fn(),
    listenToMicrophone: jest.fn(async () => undefined),
    stopExchange: jest.fn(),
    arrangeCallers: jest.fn(),
    /** All that was asked for, one after the other. */
    commands: [] as Command[],
    /** Answers of what is not named above. */
    answers: {} as Partial<Record<Command['type'], Done>>,
  }
}
type Spies = ReturnType<typeof createSpies>

async function obey(spies: Spies, command: Command): Promise<Done> {
  spies.commands.push(command)
  const { time } = spies
  switch (command.type) {
    case 'test': {
      const { kind, type: _, ...options } = command
      const result = (await spies.sendTest(kind, options)) as {
        sent: boolean
        why: string
        need: 'wait'
        complete: boolean
        heard: Float32Array
      }
      return result.sent ? { ok: true, complete: result.complete, heard: result.heard } : { ok: false, why: result.why, need: result.need }
    }
    case 'clock.byHand':
      time.byHand(command.byMs)
      break
    case 'clock.follow':
      time.follow(command.source)
      break
    case 'clock.leaveOut':
      time.leaveOut(command.source, command.leftOut)
      break
    case 'clock.reading':
      time.read(command.reading)
      break
    case 'ft8.acceptFound':
      time.acceptFound(command.slots)
      break
    case 'ft8.dropFound':
      spies.dropFound()
      break
    case 'ft8.findSlots':
      spies.findSlots()
      break
    case 'ft8.stop':
      spies.stopExchange()
      break
    case 'ft8.arrangeCallers':
      spies.arrangeCallers(command.calls)
      break
    case 'measureLevels':
      spies.levels.restart(false)
      break
    case 'checkPassed':
      spies.passCheck()
      break
    case 'silence':
      spies.silence(command.why)
      break
    case 'outputDelay':
      spies.setOutputDelayMs(command.delayMs)
      break
    case 'stopListening':
      spies.stopListening()
      break
    case 'play':
      spies.playRecording(command.recording, command.pace)
      break
    case 'listen':
      await spies.listenToMicrophone()
  }
  return spies.answers[command.type] ?? { ok: true }
}

const pick = <T extends object>(initial: T, state: AnyState): T =>
  ({ ...initial, ...Object.fromEntries(Object.entries(state).filter(([key]) => key in initial)) }) as T

export function show(
  what: ReactNode,
  { state = {} as AnyState, profileState = 'ready' as 'ready' | 'loading' | 'problem', own = {} as Partial<Station> } = {},
) {
  const store = createStore<Slices['station']>(() => ({ ...pick(initialSlices.station, state), holder: 'here' as const }))
  const ft8 = createStore<Slices['ft8']>(() => pick(initialSlices.ft8, state))
  const psk31 = createStore<Slices['psk31']>(() => pick(initialSlices.psk31, state))
  const packet = createStore<Slices['packet']>(() => pick(initialSlices.packet, state))
  const clock = { nowUtcMs: () => noon + 3000, monotonicMs: () => 3000 }
  const spies = createSpies(store)
  const running = {
    clock,
    slice: (name: keyof Slices) => ({ station: store, ft8, psk31, packet })[name],
    do: (command: Command) => obey(spies, command),
    picture: () => () => undefined,
  }
  const router = { push: jest.fn() }
  const saveStation = jest.fn(async (_station: Station) => undefined)
  const saveSettings = jest.fn(async (_settings: Settings) => undefined)
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <LiveContext.Provider
        value={{
          station: running as StationPort,
          profile: { station: { ...station, ...own }, settings: defaultSettings, demo: false },
          profileState,
          takeOver: () => undefined,
          silence: () => undefined,
          saveStation,
          saveSettings,
        }}
      >
        <AppRouterContext.Provider value={router as never}>{what}</AppRouterContext.Provider>
      </LiveContext.Provider>
    </QueryClientProvider>,
  )
  return { ...spies, router, store, ft8, psk31, clock, saveStation, saveSettings }
}

/** What the level coach says of a recording. */
export function heardAudio(report: AudioReport): HeardAudio {
  const target = receiveTarget(report)
  return { ...report, target, findings: withDose(report.findings, target), utcMs: noon }
}

export const type = (label: string | RegExp, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } })
export const answer = (status: number, value: unknown) => ({ ok: status < 400, status, json: async () => value }) as Response
/** The simulated page has no network of its own. */
export function serve(respond: (url: string, init?: RequestInit) => Response) {
  const fetched = jest.fn(async (url: unknown, init?: RequestInit) => respond(String(url), init))
  globalThis.fetch = fetched as typeof fetch
  return fetched
}
