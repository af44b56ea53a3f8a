'use client'
import { useMemo } from 'react'
import { findIntruder, findLanes, ofParity, type Intruder, type Lane, type LaneUser } from '@/core/ft8'
import { parityOf, type Parity } from '@/core/time'
import type { DecodedSlot } from '@/engine/modes/ft8/state'
import { useFt8, useLive, useStation } from '../../live/StationProvider'

/** Slots of one parity that count. */
const LANE_SLOTS = 3

/** Edges are measured anew each second; lanes must not wander with their scatter. */
const steady = (hz: number | undefined) => (hz === undefined ? undefined : Math.round(hz / 50) * 50)

const usersOf = (slot: DecodedSlot): LaneUser[] =>
  slot.decodes.map((d) => ({
    ...('from' in d.message && d.message.from && { call: d.message.from }),
    frequencyHz: d.frequencyHz,
    snrDb: d.snrDb,
  }))

/** The best free lanes of either parity, and who came upon the own one. */
export function useLanes(): { lanesOf: (parity: Parity) => Lane[]; intruderAt: (hz: number, parity: Parity) => Intruder | undefined } {
  const { profile } = useLive()
  const slots = useFt8((s) => s.slots)
  const occupancy = useFt8((s) => s.occupancy)
  const lowHz = useStation((s) => steady(s.audio?.passbandHz?.[0]))
  const highHz = useStation((s) => steady(s.audio?.passbandHz?.[1]))
  const ownCall = profile.station.call
  return useMemo(() => {
    const listened = (parity: Parity) => slots.filter((s) => !s.transmitted && parityOf(s.slotIndex) === parity).slice(-LANE_SLOTS)
    const passband = lowHz !== undefined && highHz !== undefined ? { passband: { lowHz, highHz } } : {}
    const lanes = (parity: Parity) =>
      findLanes({ users: listened(parity).flatMap(usersOf), occupancy: ofParity(occupancy, parity).slice(-LANE_SLOTS), ...passband })
    const even = lanes('even')
    const odd = lanes('odd')
    return {
      lanesOf: (parity: Parity) => (parity === 'even' ? even : odd),
      intruderAt: (hz: number, parity: Parity) =>
        findIntruder(
          hz,
          ownCall,
          listened(parity).map((slot) => {
            const measured = occupancy.find((o) => o.slotIndex === slot.slotIndex)
            return { slotIndex: slot.slotIndex, users: usersOf(slot), ...(measured && { occupancy: measured }) }
          }),
        ),
    }
  }, [slots, occupancy, lowHz, highHz, ownCall])
}
