'use client'
import { Tabs } from '../parts/Tabs'

const TABS = [
  { path: '/plan', label: 'Session' },
  { path: '/plan/activation', label: 'Activation' },
  { path: '/plan/power', label: 'Battery' },
  { path: '/plan/exposure', label: 'Exposure' },
] as const

/** The parts of the Plan stage. */
export function PlanTabs() {
  return <Tabs tabs={TABS} label="Parts of Plan" />
}
