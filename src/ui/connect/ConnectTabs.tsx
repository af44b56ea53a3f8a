'use client'
import { Tabs } from '../parts/Tabs'

const TABS = [
  { path: '/connect', label: 'Audio' },
  { path: '/connect/control', label: 'Radio control' },
  { path: '/connect/tnc', label: 'TNC' },
  { path: '/connect/setup', label: 'Chain and kit' },
  { path: '/connect/pins', label: 'Pins' },
  { path: '/connect/network', label: 'Network' },
  { path: '/connect/channels', label: 'Channels' },
] as const

/** The parts of the Connect stage. */
export function ConnectTabs() {
  return <Tabs tabs={TABS} label="Parts of Connect" />
}
