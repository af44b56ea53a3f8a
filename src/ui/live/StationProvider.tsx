'use client'
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from 'react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useStore } from 'zustand'
import { defaultSettings, emptyStation, profileSchema, type Profile, type Settings, type Station } from '@/core/station'
import { ask, json, post } from '@/engine/browser/http'
import type { ServerLease } from '@/engine/browser/serverLease'
import { initialSlices, type SliceName, type Slices, type StationPort } from '@/engine/port/stationPort'

type Holder = Slices['station']['holder']

interface Live {
  /** The running station, while this screen holds it. */
  station: StationPort | undefined
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
/** What a screen follows that holds no station. */
const empty = <Name extends SliceName>(name: Name) => ({
  getState: () => initialSlices[name],
  getInitialState: () => initialSlices[name],
  subscribe: () => () => undefined,
})
const EMPTY = { station: empty('station'), ft8: empty('ft8'), psk31: empty('psk31'), packet: empty('packet') }

const fetchProfile = (): Promise<Profile> => ask(profileSchema, '/api/profile')
const putProfile = (change: { station?: Station; settings?: Settings }): Promise<Profile> =>
  ask(profileSchema, '/api/profile', json('PUT', change))

/** Gives every screen the running station of this tab and the profile on the server. */
export function StationProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient()
  const query = useQuery({ queryKey: ['profile'], queryFn: fetchProfile, retry: 3, staleTime: Infinity })
  const [station, setStation] = useState<StationPort>()
  const [holder, setHolder] = useState<Holder>('asking')
  const lock = useRef<{ takeOver: () => void } | undefined>(undefined)

  useEffect(() => {
    let running: { port: StationPort; close: () => void } | undefined
    let lease: ServerLease | undefined
    let over = false
    let release: () => void = () => undefined
    let deafen: () => void = () => undefined
    void (async () => {
      // Workers and audio exist in a browser only, so the engine is loaded when there is one.
      const [{ createBrowserStation }, { holdStation, obeySilence }, { holdOnServer, screenId }] = await Promise.all([
        import('@/engine/browser/browserStation'),
        import('@/engine/browser/stationLock'),
        import('@/engine/browser/serverLease'),
      ])
      if (over) return
      const screen = screenId()
      const silenced = () => void running?.port.do({ type: 'silence', why: 'Silenced from another screen.' })
      deafen = obeySilence(silenced)
      const begin = () => {
        if (over || running) return
        running = createBrowserStation(screen, (state) => lease?.told(state))
        setStation(running.port)
        setHolder('here')
      }
      const end = () => {
        running?.close()
        running = undefined
        setStation(undefined)
        setHolder('elsewhere')
      }
      /** Whether a person has asked for it at this screen: then it is not asked for, but taken. */
      let wanted = false
      const held = holdStation(
        () => {
          if (over) return
          lease = holdOnServer(screen, { onHeld: begin, onElsewhere: end, onSilence: silenced })
          if (wanted) lease.takeOver()
          wanted = false
        },
        () => {
          lease?.end({ givenBack: true })
          lease = undefined
          end()
        },
        () => setHolder('elsewhere'),
      )
      lock.current = {
        takeOver: () => {
          if (lease) lease.takeOver()
          else {
            wanted = true
            held.takeOver()
          }
        },
      }
      release = held.release
    })()
    const online = () => void running?.port.do({ type: 'retryStoring' })
    const acted = () => void running?.port.do({ type: 'personActed' })
    window.addEventListener('online', online)
    window.addEventListener('pointerdown', acted)
    window.addEventListener('keydown', acted)
    return () => {
      over = true
      window.removeEventListener('online', online)
      window.removeEventListener('pointerdown', acted)
      window.removeEventListener('keydown', acted)
      running?.close()
      lease?.end({ givenBack: false })
      deafen()
      release()
    }
  }, [])

  const profile = query.data ?? noProfile
  useEffect(() => {
    // The mode in front is in force before anything else is asked.
    if (query.data) void station?.do({ type: 'profile', station: profile.station })
  }, [station, profile.station, query.data])

  const save = async (change: { station?: Station; settings?: Settings }) => {
    client.setQueryData(['profile'], await putProfile(change))
  }
  const live: Live = {
    station,
    profile,
    profileState: query.data ? 'ready' : query.isError ? 'problem' : 'loading',
    takeOver: () => lock.current?.takeOver(),
    silence: () => {
      // Packet lives on the server: what it would still send ends there.
      void post('/api/packet/act', { act: 'silence' })
      if (station) {
        void station.do({ type: 'silence' })
        return
      }
      void import('@/engine/browser/stationLock').then((m) => m.silenceElsewhere())
      void import('@/engine/browser/serverLease').then((m) => m.silenceOverServer())
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

const HolderContext = createContext<Holder>('asking')

/** Whether this tab holds the station. */
export function useHolder(): Holder {
  return useContext(HolderContext)
}

export function useLive(): Live {
  const live = useContext(LiveContext)
  if (!live) throw new Error('useLive needs a StationProvider above it')
  return live
}

function useSlice<Name extends SliceName, T>(name: Name, select: (state: Slices[Name]) => T): T {
  const { station } = useLive()
  return useStore((station?.slice(name) ?? EMPTY[name]) as ReturnType<StationPort['slice']> as never, select as never) as T
}

/** A part of what all modes share; the initial one while this screen holds no station. */
export const useStation = <T,>(select: (state: Slices['station']) => T): T => useSlice('station', select)
/** A part of the state of FT8. */
export const useFt8 = <T,>(select: (state: Slices['ft8']) => T): T => useSlice('ft8', select)
/** A part of the state of PSK31. */
export const usePsk31 = <T,>(select: (state: Slices['psk31']) => T): T => useSlice('psk31', select)
/** A part of the state of the modem for packet. */
export const usePacketModem = <T,>(select: (state: Slices['packet']) => T): T => useSlice('packet', select)
