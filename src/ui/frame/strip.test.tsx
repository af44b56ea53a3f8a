/** @jest-environment jsdom */
import { screen } from '@testing-library/react'
import { noon, show } from '../testing'
import { Strip } from './Strip'

const practice = { kind: 'practice', label: 'Practice band', warnings: [], pace: 8 } as const
const next = { text: 'Q1ABC Q5RVR R-08', startUtcMs: noon + 15_000, audioOffsetHz: 1500, onlyIfAsked: false }

describe('the strip', () => {
  it('says what goes out next and when, with Silence beside it', () => {
    show(<Strip />, { state: { next, source: { kind: 'microphone', label: 'Radio', warnings: [], pace: 1 } } })
    expect(screen.getByText(/^Next transmission in 12 s$/)).toBeTruthy()
    expect(screen.getByRole('status', { name: 'Next transmission: Q1ABC Q5RVR R-08' })).toBeTruthy()
    expect(screen.getByRole('banner').dataset).toMatchObject({ armed: 'true', onair: 'false' })
    expect(screen.getByRole('button', { name: /Silence/ })).toBeTruthy()
    // What is set up makes room for it.
    expect(screen.queryByText(/Audio source/)).toBeNull()
  })

  it('tells practice, and what goes out only if it is asked for', () => {
    show(<Strip />, { state: { next: { ...next, onlyIfAsked: true }, source: practice } })
    expect(screen.getByText(/^Only if they ask again, in 12 s$/)).toBeTruthy()
    show(<Strip />, { state: { next, source: practice } })
    expect(screen.getByText(/^Practice: next in 12 s$/)).toBeTruthy()
  })

  it('shows what is heard and how it is keyed while nothing is to come', () => {
    show(<Strip />, { state: { source: practice } })
    expect(screen.getByRole('banner').dataset).toMatchObject({ armed: 'false' })
    expect(screen.getByText('Audio source, 8× pace')).toBeTruthy()
    expect(screen.getByText('simulated')).toBeTruthy()
  })
})
