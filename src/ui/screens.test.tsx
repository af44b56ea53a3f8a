/**
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals'
import { act, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import type { ReactNode } from 'react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createStore } from 'zustand/vanilla'
import { emptyContact, type Contact } from '@/core/log'
import { defaultSettings, emptyStation, type Settings, type Station } from '@/core/station'
import { correctTimebase, startTimebase } from '@/core/time'
import type { RunningStation } from '@/engine/station'
import { initialState, type StationState } from '@/engine/stationState'
import { LiveContext } from './live/StationProvider'
import { ClockScreen } from './clock/ClockScreen'
import { ConnectScreen } from './connect/ConnectScreen'
import { ContactEditor } from './log/ContactEditor'
import { ImportPanel } from './log/ImportPanel'
import { SettingsScreen } from './settings/SettingsScreen'
import { StationScreen } from './station/StationScreen'

const noon = Date.UTC(2026, 5, 1, 12)
const station: Station = {
  ...emptyStation,
  call: 'Q5RVR',
  locator: 'JN97LK',
  licenceConfirmedUtcMs: noon,
  dialFrequencyHz: 14_074_000,
  powerW: 10,
}

function show(what: ReactNode, { state = {}, profileState = 'ready' as 'ready' | 'loading' | 'problem' } = {}) {
  const store = createStore<StationState>(() => ({ ...initialState, holder: 'here', ...state }))
  const running = {
    store,
    clock: { nowUtcMs: () => noon + 3000 },
    correctClock: jest.fn(),
    useBandClock: jest.fn(),
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

const type = (label: string | RegExp, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } })
const answer = (status: number, value: unknown) => ({ ok: status < 400, status, json: async () => value }) as Response
/** The simulated page has no network of its own. */
function serve(respond: (url: string, init?: RequestInit) => Response) {
  const fetched = jest.fn(async (url: unknown, init?: RequestInit) => respond(String(url), init))
  globalThis.fetch = fetched as typeof fetch
  return fetched
}

describe('StationScreen', () => {
  it('saves what was filled in, in capitals where they belong', async () => {
    const { saveStation } = show(<StationScreen />)
    type('Own call', 'q7abc/p')
    type('Locator', 'jo31')
    type('Power in W', '7,5')
    type('VOX lead-in in ms', '250')
    fireEvent.click(screen.getByRole('button', { name: 'Save the station' }))
    await waitFor(() => expect(screen.getByText('Saved.')).toBeTruthy())
    expect(saveStation.mock.calls[0]![0]).toMatchObject({
      call: 'Q7ABC/P',
      locator: 'JO31',
      powerW: 7.5,
      voxLeadInMs: 250,
      dialFrequencyHz: 14_074_000,
    })
  })

  it('marks each wrong field and saves nothing', async () => {
    const { saveStation } = show(<StationScreen />)
    type('Own call', 'ROWAN')
    type('Locator', 'ZZ99')
    type('Power in W', 'lots')
    type('Tries for one step', '0')
    fireEvent.click(screen.getByRole('button', { name: 'Save the station' }))
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/Not saved/))
    for (const why of [/at least one of each/, /such as JN97LK/, /number of watts/]) expect(screen.getByText(why)).toBeTruthy()
    expect(screen.getByLabelText('Tries for one step').getAttribute('aria-invalid')).toBe('true')
    expect(saveStation).not.toHaveBeenCalled()
  })

  it('takes the licence back when its tick is removed', async () => {
    const { saveStation } = show(<StationScreen />)
    fireEvent.click(screen.getByLabelText(/Licence confirmed on 2026-06-01/))
    fireEvent.click(screen.getByRole('button', { name: 'Save the station' }))
    await waitFor(() => expect(saveStation.mock.calls[0]![0].licenceConfirmedUtcMs).toBeNull())
  })

  it('says that saving failed', async () => {
    const { saveStation } = show(<StationScreen />)
    saveStation.mockRejectedValue(new Error('The server does not answer: not saved.'))
    fireEvent.click(screen.getByRole('button', { name: 'Save the station' }))
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/not saved/))
  })

  it('waits for the server, and says when there is none', () => {
    show(<StationScreen />, { profileState: 'problem' })
    expect(screen.getByText(/Start Zeptik, then reload/)).toBeTruthy()
  })
})

describe('SettingsScreen', () => {
  it('says when a change could not be kept', async () => {
    const { saveSettings } = show(<SettingsScreen />)
    saveSettings.mockRejectedValue(new Error('The server does not answer.'))
    fireEvent.mouseDown(screen.getByLabelText('Distances'))
    fireEvent.click(screen.getByRole('option', { name: 'Miles' }))
    expect(saveSettings).toHaveBeenCalledWith({ theme: 'day', distanceUnit: 'mi' })
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/does not answer/))
  })
})

describe('ClockScreen', () => {
  const computer = startTimebase(noon, 0)
  const bandClock = { offsetMs: 800, uncertaintyMs: 90, stations: 7, outliers: ['Q9ZZ'], utcMs: noon }

  it('says what is not known', () => {
    show(<ClockScreen />, { state: { timebase: computer } })
    expect(screen.getByRole('heading', { level: 1 }).textContent).toMatch(/nobody knows yet/)
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Use the band' }).disabled).toBe(true)
  })

  it('says how far off it is by the band, who is off by himself, and corrects only when told', () => {
    const { useBandClock } = show(<ClockScreen />, { state: { timebase: computer, bandClock } })
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('0.80 s fast, ±0.09 s, say 7 stations.')
    expect(screen.getByText(/Off by themselves: Q9ZZ/)).toBeTruthy()
    expect(useBandClock).not.toHaveBeenCalled()
    fireEvent.click(screen.getByRole('button', { name: 'Use the band' }))
    expect(useBandClock).toHaveBeenCalledTimes(1)
  })

  it('says how long it stays good', () => {
    const set = correctTimebase(computer, { byMs: 0, source: 'band', uncertaintyMs: 90 }, 0)
    show(<ClockScreen />, { state: { timebase: set } })
    expect(screen.getByRole('heading', { level: 1 }).textContent).toMatch(/^Within 0\.09 s, good to half a second until \d\d:\d\d\.$/)
  })

  it('is moved by hand, with a comma or a real minus too, and not by words', () => {
    const { correctClock } = show(<ClockScreen />, { state: { timebase: computer } })
    fireEvent.click(screen.getByRole('button', { name: '−0.1 s' }))
    type('Move by seconds', '−1,25')
    fireEvent.click(screen.getByRole('button', { name: 'Move' }))
    expect(correctClock.mock.calls).toEqual([[-100], [-1250]])
    type('Move by seconds', 'a bit')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Move' }).disabled).toBe(true)
  })

  it('leaves a simulated clock alone', () => {
    show(<ClockScreen />, { state: { timebase: { ...computer, source: 'practice' }, bandClock } })
    expect(screen.getByText(/your clock is untouched/)).toBeTruthy()
    for (const name of ['Use the band', '+1.0 s']) expect(screen.getByRole<HTMLButtonElement>('button', { name }).disabled).toBe(true)
  })
})

describe('ConnectScreen', () => {
  /** The list of devices arrives a moment later. */
  const listed = () => act(async () => undefined)

  it('shows what is heard, how loud, and what the browser did otherwise', async () => {
    const { stopListening } = show(<ConnectScreen />, {
      state: {
        source: { kind: 'microphone', label: 'Reed Box', warnings: ['The browser keeps automatic gain on.'], pace: 1 },
        level: { rmsDbfs: -34, peakDbfs: -1, clippedSamples: 0, digitalSilence: false, durationS: 1, utcMs: noon },
      },
    })
    await listed()
    expect(screen.getByRole('heading', { name: 'Hearing: Reed Box' })).toBeTruthy()
    expect(screen.getByText(/keeps automatic gain on/)).toBeTruthy()
    expect(screen.getByText(/too little headroom/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Stop listening' }))
    expect(stopListening).toHaveBeenCalledTimes(1)
  })

  it('explains why nothing is heard', async () => {
    show(<ConnectScreen />, { state: { source: { kind: 'none', problem: 'No audio input was found.' } } })
    await listed()
    expect(screen.getByRole('alert').textContent).toBe('No audio input was found.')
  })
})

const contact: Contact = {
  ...emptyContact({
    id: '00000000-0000-4000-8000-000000000001',
    call: 'Q1ABC',
    mode: 'FT8',
    startedUtcMs: noon,
    endedUtcMs: noon,
    origin: 'air',
  }),
  band: '20m',
  dialFrequencyHz: 14_074_000,
  evidence: [{ utcMs: noon, direction: 'heard', text: 'CQ Q1ABC JO31', snrDb: -8 }],
}

describe('ContactEditor', () => {
  const callbacks = () => ({ onSaved: jest.fn(), onRemoved: jest.fn(), onClose: jest.fn() })

  it('sends only what was changed, and takes the band from a new dial frequency', async () => {
    const fetched = serve((_url, init) =>
      init?.method === 'PATCH' ? answer(200, { ...contact, revision: 2, band: '40m' }) : answer(200, { contact, history: [] }),
    )
    const c = callbacks()
    show(<ContactEditor contact={contact} {...c} />)
    type('Locator', 'jo31')
    type('Dial frequency in kHz', '7074')
    fireEvent.click(screen.getByRole('button', { name: 'Save changes' }))
    await waitFor(() => expect(c.onSaved).toHaveBeenCalled())
    const patch = fetched.mock.calls.find(([, init]) => init?.method === 'PATCH')![1]!
    expect(JSON.parse(String(patch.body))).toEqual({ revision: 1, change: { locator: 'JO31', dialFrequencyHz: 7_074_000, band: '40m' } })
  })

  it('shows evidence and earlier forms, and what went wrong', async () => {
    const before = { ...contact, locator: 'KN44' }
    serve((_url, init) =>
      init?.method === 'PATCH'
        ? answer(409, { error: 'This contact was changed elsewhere meanwhile.' })
        : answer(200, { contact, history: [{ record: before, replacedUtcMs: noon }] }),
    )
    show(<ContactEditor contact={contact} {...callbacks()} />)
    expect(screen.getByText('CQ Q1ABC JO31')).toBeTruthy()
    await waitFor(() => expect(screen.getByText(/locator was KN44/)).toBeTruthy())
    type('Name', 'Tilde')
    fireEvent.click(screen.getByRole('button', { name: 'Save changes' }))
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/changed elsewhere/))
    type('Own power in W', 'much')
    fireEvent.click(screen.getByRole('button', { name: 'Save changes' }))
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/"much" is no number/))
  })

  it('deletes', async () => {
    serve((_url, init) =>
      init?.method === 'DELETE' ? answer(200, { ...contact, revision: 2, deletedUtcMs: noon }) : answer(200, { contact, history: [] }),
    )
    const c = callbacks()
    show(<ContactEditor contact={contact} {...c} />)
    fireEvent.click(screen.getByRole('button', { name: 'Delete' }))
    await waitFor(() => expect(c.onRemoved).toHaveBeenCalledWith(expect.objectContaining({ revision: 2 })))
  })
})

describe('ImportPanel', () => {
  const preview = {
    recordsRead: 3,
    ready: 1,
    alreadyThere: 1,
    stored: 0,
    problems: [{ line: 7, field: 'QSO_DATE', what: 'date and time cannot be read' }],
  }
  const file = new File(['<EOH>'], 'field.adi')

  it('shows what a file would add before it stores anything', async () => {
    const fetched = serve((url) => answer(200, url.includes('confirm') ? { ...preview, stored: 1 } : preview))
    const onDone = jest.fn()
    show(<ImportPanel file={file} onDone={onDone} onClose={() => undefined} />)
    await waitFor(() => expect(screen.getByText(/3 records read: 1 new, 1 already in the log, 1 with a problem/)).toBeTruthy())
    expect(within(screen.getByRole('list')).getByText(/line 7/)).toBeTruthy()
    expect(fetched).toHaveBeenCalledTimes(1)
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Store 1 contacts' })))
    await waitFor(() => expect(screen.getByText('1 contacts were stored.')).toBeTruthy())
    expect(onDone).toHaveBeenCalledTimes(1)
  })

  it('says that nothing was imported when the server fails', async () => {
    serve(() => answer(507, { error: 'The disk of the server is full.' }))
    show(<ImportPanel file={file} onDone={() => undefined} onClose={() => undefined} />)
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('The disk of the server is full. Nothing was imported.'))
  })
})
