'use client'
import { bandWithoutMeter, dialOfRadio } from '@/core/links'
import { useLive, useStation } from './StationProvider'

/** The dial as the radio's control line says it is, in Hz; undefined in practice and without one. */
export const useDialOfRadio = (): number | undefined => useStation((s) => dialOfRadio(s.links?.control, s.source.kind))

/** The band on which only the operator watches the SWR; undefined where a meter is read or nothing is on the air. */
export function useBandWithoutMeter(): string | undefined {
  const { profile } = useLive()
  const read = useDialOfRadio()
  return useStation((s) => bandWithoutMeter(s.links?.control, s.source.kind, read ?? profile.station.dialFrequencyHz))
}
