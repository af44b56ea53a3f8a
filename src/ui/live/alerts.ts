/** What an operator who looks elsewhere must notice, told apart by sound and by touch. */
export type Alert = 'called' | 'made' | 'alarm'

export const ALERT_WORDS: Record<Alert, string> = {
  called: 'A station calls you',
  made: 'Contact made',
  alarm: 'Something needs you',
}

/** Tones one after the other: frequency in Hz and length in ms; 0 Hz is a pause. */
const TONES: Record<Alert, readonly (readonly [hz: number, ms: number])[]> = {
  called: [
    [660, 120],
    [880, 200],
  ],
  made: [
    [784, 90],
    [0, 60],
    [784, 90],
    [0, 60],
    [1047, 220],
  ],
  alarm: [
    [330, 350],
    [0, 120],
    [330, 350],
    [0, 120],
    [330, 500],
  ],
}
const VIBRATIONS: Record<Alert, readonly number[]> = { called: [120, 80, 200], made: [60, 60, 60, 60, 200], alarm: [500, 150, 500] }

type SinkContext = AudioContext & { setSinkId?: (id: string) => Promise<void> }

/**
 * Why no sound may be made: what goes to the radio's own output would key its VOX and go on the air.
 * @param radioTo the output for transmitting; empty for the system's
 */
export function whyNoSounds(soundsTo: string, radioTo: string, canChoose: boolean): string | undefined {
  if (!canChoose) return 'This browser cannot choose an output for sounds, so they might go to the radio. They stay off.'
  if (radioTo === '' || radioTo === 'default')
    return 'Choose the output for transmitting on the Connect screen first: as long as the radio has the system’s, sounds might reach it.'
  if (soundsTo === '' || soundsTo === 'default') return 'Choose an output for sounds: the system’s one may be the radio’s.'
  if (soundsTo === radioTo) return 'This is the output that goes to the radio. Choose another one for sounds.'
  return undefined
}

export const canChooseOutput = (): boolean => typeof AudioContext !== 'undefined' && 'setSinkId' in AudioContext.prototype

/** Plays an alert at an output. @returns why it could not */
export async function soundAlert(alert: Alert, soundsTo: string, radioTo: string): Promise<string | undefined> {
  const why = whyNoSounds(soundsTo, radioTo, canChooseOutput())
  if (why) return why
  const context = new AudioContext() as SinkContext
  try {
    // Before the first sample: nothing may be heard anywhere else.
    await context.setSinkId!(soundsTo)
    const gain = context.createGain()
    gain.gain.value = 0.25
    gain.connect(context.destination)
    let atS = context.currentTime + 0.05
    for (const [hz, ms] of TONES[alert]) {
      if (hz > 0) {
        const tone = context.createOscillator()
        tone.frequency.value = hz
        tone.connect(gain)
        tone.start(atS)
        tone.stop(atS + ms / 1000)
      }
      atS += ms / 1000
    }
    await new Promise((done) => setTimeout(done, (atS - context.currentTime) * 1000 + 200))
    return undefined
  } catch (error) {
    return `The output for sounds cannot be used: ${(error as Error).message}`
  } finally {
    void context.close()
  }
}

export function vibrate(alert: Alert): void {
  navigator.vibrate?.([...VIBRATIONS[alert]])
}

/** Shown only while this tab is out of sight. */
export function notifyOutOfSight(alert: Alert, text: string): void {
  if (typeof Notification === 'undefined' || Notification.permission !== 'granted' || document.visibilityState === 'visible') return
  new Notification(`Zeptik: ${ALERT_WORDS[alert]}`, { body: text, tag: alert })
}
