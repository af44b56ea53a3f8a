/** How much of the time each mode keys the transmitter, and what follows for power. */
const MODE_DUTY = {
  FT8: { keyedShare: 0.43, fullCarrier: true, note: 'keyed 12.6 of 30 s at full carrier' },
  PSK31: { keyedShare: 1, fullCarrier: true, note: 'keyed all the time while you type' },
  packet: { keyedShare: 0.3, fullCarrier: true, note: 'short bursts at full carrier; long ones when a message goes out' },
  voice: { keyedShare: 0.5, fullCarrier: false, note: 'peaks only: the mean is a third of the peak power' },
} as const
export type DutyMode = keyof typeof MODE_DUTY

/** Words to remind of power before a mode is used; the radio's manual decides. */
export function dutyReminder(mode: DutyMode, powerW: number | null): string {
  const { note, fullCarrier } = MODE_DUTY[mode]
  const half = powerW === null ? 'half of what it makes for voice' : `${Math.max(1, Math.round(powerW / 2))} W`
  return `${mode} is ${note}. ${fullCarrier ? `Small radios get hot: start with ${half} unless the manual allows more.` : 'What the manual says for voice holds.'}`
}
