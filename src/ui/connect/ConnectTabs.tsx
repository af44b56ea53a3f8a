'use client'
import { Tabs } from '../parts/Tabs'

const TABS = [
  { path: '/connect', label: 'Links' },
  { path: '/connect/setup', label: 'Chain and kit' },
  { path: '/connect/pins', label: 'Pins' },
  { path: '/connect/network', label: 'Network' },
  { path: '/connect/channels', label: 'Channels' },
] as const

/** The parts of the Connect stage. */
export function ConnectTabs() {
  return <Tabs tabs={TABS} label="Parts of Connect" />
}
