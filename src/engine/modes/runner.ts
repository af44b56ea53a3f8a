import type { StoreApi } from 'zustand/vanilla'
import type { SoundModeId } from '@/core/modes/modeId'
import type { Station } from '@/core/station'
import type { GateNeed } from '@/core/transmit'
import type { Air, Grant, OnAir } from '../station/air'
import type { AudioBlock } from '../station/audioBlock'
import type { PictureRow } from '../station/bandPicture'
import type { ContactKeeper } from '../station/contactKeeper'
import type { HeardKeeper } from '../station/heardKeeper'
import type { StationState } from '../station/state'
import type { StationClock } from '../station/stationClock'
import type { TimeKeeper } from '../station/timeKeeper'
import type { WorkedKeeper } from '../station/workedKeeper'

export type SourceKind = 'microphone' | 'recording' | 'practice'

/** Why nothing can be sent now, and what a person would have to do. */
export interface Refusal {
  why: string
  need: GateNeed | 'source' | 'dial'
}

export type StartResult = { ok: true } | ({ ok: false } & Refusal)

/** What goes out next by itself, because a person began something that goes on. */
export interface Upcoming {
  text: string
  startUtcMs: number
  audioOffsetHz: number
  /** It goes out only if the other one asks for it. */
  onlyIfAsked: boolean
}

/** What a mode has of the station. */
export interface ModeHost {
  clock: StationClock
  newId: () => string
  station: () => StationState
  set: (change: Partial<StationState>) => void
  profile: () => Station
  air: Air
  contacts: ContactKeeper
  heard: HeardKeeper
  time: TimeKeeper
  worked: WorkedKeeper
  /** Why nothing could be sent now, or undefined when it could. */
  whyNot: () => Refusal | undefined
  /** A person begins something: alarms so far have been seen. */
  begin: (what: string) => Grant
  /** Whether a link keys the radio, so that it need not key itself by VOX. */
  keyedByLink: () => boolean
  /** What plays now is a recording: as a whole, and when it began. */
  recording: () => { samples: Float32Array; startMonotonicMs: number } | undefined
  notify: (text: string) => void
}

/** A mode as it runs. Its state is a slice of plain data; only the one in front is given what is heard. */
export interface ModeRunner<State = unknown> {
  readonly id: SoundModeId
  readonly state: StoreApi<State>
  /** Another source, or none, or another mode in front: what was made of the old one is over. */
  restart(what: SourceKind | undefined): void
  block(block: AudioBlock): void
  row?(row: PictureRow): void
  /** Something goes out, of this mode or a test: nothing else is heard meanwhile. */
  sending?(onAir: OnAir): void
  tick(): void
  /** Whether something goes on that a change of source or mode would break off. */
  busy(): boolean
  /** Whether nothing that was heard is still on its way to the decoder: the clock may be set. */
  settled(): boolean
  /** What will go out next by itself; nothing while it waits for a person. */
  upcoming?(): Upcoming | undefined
  /** Silence has fallen. */
  silence(): void
  close(): void
}
