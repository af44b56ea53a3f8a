/**
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals'
import { act, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { heardAs } from '@/core/ft8'
import { defaultFieldSetup } from '@/core/power'
import { emptyPlan, type SessionPlan } from '@/core/session'
import { initialSlices } from '@/engine/port/stationPort'
import { answer, noon, serve, show, type } from '../testing'
import { KeepKeyedTime } from '../live/KeepKeyedTime'
import { keyedSince, noteKeyed } from '../live/keyedTime'
import { PlanReminder } from '../live/PlanReminder'
import { ReachScreen } from '../reach/ReachScreen'
import { ActivationScreen } from './ActivationScreen'
import { ExposureScreen } from './ExposureScreen'
import { PowerScreen } from './PowerScreen'
import { SessionScreen } from './SessionScreen'

jest.mock('next/navigation', () => ({ usePathname: () => '/plan' }))

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const contact = (n: number, over = {}) => ({
  ...{ id: id(n), revision: 1, call: `Q${n}ABC`, band: '20m', mode: 'FT8', locator: 'JO31' },
  ...{ startedUtcMs: noon + n * 60_000, endedUtcMs: noon + n * 60_000 + 30_000 },
  ...{ otherReference: null, transmissions: 3, timeOffsetS: 0.1, ...over },
})

/** A server with documents that are kept, and contacts. */
function server(documents: Record<string, unknown>, contacts: unknown[] = []) {
  const asked: { url: string; body?: unknown }[] = []
  serve((url, init) => {
    const body = typeof init?.body === 'string' ? (JSON.parse(init.body) as unknown) : undefined
    asked.push({ url, ...(body !== undefined && { body }) })
    const name = url.replace('/api/', '').split('?')[0]!
    if (init?.method === 'PUT') documents[name] = body
    if (name === 'session/contacts') return answer(200, contacts)
    if (name === 'heard') return answer(200, [{ call: 'Q7FAR', locator: 'FN31', lastUtcMs: noon, lastSnrDb: -12, times: 3 }])
    return name in documents ? answer(200, documents[name]) : answer(404, { error: 'There is no such thing.' })
  })
  return { asked, documents }
}

beforeAll(() => {
  globalThis.crypto.randomUUID ??= (() => id(77)) as typeof crypto.randomUUID
})
beforeEach(() => localStorage.clear())

describe('ActivationScreen', () => {
  const current = {
    ...{ id: id(9), name: 'Sallow Reach', programme: 'RIVERS', reference: 'SR-0042', goal: 4 },
    ...{ startedUtcMs: noon, endedUtcMs: null, practice: false },
  }

  it('sets one up, and refuses a goal that is none', async () => {
    const { documents } = server({ activation: { current: null, past: [] } }, [])
    show(<ActivationScreen />)
    await screen.findByRole('button', { name: 'Start the activation' })
    type('Goal', 'many')
    fireEvent.click(screen.getByRole('button', { name: 'Start the activation' }))
    expect(screen.getByRole('alert').textContent).toMatch(/number/i)
    type('Goal', '4')
    type('Reference', 'sr-0042')
    fireEvent.click(screen.getByRole('button', { name: 'Start the activation' }))
    expect(await screen.findByText(/4 to go/)).toBeTruthy()
    expect(documents.activation).toMatchObject({ current: { goal: 4, reference: 'SR-0042', practice: false } })
  })

  it('shows how far it is, words the spot, and keeps the reference of another', async () => {
    const { asked } = server({ activation: { current, past: [] } }, [contact(1), contact(2), contact(3)])
    show(<ActivationScreen />)
    expect(await screen.findByText(/1 to go\. At \d+ an hour/)).toBeTruthy()
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('3')
    expect(screen.getByText('Q5RVR at RIVERS SR-0042 (Sallow Reach), FT8 on 14.074 MHz, locator JN97LK')).toBeTruthy()
    expect(screen.getByRole('link', { name: /ADIF of all 3/ }).getAttribute('href')).toBe(
      `/api/adif?from=${noon}&reference=SR-0042&origin=air`,
    )
    type('Reference of Q3ABC', 'sr-0007')
    fireEvent.click(screen.getByRole('button', { name: 'Keep reference of Q3ABC' }))
    await waitFor(() =>
      expect(asked.find((a) => a.url === `/api/contacts/${id(3)}`)?.body).toEqual({ revision: 1, change: { otherReference: 'SR-0007' } }),
    )
  })

  it('says that practice does not count for it, and ends', async () => {
    const { documents } = server({ activation: { current, past: [] } }, [])
    show(<ActivationScreen />, { state: { source: { kind: 'practice', label: '', warnings: [], pace: 1 } } })
    expect(await screen.findByText(/Contacts on the practice band do not count/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'End it' }))
    await screen.findByRole('heading', { name: 'Set one up' })
    await waitFor(() => expect(documents.activation).toMatchObject({ current: null, past: [{ id: id(9) }] }))
  })
})

describe('SessionScreen', () => {
  const hour = 3_600_000
  // The station's clock in these tests stands three seconds after noon.
  const plan: SessionPlan = {
    ...emptyPlan,
    blocks: [{ id: id(1), startUtcMs: noon - hour, endUtcMs: noon + hour, dialFrequencyHz: 14_074_000, mode: 'FT8', note: '' }],
  }

  it('says what is now and next, and draws sun and plan', async () => {
    server({ plan, field: defaultFieldSetup })
    show(<SessionScreen />)
    expect(await screen.findByText(/^Now FT8 on 14\s074\.0 kHz until 13:00\.$/)).toBeTruthy()
    expect(screen.getByText(/At JN97LK the sun rises at 02:/)).toBeTruthy()
    expect(screen.getByRole('img', { name: /FT8 on 14\s074\.0 kHz from 11:00 to 13:00/ })).toBeTruthy()
  })

  it('adds a stretch and a net, and removes them', async () => {
    const { documents } = server({ plan: emptyPlan, field: defaultFieldSetup })
    show(<SessionScreen />)
    fireEvent.click(await screen.findByRole('button', { name: 'Add a period' }))
    fireEvent.click(screen.getByRole('button', { name: 'Add it' }))
    expect(await screen.findByText(/12:15 to 13:15/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Add a net' }))
    fireEvent.click(screen.getByRole('button', { name: 'Add it' }))
    expect(screen.getByRole('alert').textContent).toBe('A net has a name')
    type('Name', 'River net')
    type('Frequency in kHz', '145500')
    fireEvent.click(screen.getByRole('button', { name: 'Add it' }))
    expect(await screen.findByText(/River net, every day, 145\.500 MHz/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Remove the period from 12:15' }))
    await waitFor(() => expect(documents.plan).toMatchObject({ blocks: [], nets: [{ startMinute: 1080 }] }))
  })

  it('changes a period and a net in their place, in 24 hours whatever the language', async () => {
    const net = { id: id(2), name: 'River net', weekday: 2, startMinute: 19 * 60 + 5, durationMin: 30, frequencyHz: 145_500_000, note: '' }
    const { documents } = server({ plan: { ...plan, nets: [net] }, field: defaultFieldSetup })
    show(<SessionScreen />)
    fireEvent.click(await screen.findByRole('button', { name: 'Edit the period from 11:00' }))
    const hours = () => screen.getByRole('spinbutton', { name: 'Hours' })
    expect(hours().textContent).toBe('11')
    expect(screen.queryByRole('spinbutton', { name: 'Meridiem' })).toBeNull()
    type('Lasts, minutes', '90')
    fireEvent.click(screen.getByRole('button', { name: 'Change it' }))
    await waitFor(() =>
      expect(documents.plan).toMatchObject({ blocks: [{ id: id(1), startUtcMs: noon - hour, endUtcMs: noon + hour / 2 }] }),
    )
    fireEvent.click(screen.getByRole('button', { name: 'Edit the net River net' }))
    expect(hours().textContent).toBe('19')
    type('Name', 'Valley net')
    fireEvent.click(screen.getByRole('button', { name: 'Change it' }))
    await waitFor(() => expect(documents.plan).toMatchObject({ nets: [{ ...net, name: 'Valley net' }] }))
  })

  it('reads a calendar file and says what it could not take', async () => {
    const { documents } = server({ plan: emptyPlan, field: defaultFieldSetup })
    show(<SessionScreen />)
    const text = [
      'BEGIN:VCALENDAR',
      'VERSION:2.0',
      'BEGIN:VEVENT',
      'SUMMARY:Race',
      'DTSTART:20260601T130000Z',
      'DTEND:20260601T140000Z',
      'END:VEVENT',
      'BEGIN:VEVENT',
      'SUMMARY:Holiday',
      'DTSTART;VALUE=DATE:20260606',
      'END:VEVENT',
      'END:VCALENDAR',
    ].join('\r\n')
    const file = new File([text], 'race.ics', { type: 'text/calendar' })
    Object.assign(file, { text: async () => text })
    fireEvent.change(await screen.findByLabelText('Calendar file to read'), { target: { files: [file] } })
    expect(await screen.findByText('Taken from the calendar: 1 period and 0 nets.')).toBeTruthy()
    expect(screen.getByText('Holiday: it takes whole days')).toBeTruthy()
    await waitFor(() => expect(documents.plan).toMatchObject({ blocks: [{ startUtcMs: noon + hour, note: 'Race' }] }))
  })

  it('mentions a change calmly, and no more once it was noted', async () => {
    server({ plan: { ...plan, blocks: [{ ...plan.blocks[0]!, startUtcMs: noon + 120_000 }] } })
    show(<PlanReminder />)
    expect((await screen.findByRole('status')).textContent).toMatch(/^At 12:02, in 2 min: FT8 on 14\s074\.0 kHz\./)
    fireEvent.click(screen.getByRole('button', { name: 'Noted' }))
    expect(screen.queryByRole('status')).toBeNull()
  })
})

describe('PowerScreen', () => {
  it('reckons with what was really keyed, and takes changes that make sense', async () => {
    const power = { ...defaultFieldSetup.power, connectedUtcMs: noon - 3_600_000, temperatureC: -10 }
    noteKeyed(noon - 60_000, 1_200_000)
    const { documents } = server({ field: { ...defaultFieldSetup, power } })
    show(<PowerScreen />)
    expect(await screen.findByText(/33 % of the time, keyed for 20 min so far/)).toBeTruthy()
    expect(screen.getByText(/about 70 % of the capacity: an estimate/)).toBeTruthy()
    expect(screen.getByText(/A small radio or handheld gets hot/)).toBeTruthy()
    type('Capacity in Ah', '0')
    expect(screen.getByRole('alert').textContent).toBe('The capacity is at least 0.1 Ah')
    type('Capacity in Ah', 'twelve')
    expect(screen.getByText('This is no number yet')).toBeTruthy()
    type('Capacity in Ah', '12,5')
    await waitFor(() => expect(documents.field).toMatchObject({ power: { capacityAh: 12.5 } }))
    fireEvent.click(screen.getByRole('button', { name: 'Fresh battery fitted' }))
    await waitFor(() => expect(documents.field).toMatchObject({ power: { connectedUtcMs: noon + 3000 } }))
  })

  it('counts seconds on the air, but not those of practice', () => {
    server({})
    const { store } = show(<KeepKeyedTime />, { state: { source: { kind: 'microphone', label: '', warnings: [], pace: 1 } } })
    act(() => store.setState({ keyedMs: 12_640 }))
    expect(keyedSince(noon - 60_000)).toBe(12_640)
    act(() => store.setState({ source: { kind: 'practice', label: '', warnings: [], pace: 1 } }))
    act(() => store.setState({ keyedMs: 25_280 }))
    expect(keyedSince(noon - 60_000)).toBe(12_640)
    expect(keyedSince(noon)).toBe(3000)
    localStorage.setItem('zeptik-keyed', '{broken')
    expect(keyedSince(0)).toBe(0)
  })
})

describe('ExposureScreen', () => {
  it('compares with four limits, and warns of what is near', async () => {
    const { documents } = server({ field: defaultFieldSetup })
    show(<ExposureScreen />)
    expect(await screen.findByText(/V\/m at 5 m: below all four limits/)).toBeTruthy()
    expect(within(screen.getByRole('table')).getAllByRole('row')).toHaveLength(5)
    type('Power in W', '2000')
    expect(screen.getByText(/above a limit\. Keep people \d+\.\d m away/)).toBeTruthy()
    type('Distance in m', '1')
    expect(await screen.findByText(/Too near for the formula/)).toBeTruthy()
    await waitFor(() => expect(documents.field).toMatchObject({ antenna: { distanceM: 1 } }))
    type('Distance in m', '0')
    expect(screen.getByRole('alert').textContent).toMatch(/distance is at least/)
  })
})

describe('ReachScreen', () => {
  it('puts heard and worked stations on the map, and sums the session up', async () => {
    server({}, [contact(1), contact(2, { transmissions: 6 })])
    const decode = heardAs('CQ Q8NEAR JN87')!
    const stations = {
      Q8NEAR: {
        ...{ call: 'Q8NEAR', locator: 'JN87', parity: 'even' as const, lastSlotIndex: noon / 15_000 },
        ...{ frequencyHz: 900, timeOffsetS: 0, strengths: [{ slotIndex: noon / 15_000, snrDb: -3 }] },
        ...{ doing: { kind: 'other' as const }, lastDecode: decode, timesHeard: 1 },
      },
    }
    const tally = { ...initialSlices.ft8.tally, heard: 20, lost: 2, messages: 100, firstSlotIndex: 1, lastSlotIndex: 30 }
    show(<ReachScreen />, { state: { stations, tally } })
    expect(await screen.findByText(/4 stations with a locator, 2 of them worked/)).toBeTruthy()
    const map = screen.getByRole('img', { name: /^Map around JN97LK: 4 stations within 8000 km/ })
    expect(map.getAttribute('aria-label')).toMatch(/Q1ABC worked, \d+ km/)
    expect(screen.getByText('2 with 2 stations')).toBeTruthy()
    expect(screen.getByText('50 % of contacts')).toBeTruthy()
    expect(screen.getByRole('row', { name: /Lost altogether/ }).textContent).toMatch(/2$/)
    fireEvent.mouseDown(screen.getByLabelText('Show one'))
    fireEvent.click(screen.getByRole('option', { name: /^Q7FAR, / }))
    expect(screen.getByText(/heard with −12 dB/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: /3.000.km/ }))
    expect(await screen.findByText('1 are farther away')).toBeTruthy()
  })
})
