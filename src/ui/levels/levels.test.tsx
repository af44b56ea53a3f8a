/**
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals'
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { examineAudio } from '@/core/audio'
import { createBandFilter, whiteNoise } from '@/core/dsp'
import { emptySheet, HOLD_GOOD_MS } from '@/core/levels'
import type { HeardAudio } from '@/engine/station/state'
import { createFaultyReceiver, type FaultAmount } from '@/standins'
import { RadioScreen } from '../radio/RadioScreen'
import { answer, heardAudio, noon, serve, show } from '../testing'
import { LevelsScreen } from './LevelsScreen'

const RATE = 12_000
const good = createBandFilter(RATE, 200, 2900)(whiteNoise(11 * RATE, 0.004, 3)).subarray(RATE)
const hearing = (...faults: FaultAmount[]): HeardAudio =>
  heardAudio(examineAudio(createFaultyReceiver(faults, { rateHz: RATE, seed: 2, noiseRms: 0.004 }).push(good), RATE))
const listening = { source: { kind: 'microphone', label: 'Reed Box audio', warnings: [], pace: 1 } } as const

beforeEach(() => {
  Element.prototype.scrollIntoView = () => undefined
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  }
  serve((url) => answer(200, url.includes('history') || url.includes('profiles') || url.includes('sheets') ? [] : {}))
})

describe('LevelsScreen', () => {
  it('says what is wrong first, with evidence and what to do', async () => {
    show(<LevelsScreen />, { state: { ...listening, audio: hearing({ fault: 'narrow-filter', amount: 600 }) } })
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Narrow filter')
    expect(screen.getByText(/come through, \d+ Hz wide/)).toBeTruthy()
    expect(screen.getByText(/Set the radio’s filter to its widest/)).toBeTruthy()
    expect(screen.getByRole('meter').getAttribute('aria-valuetext')).toMatch(/good from/)
    await act(async () => undefined)
  })

  it('gives one dose, and in practice the knob and the cures stand there', async () => {
    const quiet = hearing({ fault: 'too-quiet', amount: 55 })
    const { commands } = show(<LevelsScreen />, {
      state: {
        source: { kind: 'practice', label: 'Practice band', warnings: [], pace: 1 },
        ...{ audio: quiet, practiceFaults: ['too-quiet', 'narrow-filter'], practiceVolumeDb: -2 },
      },
    })
    const said = document.body.textContent!.match(/by about \d+ dB/g)!
    expect(said.length).toBeGreaterThan(2)
    expect(new Set(said)).toEqual(new Set([`by about ${Math.round(quiet.target.moveDb)} dB`]))
    fireEvent.click(screen.getByRole('button', { name: 'Volume up by 3 dB' }))
    fireEvent.click(screen.getByRole('button', { name: 'Switch to the wide filter' }))
    expect(commands).toContainEqual({ type: 'practiceVolume', db: 1 })
    expect(commands).toContainEqual({ type: 'practiceFaults', faults: ['too-quiet'] })
    await act(async () => undefined)
  })

  it('a right volume beside a fault does not read as if all were good', async () => {
    show(<LevelsScreen />, { state: { ...listening, audio: hearing({ fault: 'narrow-filter', amount: 600 }) } })
    expect(screen.getByText('Volume right; what is wrong: narrow filter')).toBeTruthy()
    await act(async () => undefined)
  })

  it('without sound says so and asks for none of it', async () => {
    show(<LevelsScreen />)
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Nothing is listened to')
    expect(screen.getByRole('meter').getAttribute('aria-valuetext')).toBe('no sound')
    await act(async () => undefined)
  })

  it('guides to good, and remembers the knobs', async () => {
    const now = jest.spyOn(performance, 'now').mockReturnValue(0)
    const fetched = serve((_url, init) => answer(200, init?.method === 'PUT' ? JSON.parse(String(init.body)) : []))
    const { store } = show(<LevelsScreen />, { state: { ...listening, audio: hearing() } })
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Levels are good')
    fireEvent.click(screen.getByRole('button', { name: 'Guide me through it' }))
    act(() => store.setState({ audio: hearing() }))
    expect(screen.getByText(/Hands off/)).toBeTruthy()
    now.mockReturnValue(HOLD_GOOD_MS)
    act(() => store.setState({ audio: hearing() }))
    fireEvent.click(screen.getByRole('button', { name: 'Write down the knobs' }))
    now.mockRestore()
    fireEvent.change(screen.getByLabelText('Position 1'), { target: { value: 'nine o’clock' } })
    fireEvent.click(screen.getByRole('button', { name: 'Remember this as good' }))
    await waitFor(() => expect(screen.getByText('As it was when it was good.')).toBeTruthy())
    const sent = fetched.mock.calls.find(([, init]) => init?.method === 'PUT')!
    expect(JSON.parse(String(sent[1]!.body))).toMatchObject({
      deviceLabel: 'Reed Box audio',
      knobs: [
        { name: 'Radio volume', position: 'nine o’clock' },
        { name: 'Interface output', position: '' },
      ],
      figures: { findings: [] },
    })
    act(() => store.setState({ audio: hearing({ fault: 'hum-50', amount: 6 }) }))
    await waitFor(() => expect(screen.getByText(/differs? from when it was good/)).toBeTruthy())
  })

  it('measures the antenna in two steps', async () => {
    const { store, levels } = show(<LevelsScreen />, { state: { ...listening, audio: hearing() } })
    fireEvent.click(screen.getByRole('button', { name: 'Antenna is off: listen' }))
    expect(levels.restart).toHaveBeenCalledWith(false)
    const quiet = heardAudio(examineAudio([good.map((v) => v / 10)], RATE))
    act(() => store.setState({ audio: quiet }))
    fireEvent.click(screen.getByRole('button', { name: 'Antenna is on: listen' }))
    act(() => store.setState({ audio: hearing() }))
    expect(screen.getByText(/The band rises (19|20)\.\d dB over the system’s own noise: good/)).toBeTruthy()
    await act(async () => undefined)
  })

  it('asks for the check before a test is sent, and says why one is refused', async () => {
    const { store, passCheck, sendTest } = show(<LevelsScreen />, { state: { ...listening, audio: hearing() } })
    act(() => store.setState({ refusal: { why: 'Check first.', need: 'firstCheck' } }))
    fireEvent.click(screen.getByRole('tab', { name: 'Transmit' }))
    fireEvent.click(screen.getByRole('button', { name: 'One tone, 4 s' }))
    expect(sendTest).not.toHaveBeenCalled()
    fireEvent.click(screen.getByLabelText(/An antenna or dummy load/))
    fireEvent.click(screen.getByLabelText(/Hands and people are clear/))
    // Nobody reads a meter on this band: the operator must have looked.
    fireEvent.click(screen.getByRole('button', { name: 'Checked. Send the test' }))
    expect(passCheck).not.toHaveBeenCalled()
    fireEvent.click(screen.getByLabelText(/The SWR on 20m was looked at/))
    fireEvent.click(screen.getByRole('button', { name: 'Checked. Send the test' }))
    expect(passCheck).toHaveBeenCalled()
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('No.'))
    expect(sendTest).toHaveBeenCalledWith('tone', { amplitude: 0.5, durationS: 4 })
    act(() => store.setState({ refusal: undefined }))
    sendTest.mockResolvedValue({ sent: true, complete: true, heard: new Float32Array(60_000) })
    fireEvent.click(screen.getByRole('button', { name: 'One tone, 4 s' }))
    await waitFor(() => expect(screen.getByText(/It was not heard back/)).toBeTruthy(), { timeout: 5000 })
  })
})

it('a ramp is stopped by eye: the level is a step below where the meter moved', async () => {
  const { store, sendTest, silence } = show(<LevelsScreen />, { state: { ...listening, audio: hearing() } })
  fireEvent.click(screen.getByRole('tab', { name: 'Transmit' }))
  let ended: (value: unknown) => void = () => undefined
  sendTest.mockReturnValue(new Promise((done) => (ended = done)))
  fireEvent.click(screen.getByRole('button', { name: 'Ramp, 8 s' }))
  // The station's clock stands 3 s after noon, so the ramp is at its half.
  act(() =>
    store.setState({ onAir: { mode: 'ft8', text: 'Test tone, rising', open: false, startUtcMs: noon - 1000, endUtcMs: noon + 7000 } }),
  )
  fireEvent.click(screen.getByRole('button', { name: 'The meter moves: stop' }))
  expect(silence).toHaveBeenCalled()
  await act(async () => ended({ sent: true, complete: false, heard: new Float32Array(0) }))
  expect(screen.getByText(/moved at 18 % of full scale. Use 13 %, 3 dB below/)).toBeTruthy()
})

describe('RadioScreen', () => {
  it('begins a sheet with what the mode needs, ticks it, and turns it round', async () => {
    const stored: unknown[] = []
    serve((_url, init) => {
      if (init?.method !== 'POST') return answer(200, stored)
      const { sheets } = JSON.parse(String(init.body)) as { sheets: unknown[] }
      stored.splice(0, stored.length, ...sheets)
      return answer(200, { taken: 1, older: 0 })
    })
    show(<RadioScreen />)
    await waitFor(() => expect(screen.getByText(/No sheet yet/)).toBeTruthy())
    fireEvent.change(screen.getByLabelText('Radio'), { target: { value: 'Heron 20' } })
    fireEvent.click(screen.getByRole('button', { name: 'Begin a sheet' }))
    await waitFor(() => expect(screen.getByRole('heading', { name: 'Heron 20 in FT8' })).toBeTruthy())
    fireEvent.click(screen.getByRole('checkbox', { name: /^AGC/ }))
    await waitFor(() => expect(screen.getByText('1 of 8 done')).toBeTruthy())
    fireEvent.click(screen.getByRole('button', { name: 'What to put back for voice' }))
    await waitFor(() => expect(screen.getByText('0 of 8 done')).toBeTruthy())
    expect(screen.getByRole('checkbox', { name: /AGC Slow/ })).toBeTruthy()
  })

  it('refuses a file that is no sheet, with the place of what is wrong', async () => {
    serve(() => answer(200, []))
    show(<RadioScreen />)
    await waitFor(() => expect(screen.getByText(/No sheet yet/)).toBeTruthy())
    const sheets = [{ ...emptySheet('3f0c1d1e-0000-4000-8000-000000000000', 'Heron 20', 'FT8', 1), mode: 'semaphore' }]
    const text = JSON.stringify({ kind: 'zeptik radio sheets', version: 1, sheets })
    const file = Object.assign(new File([text], 'mine.json'), { text: async () => text })
    fireEvent.change(screen.getByLabelText('Sheets to import'), { target: { files: [file] } })
    await waitFor(() => expect(screen.getByText(/mine.json, sheets.0.mode: .* Nothing was taken/)).toBeTruthy())
  })
})
