import { z } from 'zod'
import { bandOf } from '../log'

export const CHANNEL_MODES = ['fm', 'fm-narrow', 'fm-data', 'usb', 'lsb', 'usb-data', 'lsb-data'] as const
export type ChannelMode = (typeof CHANNEL_MODES)[number]
export const CHANNEL_MODE_WORDS: Record<ChannelMode, string> = {
  fm: 'FM',
  'fm-narrow': 'FM narrow',
  'fm-data': 'FM data',
  usb: 'USB',
  lsb: 'LSB',
  'usb-data': 'USB data',
  'lsb-data': 'LSB data',
}

export const TONE_KINDS = ['none', 'tone', 'toneSquelch'] as const
export type ToneKind = (typeof TONE_KINDS)[number]
export const TONE_WORDS: Record<ToneKind, string> = { none: 'none', tone: 'tone sent', toneSquelch: 'tone sent and needed' }

/** The standard sub-audible tones, Hz. */
export const TONES_HZ = [
  67.0, 69.3, 71.9, 74.4, 77.0, 79.7, 82.5, 85.4, 88.5, 91.5, 94.8, 97.4, 100.0, 103.5, 107.2, 110.9, 114.8, 118.8, 123.0, 127.3, 131.8,
  136.5, 141.3, 146.2, 151.4, 156.7, 159.8, 162.2, 165.5, 167.9, 171.3, 173.8, 177.3, 179.9, 183.5, 186.2, 189.9, 192.8, 196.6, 199.5,
  203.5, 206.5, 210.7, 218.1, 225.7, 229.1, 233.6, 241.8, 250.3, 254.1,
] as const

const frequencySchema = z
  .number('A frequency is a number')
  .int('A frequency is given to the hertz')
  .min(100_000, 'Not below 0.1 MHz')
  .max(3_000_000_000, 'At most 3000 MHz')

/** A memory of the operator's list. */
export const channelSchema = z
  .object({
    id: z.uuid(),
    name: z.string().trim().min(1, 'A channel needs a name').max(40, 'At most 40 letters'),
    receiveHz: frequencySchema,
    transmitHz: frequencySchema,
    tone: z.enum(TONE_KINDS),
    toneHz: z.number().min(60, 'Tones are 60 to 260 Hz').max(260, 'Tones are 60 to 260 Hz').nullable(),
    mode: z.enum(CHANNEL_MODES),
    /** On-air speed of packet; null for other uses. */
    airBaud: z.union([z.literal(300), z.literal(1200), z.literal(9600)], 'On-air speed is 300, 1200 or 9600').nullable(),
    purpose: z.string().trim().max(120, 'At most 120 letters'),
  })
  .refine((c) => c.tone === 'none' || c.toneHz !== null, { path: ['toneHz'], message: 'Which tone? Give its frequency' })
export type Channel = z.infer<typeof channelSchema>

export const MOST_CHANNELS = 500
export const channelListSchema = z.array(channelSchema).max(MOST_CHANNELS, `At most ${MOST_CHANNELS} channels`)

export function emptyChannel(id: string): Channel {
  return {
    id,
    name: '',
    receiveHz: 144_800_000,
    transmitHz: 144_800_000,
    tone: 'none',
    toneHz: null,
    mode: 'fm',
    airBaud: 1200,
    purpose: '',
  }
}

/** Transmit less receive frequency, in words: `simplex`, `-600 kHz`. */
export function shiftWords({ receiveHz, transmitHz }: Pick<Channel, 'receiveHz' | 'transmitHz'>): string {
  const shiftKHz = (transmitHz - receiveHz) / 1000
  if (shiftKHz === 0) return 'simplex'
  return `${shiftKHz > 0 ? '+' : '−'}${Math.abs(shiftKHz)} kHz`
}

/** A frequency in MHz with at least three digits after the point, and no more than it needs. */
export function megahertz(frequencyHz: number): string {
  const text = (frequencyHz / 1e6).toFixed(6)
  return text.replace(/0{1,3}$/, '')
}

/** What is doubtful about a channel, in words; empty when nothing is. */
export function adviseChannel({ receiveHz, transmitHz, tone, mode, airBaud }: Channel): string[] {
  const advice: string[] = []
  const band = bandOf(transmitHz)
  if (band === undefined) advice.push(`${megahertz(transmitHz)} MHz is in no amateur band: transmitting there is not yours to do.`)
  else if (bandOf(receiveHz) !== band) advice.push('Receive and transmit are in two bands. A typing error, unless it is meant.')
  if (airBaud !== null && tone === 'toneSquelch')
    advice.push('Tone squelch hides stations that send no tone: packet does not hear when the channel is busy.')
  if (airBaud === 9600 && receiveHz < 100e6) advice.push('9600 baud is for VHF and UHF FM alone.')
  if (airBaud === 300 && mode.startsWith('fm')) advice.push('300 baud is used on HF in single sideband; on FM it is 1200 or 9600.')
  if (airBaud !== null && airBaud >= 1200 && receiveHz < 28e6) advice.push('Below 28 MHz packet runs at 300 baud.')
  if (airBaud === 9600 && mode === 'fm-narrow') advice.push('9600 baud needs the wide FM filter.')
  return advice
}
