'use client'
import { useEffect } from 'react'
import { useStore } from 'zustand'
import { createStore } from 'zustand/vanilla'
import { endsOnly, packetStateSchema, type PacketAct, type PacketState } from '@/core/packet/station/contracts'
import { followEvents } from '@/engine/browser/followEvents'
import { post } from '@/engine/browser/http'
import { screenId } from '@/engine/browser/serverLease'

type Done = { ok: true } | { ok: false; error: string }

/** All parts of a page that follow packet share one stream: a browser keeps only a few open to one server. */
const feed = createStore<{ state: PacketState | undefined }>(() => ({ state: undefined }))
let followers = 0
let end: (() => void) | undefined

function follow(): () => void {
  followers++
  end ??= followEvents('/api/packet/live', packetStateSchema, {
    onValue: (state) => feed.setState({ state }),
    onLost: () => feed.setState({ state: undefined }),
  })
  return () => {
    if (--followers > 0) return
    end?.()
    end = undefined
    feed.setState({ state: undefined })
  }
}

/** What the server's packet station knows; nothing while it cannot be reached. */
export function usePacket(): PacketState | undefined {
  useEffect(follow, [])
  return useStore(feed, ({ state }) => state)
}

/** Has the packet station do something, in the name of this screen. */
export function actPacket(act: PacketAct): Promise<Done> {
  return post('/api/packet/act', endsOnly(act) ? act : { ...act, by: screenId() })
}
