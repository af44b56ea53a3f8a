import { createMonoMix } from '@/core/audio'
import { createResampler } from '@/core/dsp'
import { SAMPLE_RATE_HZ } from '@/core/dsp'
import { SampleClockMeter } from '@/core/levels'
import type { AudioSource, OnBlock } from '../station/audioBlock'
import type { StationClock } from '../station/stationClock'
import { FrameStamper } from './frameStamper'

const PROCESSING = ['echoCancellation', 'noiseSuppression', 'autoGainControl'] as const
const PROCESSING_WORDS = { echoCancellation: 'echo cancellation', noiseSuppression: 'noise suppression', autoGainControl: 'automatic gain' }

type Opened = { ok: true; source: AudioSource; warnings: string[] } | { ok: false; error: string }

/** Words for why a microphone cannot be had, and what to do. */
export function explainMicrophoneError(error: unknown): string {
  switch ((error as DOMException).name) {
    case 'NotAllowedError':
      return 'The browser was not allowed to use the microphone. Allow it for this page (the sign beside the address), then start listening again.'
    case 'NotFoundError':
      return 'No audio input was found. Plug the interface or microphone in, then start listening again.'
    case 'NotReadableError':
      return 'The audio input is held by another program or not ready. Close what uses it, unplug it and plug it in again, then start again.'
    case 'OverconstrainedError':
      return 'The chosen audio input is gone. Choose another one.'
    default:
      return `The audio input could not be opened: ${(error as Error).message || 'no reason was given'}. Try again, or choose another input.`
  }
}

/** Opens an audio input with the browser's voice processing off, and checks that it really is. */
export async function openMicrophone(
  deviceId: string | undefined,
  clock: StationClock,
  onBlock: OnBlock,
  onLost: (why: string) => void,
): Promise<Opened> {
  if (!navigator.mediaDevices?.getUserMedia)
    return { ok: false, error: 'This page may not use the microphone: open it on this computer as http://127.0.0.1, or over https.' }
  let stream: MediaStream
  try {
    stream = await navigator.mediaDevices.getUserMedia({
      audio: {
        echoCancellation: false,
        noiseSuppression: false,
        autoGainControl: false,
        // Both channels, so that a dead one is noticed.
        channelCount: { ideal: 2 },
        ...(deviceId && { deviceId: { exact: deviceId } }),
      },
    })
  } catch (error) {
    return { ok: false, error: explainMicrophoneError(error) }
  }
  const track = stream.getAudioTracks()[0]!
  const settings = track.getSettings() as MediaTrackSettings & { latency?: number }
  const processing = PROCESSING.filter((name) => settings[name] === true).map((name) => PROCESSING_WORDS[name])
  const warnings = processing.map(
    (name) => `The browser keeps ${name} on: it spoils weak signals. Turn it off in the system’s sound settings, or use another browser.`,
  )
  const context = new AudioContext({ latencyHint: 'interactive' })
  try {
    await context.audioWorklet.addModule('/worklets/capture.js')
    if (context.state === 'suspended') await context.resume()
  } catch (error) {
    track.stop()
    await context.close()
    return { ok: false, error: `Capturing could not be started: ${(error as Error).message}. Reload the page and try again.` }
  }
  const input = context.createMediaStreamSource(stream)
  const capture = new AudioWorkletNode(context, 'zeptik-capture', {
    numberOfInputs: 1,
    numberOfOutputs: 0,
    channelCount: 2,
    channelCountMode: 'clamped-max',
    channelInterpretation: 'discrete',
  })
  const rateHz = Math.round(context.sampleRate)
  const stamper = new FrameStamper(rateHz)
  const sampleClock = new SampleClockMeter(rateHz)
  const mix = createMonoMix()
  let lostBlocks = 0
  let resampler = createResampler(rateHz, SAMPLE_RATE_HZ)
  let expectedFrame: number | undefined
  /** Samples given out since the stream began to be contiguous, and the frame it began at. */
  let given = 0
  let beganFrame = 0
  const latencyMs = (settings.latency ?? 0) * 1000
  capture.port.onmessage = ({ data }: MessageEvent<{ firstFrame: number; channels: Float32Array[] }>) => {
    const { firstFrame, channels } = data
    const { length } = channels[0]!
    const arrivedMs = performance.now()
    const firstMs = stamper.stamp(firstFrame, length, arrivedMs) - latencyMs
    sampleClock.push(firstFrame + length, arrivedMs)
    if (expectedFrame !== firstFrame) {
      // Frames were lost: what follows must not be joined to what came before.
      if (expectedFrame !== undefined) {
        lostBlocks++
        sampleClock.restart()
      }
      resampler = createResampler(rateHz, SAMPLE_RATE_HZ)
      given = 0
      beganFrame = firstFrame
    }
    expectedFrame = firstFrame + length
    const block = resampler.push(mix.push(channels))
    if (block.length === 0) return
    // The first of these samples belongs to an earlier frame than the batch: the filter holds some back.
    const frameOfBlock = beganFrame + (given * rateHz) / SAMPLE_RATE_HZ
    given += block.length
    const startMs = firstMs - ((firstFrame - frameOfBlock) / rateHz) * 1000
    onBlock({ samples: block, startUtcMs: clock.utcAtMonotonic(startMs), raw: { channels, rateHz } })
  }
  input.connect(capture)
  let stopped = false
  const lost = () => {
    if (!stopped) onLost(`The audio input "${track.label}" vanished. Plug it in again, then start listening again.`)
  }
  track.addEventListener('ended', lost)
  const unwatch = watchDevice(settings.deviceId, lost)
  const stop = () => {
    stopped = true
    unwatch()
    capture.port.onmessage = null
    input.disconnect()
    track.stop()
    void context.close()
  }
  const facts = () => {
    const measured = sampleClock.measure()
    return { processing, lostBlocks, ...(measured && { sampleClock: measured }) }
  }
  return { ok: true, source: { kind: 'microphone', label: track.label || 'Audio input', stop, facts }, warnings }
}

/** Some browsers go on with silence when a device is pulled out: the list of devices tells. */
function watchDevice(deviceId: string | undefined, onGone: () => void): () => void {
  const media = navigator.mediaDevices
  if (!deviceId || typeof media.addEventListener !== 'function') return () => undefined
  const look = async () => {
    const devices = await media.enumerateDevices().catch(() => undefined)
    const inputs = devices?.filter((d) => d.kind === 'audioinput' && d.deviceId !== '')
    if (inputs && !inputs.some((d) => d.deviceId === deviceId)) onGone()
  }
  const onChange = () => void look()
  media.addEventListener('devicechange', onChange)
  return () => media.removeEventListener('devicechange', onChange)
}
