'use client'
import { useEffect, useState } from 'react'
import { packetStateSchema, type PacketAct, type PacketState } from '@/core/packet/station/contracts'
import { followEvents } from '@/engine/browser/followEvents'
import { post } from '@/engine/browser/http'
import { screenId } from '@/engine/browser/serverLease'

type Done = { ok: true } | { ok: false; error: string }

/** What the server's packet station knows; nothing while it cannot be reached. */
export function usePacket(): PacketState | undefined {
  const [state, setState] = useState<PacketState>()
  useEffect(() => followEvents('/api/packet/live', packetStateSchema, { onValue: setState, onLost: () => setState(undefined) }), [])
  return state
}

/** Has the packet station do something, in the name of this screen. */
export function actPacket(act: PacketAct): Promise<Done> {
  const ends = act.act === 'cut' || act.act === 'dismiss' || act.act === 'silence'
  return post('/api/packet/act', ends ? act : { ...act, by: screenId() })
}
