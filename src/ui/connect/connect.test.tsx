/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { joinPins } from '@/core/chain'
import { BUILT_IN_DIALECTS, type CatDialect } from '@/core/links/cat'
import type { StationState } from '@/engine/station/state'
import { answer, serve, show } from '../testing'
import { DialectPanel } from './links/DialectPanel'
import { KeysRung } from './links/KeysRung'
import { LentPortField } from './links/LentPortField'
import { PortFinder } from './links/PortFinder'
import { TunePanel } from './links/TunePanel'
import { PinDrawing } from './setup/PinDrawing'

const control = {
  state: 'talking',
  detail: '',
  frequencyHz: 14_074_000,
  mode: 'usb',
  keyed: null,
  power: null,
  swr: 1.4,
  alc: null,
  swrMeter: true,
} as const
const microphone: Partial<StationState> = { source: { kind: 'microphone', label: 'Reed Box', warnings: [], pace: 1 } }
const withMeter = {
  ...microphone,
  links: { control, keying: { by: 'cat', state: 'ready', detail: '', leadMs: 0, tailMs: 0 } },
} as unknown as Partial<StationState>

describe('the tuning carrier', () => {
  it('goes out only after both ticks, at a tenth of the power, and hands must be cleared anew each time', async () => {
    const { sendTest } = show(<TunePanel />, { state: withMeter })
    const send = screen.getByRole('button', { name: /^Tuning carrier/ }) as HTMLButtonElement
    expect(screen.getByText('1.4')).toBeTruthy()
    expect(send.disabled).toBe(true)
    fireEvent.click(screen.getByLabelText(/power is turned down/))
    expect(send.disabled).toBe(true)
    fireEvent.click(screen.getByLabelText(/Hands are clear/))
    fireEvent.click(send)
    expect(sendTest).toHaveBeenCalledWith('carrier', { amplitude: expect.closeTo(0.158, 2), durationS: 6 })
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('No.'))
    expect((screen.getByLabelText(/Hands are clear/) as HTMLInputElement).checked).toBe(false)
    expect(send.disabled).toBe(true)
  })

  it('says when no meter is read, and can be ended', async () => {
    const { sendTest, silence } = show(<TunePanel />, { state: microphone })
    expect(screen.getByText(/No SWR meter is read/)).toBeTruthy()
    sendTest.mockReturnValue(new Promise(() => undefined))
    fireEvent.click(screen.getByLabelText(/power is turned down/))
    fireEvent.click(screen.getByLabelText(/Hands are clear/))
    fireEvent.click(screen.getByRole('button', { name: /^Tuning carrier/ }))
    fireEvent.click(screen.getByRole('button', { name: 'End it' }))
    expect(silence).toHaveBeenCalledWith('The tuning carrier was ended.')
  })
})

describe('finding a port by unplugging', () => {
  it('leads through both steps and offers what came back', async () => {
    jest.useFakeTimers()
    const pass = (ms: number) => act(() => jest.advanceTimersByTimeAsync(ms))
    let ports = ['/dev/ttyA', '/dev/ttyB']
    serve(() =>
      answer(
        200,
        ports.map((path) => ({ path, name: path })),
      ),
    )
    const onFound = jest.fn()
    show(<PortFinder name="TNC" onFound={onFound} />)
    fireEvent.click(screen.getByRole('button', { name: 'Which one is it? TNC' }))
    await pass(10)
    expect(screen.getByRole('status').textContent).toBe('Unplug its USB lead now.')
    ports = ['/dev/ttyA']
    await pass(1100)
    expect(screen.getByRole('status').textContent).toBe('/dev/ttyB went away. Plug the lead in again.')
    ports = ['/dev/ttyA', '/dev/ttyB']
    await pass(1100)
    expect(screen.getByRole('status').textContent).toBe('It is /dev/ttyB.')
    jest.useRealTimers()
    fireEvent.click(screen.getByRole('button', { name: 'Use /dev/ttyB' }))
    expect(onFound).toHaveBeenCalledWith('/dev/ttyB')
  })
})

describe('dialects of the operator', () => {
  let kept: CatDialect[] = []
  beforeEach(() => {
    kept = []
    serve((_url, init) => {
      if (init?.method === 'PUT') kept = [JSON.parse(String(init.body)) as CatDialect]
      if (init?.method === 'DELETE') return answer(409, { error: 'It is in use: choose another command set first.' })
      return answer(200, kept)
    })
  })
  const write = (text: string) => fireEvent.change(screen.getByLabelText('Command set as JSON'), { target: { value: text } })

  it('are shown dry, kept, chosen, and not removed while in use', async () => {
    const onUse = jest.fn()
    show(<DialectPanel onUse={onUse} />)
    write('{ "id": ')
    expect(screen.getByRole('alert').textContent).toMatch(/This is not JSON/)
    write(JSON.stringify({ ...BUILT_IN_DIALECTS[0], id: 'My Dialect' }))
    expect(screen.getByRole('alert').textContent).toBe('id: Small letters, digits and hyphens.')
    expect(screen.queryByRole('table')).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'ascii-11' }))
    expect(screen.getByRole('table', { name: 'Dry run' }).textContent).toMatch(/setFrequencyFA00014074000;/)
    fireEvent.click(screen.getByRole('button', { name: 'Keep this command set' }))
    fireEvent.click(await screen.findByRole('button', { name: 'Choose it' }))
    expect(onUse).toHaveBeenCalledWith('my-ascii-11')
    fireEvent.click(screen.getByRole('button', { name: /^Remove/ }))
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/in use/))
  })
})

describe('a port of this device', () => {
  it('is not offered by a browser that has none', () => {
    show(<LentPortField by="bluetooth" name="TNC" />)
    expect(screen.getByText(/This browser cannot reach Bluetooth devices/)).toBeTruthy()
    expect(screen.queryByRole('button')).toBeNull()
  })

  it('is picked, refused with a reason, and may be picked again', async () => {
    const requestPort = jest.fn(async () => Promise.reject(Object.assign(new Error('no rights'), { name: 'SecurityError' })))
    Object.defineProperty(navigator, 'serial', { configurable: true, value: { requestPort, getPorts: async () => [] } })
    show(<LentPortField by="serial" name="CAT control" />)
    fireEvent.click(screen.getByRole('button', { name: 'CAT control: pick the port of this device' }))
    await waitFor(() => expect(screen.getByRole('status').textContent).toBe('Nothing could be picked: no rights.'))
  })
})

describe('the drawing of a lead', () => {
  it('says every wire, and which pins stay open', () => {
    const plan = joinPins('handheldPair', 'jack35c', { airBaud: null, ownPins: {} })
    show(<PinDrawing plan={plan} radioName="radio" boxName="tablet" />)
    expect(screen.getByRole('img').getAttribute('aria-label')).toMatch(/radio pin 3\.5 ring \(Microphone\) to pin tip/)
    expect(screen.getByText('PTT, microphone return · 3.5 sleeve (open)')).toBeTruthy()
  })
})

describe('the last rung', () => {
  const key = () => fireEvent.click(screen.getByRole('button', { name: /^Does it key/ }))

  it('believes a radio that says it was keyed', async () => {
    const { sendTest, store } = show(<KeysRung />, { state: withMeter })
    const { links } = store.getState()
    sendTest.mockImplementation(async () => {
      store.setState({ links: { ...links!, control: { ...links!.control, keyed: true }, keying: { ...links!.keying, state: 'keyed' } } })
      store.setState({ links: { ...links!, control: { ...links!.control, keyed: false } } })
      return { sent: true, complete: true, heard: new Float32Array() }
    })
    key()
    expect((await screen.findByRole('status')).textContent).toBe('The radio said that it transmitted, and that it stopped.')
    expect(sendTest).toHaveBeenCalledWith('tone', { amplitude: 0.1, durationS: 2 })
  })

  it('asks the operator of one that says nothing, and tells one that stays keyed', async () => {
    const { sendTest, store } = show(<KeysRung />, { state: withMeter })
    sendTest.mockResolvedValue({ sent: true, complete: true, heard: new Float32Array() })
    key()
    fireEvent.click(await screen.findByRole('button', { name: 'No' }))
    expect(screen.getByRole('status').textContent).toMatch(/Check the key line and its polarity/)
    const { links } = store.getState()
    store.setState({ links: { ...links!, control: { ...links!.control, keyed: true } } })
    key()
    await waitFor(() => expect(screen.getByRole('status').textContent).toMatch(/still transmitting\. Switch it off now/))
  })

  it('needs the audio of the radio', () => {
    show(<KeysRung />)
    expect((screen.getByRole('button', { name: /^Does it key/ }) as HTMLButtonElement).disabled).toBe(true)
  })
})
