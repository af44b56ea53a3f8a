import type { ReadyId } from '@/core/readiness'

/** The stages in the order of the work, with the readiness items each answers for. */
export const STAGES: readonly { path: string; label: string; items: readonly ReadyId[] }[] = [
  { path: '/', label: 'Ready?', items: [] },
  { path: '/plan', label: 'Plan', items: [] },
  { path: '/station', label: 'Station', items: ['call', 'locator', 'licence'] },
  { path: '/connect', label: 'Connect', items: ['audio', 'output'] },
  { path: '/clock', label: 'Clock', items: ['clock'] },
  { path: '/levels', label: 'Levels', items: ['level'] },
  { path: '/radio', label: 'Radio', items: [] },
  { path: '/slots', label: 'Slots', items: ['dial'] },
  { path: '/reach', label: 'Reach', items: [] },
  { path: '/log', label: 'Log', items: [] },
  { path: '/practise', label: 'Practise', items: [] },
  { path: '/settings', label: 'Settings', items: [] },
]
