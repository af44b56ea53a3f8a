/** Every mode that the station knows, in the order in which they are shown. */
export const MODE_IDS = ['ft8', 'psk31', 'packet'] as const
export type ModeId = (typeof MODE_IDS)[number]

/** Those whose sound this device can make and read itself, one of them in front at a time: dial and sound card are shared. */
export const SOUND_MODE_IDS = ['ft8', 'psk31', 'packet'] as const satisfies readonly ModeId[]
/** In use before an operator has chosen. */
export const FIRST_MODE_IDS: readonly ModeId[] = ['ft8', 'psk31']
export type SoundModeId = (typeof SOUND_MODE_IDS)[number]
