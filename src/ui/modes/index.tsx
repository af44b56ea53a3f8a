import type { ComponentType } from 'react'
import type { SoundModeId } from '@/core/modes'
import { CallWatch as Ft8CallWatch } from './ft8/CallWatch'
import { SlotCell } from './ft8/SlotCell'
import { CallWatch as PacketCallWatch } from './packet/CallWatch'
import { SessionCell } from './packet/SessionCell'
import { CallWatch as Psk31CallWatch } from './psk31/CallWatch'
import { FocusCell } from './psk31/FocusCell'

interface ModeScreen {
  path: string
  /** As it stands among the stages. */
  label: string
  /** On a button that leads there. */
  go: string
  /** Tells who calls us while the mode is in front; shows nothing. */
  CallWatch: ComponentType<{ onCalled: (call: string) => void }>
  /** What the strip shows while the mode is in front. */
  StripCell: ComponentType<{ now: number | undefined }>
}

/** Where each mode is operated: a forgotten one does not compile. */
export const MODE_SCREENS: Record<SoundModeId, ModeScreen> = {
  ft8: { path: '/slots', label: 'Slots', go: 'Go to the slots', StripCell: SlotCell, CallWatch: Ft8CallWatch },
  psk31: { path: '/ribbons', label: 'Ribbons', go: 'Go to the ribbons', StripCell: FocusCell, CallWatch: Psk31CallWatch },
  packet: { path: '/sessions', label: 'Sessions', go: 'Go to the sessions', StripCell: SessionCell, CallWatch: PacketCallWatch },
}
