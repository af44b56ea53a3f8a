import { CLOCK_KIND_WORDS, type ClockNote, type ClockSourceKind } from '@/core/time'

function seconds(ms: number): string {
  const size = Math.abs(ms)
  if (size < 120_000) return `${(size / 1000).toFixed(2)} s`
  if (size < 7_200_000) return `${Math.round(size / 60_000)} min`
  if (size < 172_800_000) return `${(size / 3_600_000).toFixed(1)} h`
  return `${Math.round(size / 86_400_000)} days`
}

/** What happened to the clock, in a sentence. */
export function describeClockNote(note: ClockNote): string {
  switch (note.kind) {
    case 'stepped': {
      const who = note.source in CLOCK_KIND_WORDS ? CLOCK_KIND_WORDS[note.source as ClockSourceKind] : 'the clock'
      return `Zeptik’s clock was moved ${note.byMs > 0 ? 'forward' : 'back'} by ${seconds(note.byMs)} (${who}).`
    }
    case 'wallStepped':
      return `The computer’s clock was set ${note.byMs > 0 ? 'forward' : 'back'} by ${seconds(note.byMs)}. Zeptik’s clock went on undisturbed.`
    case 'sleptOrStepped':
      return `The computer slept, or its clock was set forward, by ${seconds(note.byMs)}. A new reading is needed: its own clock cannot tell which.`
    case 'paused':
      return `This page was not run for ${seconds(note.forMs)}. The clock went on; slots in that time were lost.`
    case 'contradiction':
    case 'refused':
      return note.words
  }
}
