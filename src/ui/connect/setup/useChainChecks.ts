'use client'
import { useQuery } from '@tanstack/react-query'
import { chainSetupSchema, checkChain, type ChainCheck } from '@/core/chain'
import { fetchClockConfig } from '../../clock/clockApi'
import { useDocument } from '../../parts/useDocument'
import { useLinkConfig } from '../links/useLinkConfig'

/** What the parts of the chain need of one another, by the set-up as it is stored; undefined until it is known. */
export function useChainChecks(): ChainCheck[] | undefined {
  const { value: setup } = useDocument('chain', chainSetupSchema, '/api/chain')
  const { config } = useLinkConfig()
  const clock = useQuery({ queryKey: ['clock', 'config'], queryFn: fetchClockConfig, staleTime: Infinity, retry: 1 })
  if (!setup || !config) return undefined
  const gps = clock.data?.serial
  const heldPorts = gps?.enabled && gps.path ? [{ path: gps.path, by: 'the GPS receiver' }] : []
  return checkChain({ setup, config, heldPorts })
}
