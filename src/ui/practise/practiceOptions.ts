'use client'
import { useRouter } from 'next/navigation'
import { z } from 'zod'
import { SOUND_MODE_IDS, type SoundModeId } from '@/core/modes'
import { CHANNEL_FAULT_NAMES, RECEIVE_FAULTS } from '@/standins'
import { readChosenDevices } from '../connect/devices'
import { deviceStore } from '../live/deviceStore'
import { useLive, useStation } from '../live/StationProvider'
import { MODE_SCREENS } from '../modes'

const optionsSchema = z.object({
  mode: z.enum(SOUND_MODE_IDS).nullable().default(null),
  pace: z.union([z.literal(1), z.literal(2), z.literal(4), z.literal(8), z.literal(30)]).default(1),
  seed: z
    .string()
    .regex(/^\d{1,9}$/)
    .default('7'),
  stations: z.int().min(1).max(60).default(24),
  audible: z.boolean().default(false),
  clockErrorMs: z.number().finite().default(0),
  faults: z.array(z.enum(RECEIVE_FAULTS)).max(40).default([]),
  channelFaults: z.array(z.enum(CHANNEL_FAULT_NAMES)).max(12).default([]),
})
type PracticeOptions = z.infer<typeof optionsSchema>
export type Pace = PracticeOptions['pace']

/** How the practice band was set up the last time, or is running now. */
export const { use: usePracticeOptions, save: savePracticeOptions } = deviceStore<PracticeOptions>(
  'zeptik.practice',
  optionsSchema as z.ZodType<PracticeOptions>,
  optionsSchema.parse({}),
)

/** Starts the practice band as it is set up, and opens the screen on which it is heard. @returns why it did not start */
export function useStartPractice(): () => Promise<string | undefined> {
  const { station, profile } = useLive()
  const router = useRouter()
  const inFront = useStation((s) => s.mode)
  const { mode: chosen, seed, audible, channelFaults, ...options } = usePracticeOptions()
  const mode: SoundModeId = chosen && profile.settings.modes.includes(chosen) ? chosen : inFront
  return async () => {
    const practise = {
      ...options,
      bandFaults: mode === 'packet' ? channelFaults : [],
      ...{ type: 'practise' as const, seed: Number(seed), audible: audible && options.pace === 1, outputId: readChosenDevices().output },
    }
    for (const command of [{ type: 'front', mode } as const, practise]) {
      const done = await station?.do(command)
      if (done && !done.ok) return done.why
    }
    router.push(MODE_SCREENS[mode].path)
    return undefined
  }
}
