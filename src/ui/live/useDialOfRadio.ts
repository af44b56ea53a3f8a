'use client'
import { dialOfRadio } from '@/core/links'
import { useStation } from './StationProvider'

/** The dial as the radio's control line says it is, in Hz; undefined in practice and without one. */
export const useDialOfRadio = (): number | undefined => useStation((s) => dialOfRadio(s.links?.control, s.source.kind))
