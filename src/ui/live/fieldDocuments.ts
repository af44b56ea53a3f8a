'use client'
import { useEffect } from 'react'
import { activationsSchema } from '@/core/activation'
import { fieldSetupSchema } from '@/core/power'
import { sessionPlanSchema } from '@/core/session'
import { useDocument } from '../parts/useDocument'
import { useLive } from './StationProvider'

/** The running activation and those before it. */
export const useActivations = () => useDocument('activations', activationsSchema, '/api/activation')
/** The plan of the session. */
export const usePlan = () => useDocument('plan', sessionPlanSchema, '/api/plan')
/** Battery and antenna. */
export const useFieldSetup = () => useDocument('field', fieldSetupSchema, '/api/field')

/** Tells the station which references its contacts are to carry. */
export function TellActivation() {
  const { station } = useLive()
  const { value } = useActivations()
  const current = value?.current ?? undefined
  useEffect(() => {
    void station?.do({ type: 'activation', activation: current })
  }, [station, current])
  return null
}
