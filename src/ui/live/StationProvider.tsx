'use client'
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from 'react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useStore } from 'zustand'
import { defaultSettings, emptyStation, profileSchema, type Profile, type Settings, type Station } from '@/core/station'
import type { RunningStation } from '@/engine/station'
import { initialState, type StationState } from '@/engine/stationState'
import { createStore } from 'zustand/vanilla'

interface Live {
  station: RunningStation | undefined
  profile: Profile
  profileState: 'loading' | 'ready' | 'problem'
  takeOver: () => void
  /** Silences the station, whichever tab holds it. */
  silence: () => void
  saveStation: (station: Station) => Promise<void>
  saveSettings: (settings: Settings) => Promise<void>
}

const noProfile: Profile = { station: emptyStation, settings: defaultSettings, demo: false }
export const LiveContext = createContext<Live | undefined>(undefined)
const emptyStore = createStore<StationState>(() => initialState)

async function fetchProfile(): Promise<Profile> {
  const response = await fetch('/api/profile')
  if (!response.ok) throw new Error(`The server answered ${response.status}.`)
  return profileSchema.parse(await response.json())
}

async function putProfile(change: { station?: Station; settings?: Settings }): Promise<Profile> {
  const response = await fetch('/api/profile', {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(change),
  }).catch(() => undefined)
  if (!response) throw new Error('The server does not answer: not saved. Try again when it runs.')
  const body: unknown = await response.json()
  if (!response.ok) throw new Error((body as { error?: string }).error ?? `The server answered ${response.status}.`)
  return profileSchema.parse(body)
}

/** Gives every screen the running station of this tab and the profile on the server. */
export function StationProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient()
  const query = useQuery({ queryKey: ['profile'], queryFn: fetchProfile, retry: 3, staleTime: Infinity })
  const [station, setStation] = useState<RunningStation>()
  const [holder, setHolder] = useState<StationState['holder']>('asking')
  const lock = useRef<{ takeOver: () => void } | undefined>(undefined)

  useEffect(() => {
    let running: RunningStation | undefined
    let over = false
    let release: () => void = () => undefined
    let deafen: () => void = () => undefined
    void (async () => {
      // Workers and audio exist in a browser only, so the engine is loaded when there is one.
      const [{ createBrowserStation }, { holdStation, obeySilence }] = await Promise.all([
        import('@/engine/browser/browserStation'),
        import('@/engine/browser/stationLock'),
      ])
      if (over) return
      deafen = obeySilence(() => running?.silence('Silenced from another tab.'))
      const held = holdStation(
        () => {
          if (over) return
          running = createBrowserStation()
          running.store.setState({ holder: 'here' })
          setStation(running)
          setHolder('here')
        },
        () => {
          running?.close()
          running = undefined
          setStation(undefined)
          setHolder('elsewhere')
        },
        () => setHolder('elsewhere'),
      )
      lock.current = held
      release = held.release
    })()
    const online = () => running?.retryStoring()
    const acted = () => running?.personActed()
    window.addEventListener('online', online)
    window.addEventListener('pointerdown', acted)
    window.addEventListener('keydown', acted)
    return () => {
      over = true
      window.removeEventListener('online', online)
      window.removeEventListener('pointerdown', acted)
      window.removeEventListener('keydown', acted)
      running?.close()
      deafen()
      release()
    }
  }, [])

  const profile = query.data ?? noProfile
  useEffect(() => station?.setProfile(profile.station), [station, profile.station])

  const save = async (change: { station?: Station; settings?: Settings }) => {
    client.setQueryData(['profile'], await putProfile(change))
  }
  const live: Live = {
    station,
    profile,
    profileState: query.data ? 'ready' : query.isError ? 'problem' : 'loading',
    takeOver: () => lock.current?.takeOver(),
    silence: () => {
      station?.silence()
      if (!station) void import('@/engine/browser/stationLock').then((m) => m.silenceElsewhere())
    },
    saveStation: (next) => save({ station: next }),
    saveSettings: (next) => save({ settings: next }),
  }
  return (
    <LiveContext.Provider value={live}>
      <HolderContext.Provider value={holder}>{children}</HolderContext.Provider>
    </LiveContext.Provider>
  )
}

const HolderContext = createContext<StationState['holder']>('asking')

/** Whether this tab holds the station. */
export function useHolder(): StationState['holder'] {
  return useContext(HolderContext)
}

export function useLive(): Live {
  const live = useContext(LiveContext)
  if (!live) throw new Error('useLive needs a StationProvider above it')
  return live
}

/** A part of the running station's state; the initial one while this tab holds no station. */
export function useStation<T>(select: (state: StationState) => T): T {
  const { station } = useLive()
  return useStore(station?.store ?? emptyStore, select)
}
