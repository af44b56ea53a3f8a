import { z } from 'zod'
import { SOUND_MODE_IDS, type SoundModeId } from '@/core/modes/modeId'
import { localStore } from './localStore'

/** The mode that was in front when this page was closed. */
export const modeInFrontStore = localStore<SoundModeId | undefined>('zeptik-mode', z.enum(SOUND_MODE_IDS), undefined)
