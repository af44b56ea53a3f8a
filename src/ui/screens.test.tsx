/**
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { examineAudio } from '@/core/audio'
import { whiteNoise } from '@/core/dsp'
import { heardAs } from '@/core/ft8'
import { emptyContact, type Contact } from '@/core/log'
import { frameSentence } from '@/core/nmea'
import { createClockState, reduceClock, type ClockEvent, type ClockReading, type ClockState } from '@/core/time'
import { ClockScreen } from './clock/ClockScreen'
import { ConnectScreen } from './connect/ConnectScreen'
import { ContactEditor } from './log/ContactEditor'
import { ImportPanel } from './log/ImportPanel'
import { SettingsScreen } from './settings/SettingsScreen'
import { StationScreen } from './station/StationScreen'
import { answer, heardAudio, noon, serve, show, type, type AnyState } from './testing'

// What was typed and not saved is kept in the browser: not from one test to the next.
beforeEach(() => localStorage.clear())

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

  it('keeps what was typed and not saved, says so on coming back, and drops it when told', async () => {
    show(<StationScreen />)
    type('Locator', 'jo31')
    expect(screen.getByText('Not saved yet.')).toBeTruthy()
    cleanup()
    show(<StationScreen />)
    expect(screen.getByLabelText<HTMLInputElement>('Locator').value).toBe('JO31')
    expect(screen.getByText('From before: not saved yet.')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Discard changes' }))
    expect(screen.getByLabelText<HTMLInputElement>('Locator').value).toBe('JN97LK')
    cleanup()
    const { saveStation } = show(<StationScreen />)
    expect(screen.getByLabelText<HTMLInputElement>('Locator').value).toBe('JN97LK')
    type('Locator', 'kn44')
    fireEvent.click(screen.getByRole('button', { name: 'Save the station' }))
    await waitFor(() => expect(screen.getByText('Saved.')).toBeTruthy())
    expect(saveStation.mock.calls[0]![0]).toMatchObject({ locator: 'KN44' })
    expect(localStorage.getItem('zeptik.draft.station')).toBe('{}')
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
    expect(saveSettings).toHaveBeenCalledWith({ theme: 'day', distanceUnit: 'mi', modes: ['ft8', 'psk31'] })
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/does not answer/))
  })

  it('finds a setting by other words than its own, and goes to its screen', () => {
    const { router } = show(<SettingsScreen />)
    type('Find a setting', 'kiss')
    fireEvent.click(screen.getByRole('option', { name: 'Key-up, ms TNC' }))
    expect(router.push).toHaveBeenCalledWith('/connect/tnc')
  })
})

describe('ClockScreen', () => {
  const computer = createClockState(noon, 0, 15_000)
  const bandClock = { offsetMs: 800, uncertaintyMs: 90, spreadMs: 120, stations: 7, outliers: ['Q9ZZ'], utcMs: noon }
  const heard = ['Q1AB', 'Q2CD', 'Q9ZZ'].map((call, i) => heardAs(`CQ ${call} JO31`, { timeOffsetS: i === 2 ? -1.5 : 0.8 })!)
  const slots = [{ slotIndex: noon / 15_000, decodes: heard, decodeMs: 1, missingMs: 0, cutShort: false, transmitted: false }]
  const reading = (source: string, kind: ClockReading['kind'], errorMs: number, over: Partial<ClockReading> = {}): ClockEvent => ({
    type: 'reading',
    reading: {
      source,
      kind,
      label: source,
      monotonicMs: 1000,
      utcMs: noon + 1000 + errorMs,
      randomMs: 5,
      biasMs: 60,
      windowMs: 0,
      ...over,
    },
  })
  const after = (...events: ClockEvent[]): ClockState =>
    [...events, { type: 'tick', monotonicMs: 2000, wallUtcMs: noon + 2000, occupancy: 'free' } as const].reduce(
      (s, e) => reduceClock(s, e)[0],
      computer,
    )
  const withState = (clockState: ClockState, more: AnyState = {}) => ({
    state: { clockState, timebase: clockState.timebase, ...more },
  })
  const heading = () => screen.getByRole('heading', { level: 1 }).textContent
  const way = (name: string) => fireEvent.click(screen.getByRole('tab', { name }))
  const config = {
    udp: { enabled: false, reach: 'thisComputer', port: 10_110, receiverDelayMs: null },
    tcp: { enabled: false, reach: 'thisComputer', port: 10_110, receiverDelayMs: null },
    serial: { enabled: false, path: '', serialBaud: null, receiverDelayMs: null },
    network: { hosts: ['time.example.net'], automatic: false },
  }
  let puts: unknown[] = []
  beforeEach(() => {
    puts = []
    serve((url, init) => {
      if (init?.method === 'PUT') puts.push(JSON.parse(String(init.body)))
      if (url.endsWith('/sync')) return answer(409, { error: 'No time server is set: enter one first.' })
      if (url.endsWith('/config')) return answer(200, init?.method === 'PUT' ? JSON.parse(String(init.body)) : config)
      return answer(200, [])
    })
  })

  it('says what is not known', () => {
    show(<ClockScreen />, withState(computer))
    expect(heading()).toMatch(/nobody knows yet/)
    expect(screen.getByText(/No source has said anything yet/)).toBeTruthy()
  })

  it('says how far off it is by the band, who is off by himself, and follows only when told', () => {
    const { time } = show(<ClockScreen />, withState(after(reading('band', 'band', -800)), { bandClock, slots }))
    expect(heading()).toBe('0.80 s fast, ±0.09 s, say 7 stations.')
    expect(screen.getByText(/It is you: the middle of 7 stations.*Off by themselves: Q9ZZ/)).toBeTruthy()
    expect(screen.getByRole('img', { name: /Time errors of 3 stations, their middle at \+0\.80 seconds/ })).toBeTruthy()
    expect(time.follow).not.toHaveBeenCalled()
    fireEvent.click(screen.getByRole('button', { name: 'Use: band' }))
    expect(time.follow).toHaveBeenCalledWith('band')
  })

  it('says how long it stays good', () => {
    const state = after(reading('gps:serial', 'gps', 0))
    show(<ClockScreen />, withState(state))
    expect(heading()).toMatch(/^On time, ±0\.06 s, good until \d\d:\d\d\.$/)
    expect(screen.getByRole('group', { name: 'Good until' }).textContent).toMatch(
      /^Good until, UTCwithin 0\.2 swithin 0\.5 swithin 1 s\d\d:\d\d\d\d:\d\d\d\d:\d\d/,
    )
    expect(screen.getByText('Used')).toBeTruthy()
  })

  it('shows who contradicts, and lets the operator choose and leave out', () => {
    const first = after(reading('gps:serial', 'gps', 0))
    const state = [
      reading('network:time.example.net', 'network', 3000),
      { type: 'tick', monotonicMs: 2500, wallUtcMs: noon + 2500, occupancy: 'free' } as const,
    ].reduce((s, e) => reduceClock(s, e)[0], first)
    const { time } = show(<ClockScreen />, withState(state))
    expect(heading()).toMatch(/contradict each other/)
    expect(screen.getByText('Disagrees')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Ignore: network:time.example.net' }))
    expect(time.leaveOut).toHaveBeenCalledWith('network:time.example.net', true)
    fireEvent.click(screen.getByRole('button', { name: 'Use: network:time.example.net' }))
    expect(time.follow).toHaveBeenCalledWith('network:time.example.net')
  })

  it('says why a doubtful source is not followed', () => {
    show(<ClockScreen />, withState(after(reading('gps:serial', 'gps', 0, { doubt: 'only 3 satellites are used' }))))
    expect(screen.getByText(/Not followed by itself: only 3 satellites/)).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Use anyway: gps:serial' }).textContent).toBe('Use anyway')
  })

  it('is moved by hand, with a comma or a real minus too, and not by words', () => {
    const { time } = show(<ClockScreen />, withState(computer))
    way('By hand')
    fireEvent.click(screen.getByRole('button', { name: '−0.1 s' }))
    type('Move by seconds', '−1,25')
    fireEvent.click(screen.getByRole('button', { name: 'Move' }))
    type('Or say what time it is, in UTC', '2026-06-01 13:00:03')
    fireEvent.click(screen.getByRole('button', { name: 'It is now' }))
    expect(time.byHand.mock.calls).toEqual([[-100], [-1250], [3_600_000]])
    type('Move by seconds', 'a bit')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Move' }).disabled).toBe(true)
    type('Or say what time it is, in UTC', 'noon')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'It is now' }).disabled).toBe(true)
  })

  it('leaves a simulated clock alone', () => {
    const timebase = { ...computer.timebase, source: 'practice' as const }
    show(<ClockScreen />, withState({ ...computer, timebase }, { bandClock, clockSimulated: true }))
    expect(heading()).toMatch(/your clock is untouched/)
    way('By hand')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: '+1 s' }).disabled).toBe(true)
    way('A watch')
    expect(screen.getByText(/nothing to compare a watch with/)).toBeTruthy()
  })

  it('looks for slots, shows progress, and sets what is confirmed', () => {
    const source = { kind: 'microphone' as const, label: 'Test', warnings: [], pace: 1 }
    const first = show(<ClockScreen />, withState(computer, { source }))
    way('The band, by ear')
    fireEvent.click(screen.getByRole('button', { name: 'Find the slots by ear' }))
    expect(first.findSlots).toHaveBeenCalled()
    act(() => first.ft8.setState({ blind: { phase: 'gathering', haveS: 9, needS: 45 } }))
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('20')
    fireEvent.click(screen.getByRole('button', { name: 'Stop the search' }))
    expect(first.dropFound).toHaveBeenCalled()
    act(() => first.ft8.setState({ blind: { phase: 'notFound', why: 'no message was decoded' } }))
    expect(screen.getByText('Not found: no message was decoded.')).toBeTruthy()
    act(() =>
      first.ft8.setState({
        blind: { phase: 'found', stations: 6, uncertaintyMs: 90, clockErrorMs: -4300, slotMonotonicMs: 3000, slotUtcMs: noon },
      }),
    )
    expect(screen.getByText(/Found from 6 stations, ±0\.09 s.*this clock is 4\.30 s slow/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: '+1 min' }))
    fireEvent.click(screen.getByRole('button', { name: '−15 s' }))
    expect(screen.getByText('2026-06-01 12:00:45')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'That is the time' }))
    expect(first.time.acceptFound).toHaveBeenCalledWith(3)
  })

  it('takes taps on a watch', () => {
    const { clock, time } = show(<ClockScreen />, withState(computer))
    way('A watch')
    const tap = screen.getByRole('button', { name: 'Tap here' })
    expect(screen.getByText('No taps yet.')).toBeTruthy()
    // The watch ticks 0.3 s after this clock's whole seconds.
    for (let s = 0; s < 5; s++) {
      clock.monotonicMs = () => 10_300 + s * 1000
      clock.nowUtcMs = () => noon + 10_300 + s * 1000
      fireEvent.pointerDown(tap)
    }
    // A usual delay of 60 ms is taken off.
    expect(screen.getByText('0.24 s fast')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Take the watch’s time' }))
    expect(time.read).toHaveBeenCalledWith(
      expect.objectContaining({ source: 'watch', kind: 'watch', utcMs: noon + 14_060, monotonicMs: 14_300 }),
    )
    fireEvent.click(screen.getByRole('button', { name: 'Measure my delay' }))
    expect(screen.getByText(/0 of 10 taps/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Back to the watch' }))
  })

  it('asks time servers, and takes only what can be a name', async () => {
    show(<ClockScreen />, withState(computer))
    way('Time server')
    await waitFor(() => expect(screen.getByText('time.example.net')).toBeTruthy())
    expect(screen.getByText(/A radio’s own network has no internet/)).toBeTruthy()
    type('Name or address', 'not a host')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add' }).disabled).toBe(true)
    type('Name or address', '10.0.0.9:1123')
    fireEvent.click(screen.getByRole('button', { name: 'Add' }))
    await waitFor(() => expect(puts[0]).toMatchObject({ network: { hosts: ['time.example.net', '10.0.0.9:1123'] } }))
    fireEvent.click(screen.getByRole('button', { name: 'Sync now' }))
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/No time server is set/))
  })

  it('turns the server’s receivers on, and shows what each says', async () => {
    const gps = {
      ...{
        accepted: 90,
        rejected: 3,
        badChecksums: 2,
        lastSentenceMs: 1,
        lastBytesMs: 1,
        talkers: ['GP'],
        utcMs: noon,
        fix: true,
        satellitesUsed: 3,
      },
      satellites: [{ id: 5, talker: 'GP', elevationDeg: 40, azimuthDeg: 120, snrDbHz: 41, used: true }],
      ...{
        position: { latitudeDeg: 47.4396, longitudeDeg: 18.9542, altitudeM: 104 },
        locator: 'JN97LK45',
        trusted: false,
        jitterMs: 12,
        latestReason: null,
        sendsNoChecksums: false,
      },
      ...{ doubt: 'only 3 satellites are used: four or more make the time sure', remarks: ['Its date is corrected.'] },
    }
    const link = { detail: 'UDP port 10110.', serialBaud: null, receivers: [], droppedBytes: 0 }
    const serverClock = {
      monotonicMs: 1,
      links: [
        { ...link, link: 'serial' as const, state: 'off' as const },
        {
          ...link,
          link: 'udp' as const,
          state: 'hearing' as const,
          receivers: [{ source: 'gps:udp:10.0.0.7', label: 'Receiver at 10.0.0.7', gps }],
        },
        { ...link, link: 'tcp' as const, state: 'problem' as const, detail: 'TCP port 10110 is taken by another program.' },
      ],
      network: { asking: false, hosts: [] },
      readings: [],
      standins: { gps: null, time: null },
    }
    const { saveStation } = show(<ClockScreen />, withState(computer, { serverClock }))
    await waitFor(() => expect(screen.getByRole('button', { name: 'Open it: NMEA over UDP' })).toBeTruthy())
    const card = screen.getByRole('region', { name: 'Receiver at 10.0.0.7' })
    expect(within(card).getByText(/Doubtful: only 3 satellites/)).toBeTruthy()
    // Nothing is made of it, and it stands among the sources all the same.
    const row = screen.getAllByRole('listitem').find((item) => item.textContent!.includes('Receiver at 10.0.0.7'))!
    expect(row.textContent).toMatch(/Doubtful.*only 3 satellites are used/)
    expect(within(card).getByRole('img', { name: '1 satellite seen, 1 of them used' })).toBeTruthy()
    expect(within(card).getByText('Its date is corrected.')).toBeTruthy()
    expect(screen.getByRole('alert').textContent).toMatch(/is taken by another program/)
    fireEvent.click(within(card).getByRole('button', { name: /Use JN97LK45/ }))
    await waitFor(() => expect(saveStation.mock.calls[0]![0].locator).toBe('JN97LK45'))
    fireEvent.click(screen.getByRole('button', { name: 'Open it: NMEA over UDP' }))
    await waitFor(() => expect(puts[0]).toMatchObject({ udp: { enabled: true, port: 10_110 } }))
  })

  it('reads a recorded receiver, and refuses what is none', async () => {
    show(<ClockScreen />, withState(computer))
    const file = (text: string) => ({
      name: 'walk.nmea',
      size: text.length,
      arrayBuffer: async () => Uint8Array.from(text, (c) => c.charCodeAt(0)).buffer,
    })
    const input = screen.getByLabelText('Receiver recording to open')
    fireEvent.change(input, { target: { files: [file('dear operator')] } })
    await waitFor(() => expect(screen.getByText(/holds no sentence of a receiver/)).toBeTruthy())
    const body = 'GPGGA,120001,4726.3750,N,01857.2500,E,1,08,1.0,100,M,40,M,,'
    fireEvent.change(input, { target: { files: [file(`${frameSentence(body)}\r\n`)] } })
    await waitFor(() => expect(screen.getByRole('button', { name: /Use JN97LK45/ })).toBeTruthy())
  })

  it('shows the commands for the computer’s clock and never runs them', () => {
    const points = [{ utcMs: noon, source: 'computer', errorMs: -1430, uncertaintyMs: null }]
    show(<ClockScreen />, withState(computer, { clockPoints: points }))
    way('The device’s clock')
    expect(screen.getByText(/it is 1\.43 s slow now/)).toBeTruthy()
    expect(screen.getByText("sudo date -u -s '2026-06-01 12:01:00'")).toBeTruthy()
    expect(screen.getByText('sudo date -u 060112012026.00')).toBeTruthy()
  })
})

describe('ConnectScreen', () => {
  /** The list of devices arrives a moment later. */
  const listed = () => act(async () => undefined)

  it('shows what is heard, how loud, and what the browser did otherwise', async () => {
    const { stopListening } = show(<ConnectScreen />, {
      state: {
        source: { kind: 'microphone', label: 'Reed Box', warnings: ['The browser keeps automatic gain on.'], pace: 1 },
        audio: heardAudio(examineAudio([whiteNoise(11 * 12_000, 0.22, 1)], 12_000)),
      },
    })
    await listed()
    expect(screen.getByRole('heading', { name: 'Audio source: Reed Box' })).toBeTruthy()
    expect(screen.getByText(/keeps automatic gain on/)).toBeTruthy()
    expect(screen.getByText('Too little headroom.')).toBeTruthy()
    expect(screen.getAllByText(/Turn down by about \d+ dB/).length).toBe(2)
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

  it('changes time and mode: the contact takes as long as it took, and mode and submode are ADIF’s', async () => {
    const longer = { ...contact, endedUtcMs: noon + 75_000 }
    const fetched = serve((_url, init) =>
      init?.method === 'PATCH' ? answer(200, { ...longer, revision: 2 }) : answer(200, { contact: longer, history: [] }),
    )
    const c = callbacks()
    show(<ContactEditor contact={longer} {...c} />)
    type('Began, UTC', '2026-06-01 25:00')
    type('Mode', 'psk31')
    fireEvent.click(screen.getByRole('button', { name: 'Save changes' }))
    await screen.findByText(/a time is YYYY-MM-DD HH:MM:SS/)
    type('Began, UTC', '2026-06-01 12:30')
    fireEvent.click(screen.getByRole('button', { name: 'Save changes' }))
    await waitFor(() => expect(c.onSaved).toHaveBeenCalled())
    const patch = fetched.mock.calls.find(([, init]) => init?.method === 'PATCH')![1]!
    const startedUtcMs = noon + 30 * 60_000
    expect(JSON.parse(String(patch.body))).toEqual({
      revision: 1,
      change: { startedUtcMs, endedUtcMs: startedUtcMs + 75_000, mode: 'PSK', submode: 'PSK31' },
    })
  })

  it('restores one that was deleted', async () => {
    const gone = { ...contact, deletedUtcMs: noon }
    const fetched = serve((_url, init) =>
      init?.method === 'PATCH' ? answer(200, { ...contact, revision: 2 }) : answer(200, { contact: gone, history: [] }),
    )
    const c = callbacks()
    show(<ContactEditor contact={gone} {...c} />)
    fireEvent.click(screen.getByRole('button', { name: 'Restore' }))
    await waitFor(() => expect(c.onSaved).toHaveBeenCalled())
    expect(JSON.parse(String(fetched.mock.calls.find(([, init]) => init?.method === 'PATCH')![1]!.body))).toEqual({
      revision: 1,
      change: { deletedUtcMs: null },
    })
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
    await screen.findByText('"much" is no number')
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
    ...{ id: 'a', name: 'field.adi', stage: 'preview', doneBytes: 5, totalBytes: 5, recordsRead: 3, ready: 1, alreadyThere: 1, stored: 0 },
    ...{ problems: [{ line: 7, field: 'QSO_DATE', what: 'date and time cannot be read' }], problemCount: 1, error: null },
  }
  const file = new File(['<EOH>'], 'field.adi')

  it('shows what a file would add before it stores anything, how far it is, and what was stored', async () => {
    let state: object = { ...preview, stage: 'reading', recordsRead: 2 }
    const orders: unknown[] = []
    serve((url, init) => {
      if (url.endsWith('/import') && init?.method === 'POST') {
        orders.push(JSON.parse(String(init.body)))
        state = { ...preview, stage: 'storing', doneBytes: 2 }
      }
      return answer(200, state)
    })
    const onDone = jest.fn()
    show(<ImportPanel file={file} onDone={onDone} onClose={() => undefined} />)
    await waitFor(() => expect(screen.getByText('Looking into the file: 2 records so far.')).toBeTruthy())
    state = preview
    await waitFor(() => expect(screen.getByText(/3 records read: 1 new, 1 already in the log, 1 with a problem/)).toBeTruthy())
    expect(within(screen.getByRole('list')).getByText(/line 7/)).toBeTruthy()
    expect(orders).toEqual([])
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Import 1' })))
    expect(orders).toEqual([{ id: 'a', action: 'store' }])
    await waitFor(() => expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('40'))
    expect(onDone).not.toHaveBeenCalled()
    state = { ...preview, stage: 'done', stored: 1 }
    await waitFor(() => expect(screen.getByText('1 contact stored.')).toBeTruthy())
    expect(onDone).toHaveBeenCalledTimes(1)
  })

  it('shows one that goes on already, and stops it', async () => {
    let state: object = { ...preview, stage: 'storing' }
    serve((_url, init) => {
      if (init?.method === 'POST') state = { ...preview, stage: 'stopped', stored: 1 }
      return answer(200, state)
    })
    show(<ImportPanel onDone={() => undefined} onClose={() => undefined} />)
    await waitFor(() => screen.getByText('Storing: 0 of 1 contact.'))
    expect(screen.getByRole('heading', { name: 'Import field.adi' })).toBeTruthy()
    await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Stop' })))
    await waitFor(() => expect(screen.getByText(/1 contact stored. The import was stopped; the same file adds only the rest/)).toBeTruthy())
  })

  it('says so when the server was started anew in the middle of it', async () => {
    let state: object | null = { ...preview, stage: 'storing' }
    serve(() => answer(200, state))
    show(<ImportPanel onDone={() => undefined} onClose={() => undefined} />)
    await waitFor(() => screen.getByText('Storing: 0 of 1 contact.'))
    state = null
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/started anew. Choose the file again/))
  })

  it('says that nothing was imported when the server fails', async () => {
    serve(() => answer(507, { error: 'The disk of the server is full.' }))
    show(<ImportPanel file={file} onDone={() => undefined} onClose={() => undefined} />)
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('The disk of the server is full. Nothing was imported.'))
  })
})
