import { MODES, SOUND_MODE_IDS } from '@/core/modes'
import type { RunningStation } from '../station/station'
import { commandSchema, type CheckedCommand, type Command, type CommandType } from './commands'
import type { Done, Followed, SliceName, Slices, StationPort } from './stationPort'

type Handlers = {
  [Type in Exclude<CommandType, 'silence'>]: (command: Extract<CheckedCommand, { type: Type }>) => Done | void | Promise<Done | void>
}

const DONE: Done = { ok: true }
const LONGEST_WHY = 200

/** A station that runs in this very page. */
export class LocalStation implements StationPort {
  private readonly handlers: Handlers

  constructor(private readonly station: RunningStation) {
    this.handlers = handlersOf(station)
  }

  get clock() {
    return this.station.clock
  }

  slice<Name extends SliceName>(name: Name): Followed<Slices[Name]> {
    const { store, modes } = this.station
    const slices: { [Each in SliceName]: Followed<Slices[Each]> } = {
      station: store,
      ft8: modes.ft8.state,
      psk31: modes.psk31.state,
      packet: modes.packet.state,
    }
    return slices[name]
  }

  picture(listener: Parameters<StationPort['picture']>[0]): () => void {
    return this.station.onPicture(listener)
  }

  async do(command: Command): Promise<Done> {
    // Nothing that is wrong with the order keeps it from being obeyed.
    if (command.type === 'silence') {
      this.station.silence(typeof command.why === 'string' ? command.why.slice(0, LONGEST_WHY) : undefined)
      return DONE
    }
    const parsed = commandSchema.safeParse(command)
    if (!parsed.success) {
      const issue = parsed.error.issues[0]!
      return { ok: false, why: `The station cannot do that (${[command.type, ...issue.path].join(' ')}): ${issue.message}.` }
    }
    const notInFront = this.whyNotInFront(parsed.data.type)
    if (notInFront) return notInFront
    const handler = this.handlers[parsed.data.type as keyof Handlers] as (checked: CheckedCommand) => Done | void | Promise<Done | void>
    return (await handler(parsed.data)) ?? DONE
  }

  /** What a mode is asked to do it does only in front: else it would go on unseen when it comes back there. */
  private whyNotInFront(type: CommandType): Done | undefined {
    const mode = SOUND_MODE_IDS.find((id) => type.startsWith(`${id}.`))
    if (!mode || mode === this.station.store.getState().mode) return undefined
    return { ok: false, why: `${MODES[mode].name} is not in front. Bring it there first.` }
  }
}

/** Everything that can be asked of a station: a command without an answer does not compile. */
function handlersOf(station: RunningStation): Handlers {
  const { ft8, psk31, packet } = station.modes
  const { time } = station
  return {
    front: ({ mode }) => station.bringToFront(mode),
    listen: ({ deviceId, outputId }) => station.listenToMicrophone(deviceId, outputId),
    play: ({ recording, pace }) => station.playRecording(recording, pace),
    practise: ({ outputId, type: _, ...options }) => station.startPractice(options, outputId),
    practiceFaults: ({ faults }) => station.setPracticeFaults(faults),
    practiceBandFaults: ({ faults }) => station.setPracticeBandFaults(faults),
    practiceVolume: ({ db }) => station.setPracticeVolume(db),
    stopListening: () => station.stopListening(),
    checkPassed: () => station.passCheck(),
    async test({ kind, amplitude, durationS, goesOn }) {
      const result = await station.sendTest(kind, { amplitude, durationS, ...(goesOn && { goesOn }) })
      return result.sent ? { ok: true, complete: result.complete, heard: result.heard } : { ok: false, why: result.why, need: result.need }
    },
    outputDelay: ({ delayMs }) => station.setOutputDelayMs(delayMs),
    measureLevels: () => station.levels.restart(false),
    converterNoise: ({ dbfs }) => station.levels.setConverter(dbfs),
    profile: ({ station: profile }) => station.setProfile(profile),
    readinessAlso: ({ modesInUse, levelChanges }) => station.readinessAlso(modesInUse, levelChanges),
    activation: ({ activation }) => station.setActivation(activation),
    personActed: () => station.personActed(),
    retryStoring: () => station.retryStoring(),
    'clock.follow': ({ source }) => time.follow(source),
    'clock.leaveOut': ({ source, leftOut }) => time.leaveOut(source, leftOut),
    'clock.forget': ({ source }) => time.forget(source),
    'clock.byHand': ({ byMs }) => time.byHand(byMs),
    'clock.reading': ({ reading }) => time.read(reading),
    'clock.receiver': ({ receiver }) => station.store.setState({ browserReceiver: receiver }),
    'ft8.answer': ({ call, audioOffsetHz }) => ft8.answer(call, audioOffsetHz),
    'ft8.callCq': ({ txParity, audioOffsetHz }) => ft8.callCq(txParity, audioOffsetHz),
    'ft8.say': ({ text, txParity, audioOffsetHz }) => ft8.say(text, txParity, audioOffsetHz),
    'ft8.sayAgain': () => ft8.sayAgain(),
    'ft8.arrangeCallers': ({ calls }) => ft8.arrangeCallers(calls),
    'ft8.stop': () => ft8.stopExchange(),
    'ft8.findSlots': () => ft8.findSlots(),
    'ft8.dropFound': () => ft8.dropFound(),
    'ft8.acceptFound': ({ slots }) => ft8.acceptFound(slots),
    'psk31.focus': ({ target }) => psk31.focus(target),
    'psk31.leave': () => psk31.leaveFocus(),
    'psk31.resume': ({ id }) => psk31.resume(id),
    'psk31.drop': ({ id }) => psk31.dropUnfinished(id),
    'psk31.split': ({ sendHz }) => psk31.split(sendHz),
    'psk31.callCq': ({ text, tries, pauseS }) => psk31.callCq(text, { tries, pauseMs: 1000 * pauseS }),
    'psk31.stopCq': () => psk31.stopCq(),
    'psk31.fill': ({ change }) => psk31.fill(change),
    'psk31.say': ({ text, ends }) => psk31.say(text, ends),
    'psk31.takeBack': () => psk31.takeBack(),
    'psk31.end': () => psk31.endOver(),
    'psk31.log': () => psk31.log(),
    'packet.begin': () => packet.begin(),
    logSession: (session) => packet.log(session),
  }
}
