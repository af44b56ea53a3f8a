// What a screen may ask of the station, in words that could go over a wire: each is checked before it is obeyed.
import { z } from 'zod'
import { SOUND_MODE_IDS } from '@/core/modes/modeId'
import type { ClockReading } from '@/core/time'
import { stationSchema } from '@/core/station'
import { activationSchema } from '@/core/activation'
import { TEST_KINDS } from '@/core/transmit'
import { RECEIVE_FAULTS } from '@/standins'
import { contactDraftSchema } from '../modes/psk31/state'
import type { Recording } from '../station/sources'
import type { BrowserReceiver } from '../station/state'

const parity = z.enum(['even', 'odd'])
/** How many times as fast as real time a world of its own may run. */
const pace = z.number().min(1).max(60)
const audioHz = z.number().min(0).max(4000)
const call = z.string().min(1).max(20)
const id = z.string().max(500).optional()

/** A message of FT8 in the lane that was chosen. */
const lane = { audioOffsetHz: audioHz }

const bandFaults = z.array(z.string().max(30)).max(12)

const stationCommands = [
  z.object({ type: z.literal('front'), mode: z.enum(SOUND_MODE_IDS) }),
  z.object({ type: z.literal('listen'), deviceId: id, outputId: id }),
  // The samples are handed over, and what reads the file stays where the file is.
  z.object({
    type: z.literal('play'),
    recording: z.custom<Recording>((value) => typeof value === 'object' && value !== null),
    pace,
  }),
  z.object({
    ...{
      type: z.literal('practise'),
      seed: z.int(),
      stations: z.int().min(1).max(80),
      pace,
      audible: z.boolean(),
    },
    ...{ clockErrorMs: z.number().min(-1e11).max(1e11), faults: z.array(z.enum(RECEIVE_FAULTS)), outputId: id },
    bandFaults: bandFaults.default([]),
  }),
  z.object({ type: z.literal('practiceBandFaults'), faults: bandFaults }),
  z.object({ type: z.literal('practiceFaults'), faults: z.array(z.enum(RECEIVE_FAULTS)) }),
  z.object({ type: z.literal('practiceVolume'), db: z.number().min(-60).max(80) }),
  z.object({ type: z.literal('stopListening') }),
  z.object({ type: z.literal('silence'), why: z.string().max(200).optional() }),
  z.object({ type: z.literal('checkPassed') }),
  z.object({
    ...{ type: z.literal('test'), kind: z.enum(TEST_KINDS), amplitude: z.number().gt(0).max(1), durationS: z.number().gt(0).max(10) },
    goesOn: z.boolean().optional(),
  }),
  z.object({ type: z.literal('outputDelay'), delayMs: z.number().min(-1000).max(2000) }),
  z.object({ type: z.literal('measureLevels') }),
  z.object({ type: z.literal('converterNoise'), dbfs: z.number().optional() }),
  z.object({ type: z.literal('profile'), station: stationSchema }),
  z.object({ type: z.literal('readinessAlso'), modesInUse: z.array(z.string()), levelChanges: z.int().optional() }),
  z.object({ type: z.literal('activation'), activation: activationSchema.optional() }),
  z.object({ type: z.literal('personActed') }),
  z.object({ type: z.literal('retryStoring') }),
] as const

const clockCommands = [
  z.object({ type: z.literal('clock.follow'), source: z.string().max(200) }),
  z.object({ type: z.literal('clock.leaveOut'), source: z.string().max(200), leftOut: z.boolean() }),
  z.object({ type: z.literal('clock.forget'), source: z.string().max(200) }),
  z.object({ type: z.literal('clock.byHand'), byMs: z.number().finite() }),
  z.object({ type: z.literal('clock.reading'), reading: z.custom<ClockReading>((value) => typeof value === 'object' && value !== null) }),
  // A receiver on a port of the screen's own device.
  z.object({
    type: z.literal('clock.receiver'),
    receiver: z.custom<BrowserReceiver>((value) => typeof value === 'object' && value !== null),
  }),
] as const

const ft8Commands = [
  z.object({ type: z.literal('ft8.answer'), call, ...lane }),
  z.object({ type: z.literal('ft8.callCq'), txParity: parity, ...lane }),
  z.object({ type: z.literal('ft8.say'), text: z.string().max(40), txParity: parity, ...lane }),
  z.object({ type: z.literal('ft8.sayAgain') }),
  z.object({ type: z.literal('ft8.arrangeCallers'), calls: z.array(call).max(100) }),
  z.object({ type: z.literal('ft8.stop') }),
  z.object({ type: z.literal('ft8.findSlots') }),
  z.object({ type: z.literal('ft8.dropFound') }),
  z.object({ type: z.literal('ft8.acceptFound'), slots: z.int() }),
] as const

const psk31Commands = [
  z.object({ type: z.literal('psk31.focus'), target: z.union([z.object({ channel: z.int() }), z.object({ frequencyHz: audioHz })]) }),
  z.object({ type: z.literal('psk31.leave') }),
  z.object({ type: z.literal('psk31.resume'), id: z.string().max(60) }),
  z.object({ type: z.literal('psk31.drop'), id: z.string().max(60) }),
  z.object({ type: z.literal('psk31.fill'), change: contactDraftSchema.partial() }),
  z.object({ type: z.literal('psk31.split'), sendHz: audioHz.optional() }),
  z.object({
    ...{ type: z.literal('psk31.callCq'), text: z.string().min(1).max(400) },
    ...{ tries: z.int().min(1).max(10), pauseS: z.number().min(3).max(60) },
  }),
  z.object({ type: z.literal('psk31.stopCq') }),
  z.object({ type: z.literal('psk31.say'), text: z.string().max(2000), ends: z.boolean() }),
  z.object({ type: z.literal('psk31.takeBack') }),
  z.object({ type: z.literal('psk31.end') }),
  z.object({ type: z.literal('psk31.log') }),
] as const

const packetCommands = [
  z.object({ type: z.literal('packet.begin') }),
  z.object({
    ...{ type: z.literal('logSession'), call, startedUtcMs: z.number().finite(), endedUtcMs: z.number().finite() },
    lines: z.array(z.object({ utcMs: z.number().finite(), mine: z.boolean(), text: z.string().max(200) })).max(20),
    practice: z.boolean(),
  }),
] as const

export const commandSchema = z.discriminatedUnion('type', [
  ...stationCommands,
  ...clockCommands,
  ...ft8Commands,
  ...psk31Commands,
  ...packetCommands,
])
export type Command = z.input<typeof commandSchema>
/** As it is after the check. */
export type CheckedCommand = z.output<typeof commandSchema>
export type CommandType = Command['type']
