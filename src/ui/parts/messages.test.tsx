/** @jest-environment jsdom */
import { jest } from '@jest/globals'
import { useEffect } from 'react'
import { act, fireEvent, screen, within } from '@testing-library/react'
import type { LinkState } from '@/core/links'
import { StationMessages } from '../live/StationMessages'
import { noon, show } from '../testing'
import { MessageArea, MessagesProvider, useMessages, type Message } from './Messages'

let tell: (message: Message) => void
function Teller() {
  const messages = useMessages()
  useEffect(() => {
    tell = messages.tell
  }, [messages])
  return null
}
const shown = (state: Parameters<typeof show>[1] = {}) =>
  show(
    <MessagesProvider>
      <Teller />
      <StationMessages />
      <MessageArea />
    </MessagesProvider>,
    state,
  )
const area = () => within(screen.getByRole('region', { name: 'Messages' }))

describe('the place of messages', () => {
  it('says what the station has to say, with where it is mended, and until it is over', () => {
    const { store } = shown({ state: { source: { kind: 'none', problem: 'The microphone vanished.' } } })
    expect(area().getByText('The microphone vanished.')).toBeTruthy()
    expect(area().getByRole('link', { name: 'Audio source' }).getAttribute('href')).toBe('/connect')
    act(() => store.setState({ source: { kind: 'starting', what: 'microphone' } }))
    expect(area().queryByText('The microphone vanished.')).toBeNull()
    const alarm = { sequence: 3, utcMs: 0, words: 'SWR 4.0, above the limit of 2.5: transmission was stopped.' }
    act(() => store.setState({ links: { alarm } as LinkState }))
    expect(area().getByText(/SWR 4\.0/)).toBeTruthy()
    act(() => store.setState({ links: { alarm: null } as unknown as LinkState }))
    expect(area().queryByText(/SWR 4\.0/)).toBeNull()
    act(() => store.setState({ notice: { text: 'It is too late in this slot to begin.', utcMs: noon } }))
    expect(area().getByText(/too late/)).toBeTruthy()
    act(() => store.setState({ notice: undefined }))
    expect(area().queryByText(/too late/)).toBeNull()
  })

  it('shows the latest, and the others when asked; what was done goes by itself', () => {
    jest.useFakeTimers()
    shown()
    act(() => tell({ kind: 'problem', text: 'First.' }))
    act(() => tell({ kind: 'undo', text: 'Second.', action: { label: 'Undo', run: () => undefined } }))
    act(() => tell({ kind: 'done', text: 'Third.' }))
    expect(area().getByText('Third.')).toBeTruthy()
    expect(area().queryByText('First.')).toBeNull()
    fireEvent.click(area().getByRole('button', { name: '2 more' }))
    expect(area().getByText('First.')).toBeTruthy()
    act(() => void jest.advanceTimersByTime(10_000))
    expect(area().queryByText('Third.')).toBeNull()
    fireEvent.click(area().getByRole('button', { name: 'Put away: First.' }))
    expect(area().queryByText('First.')).toBeNull()
    expect(area().getByText('Second.')).toBeTruthy()
    jest.useRealTimers()
  })

  it('undoes, and keeps what could not be undone', async () => {
    shown()
    let works = false
    const run = jest.fn(async () => {
      if (!works) throw new Error('The server does not answer.')
    })
    act(() => tell({ kind: 'undo', text: 'Removed.', action: { label: 'Undo', run } }))
    await act(async () => void fireEvent.click(area().getByRole('button', { name: 'Undo' })))
    expect(area().getByText('The server does not answer.')).toBeTruthy()
    fireEvent.click(area().getByRole('button', { name: '1 more' }))
    works = true
    await act(async () => void fireEvent.click(area().getByRole('button', { name: 'Undo' })))
    expect(run).toHaveBeenCalledTimes(2)
    expect(area().queryByText('Removed.')).toBeNull()
  })
})
