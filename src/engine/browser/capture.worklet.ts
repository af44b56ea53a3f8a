// Runs in the audio thread: only gathers samples and posts them. Bundled into public/worklets by scripts/build-worklets.mjs.
declare const currentFrame: number
declare class AudioWorkletProcessor {
  readonly port: MessagePort
}
declare function registerProcessor(name: string, processor: new () => AudioWorkletProcessor): void

const BATCH = 2048

class CaptureProcessor extends AudioWorkletProcessor {
  private batch = new Float32Array(BATCH)
  private filled = 0
  private firstFrame = 0

  process(inputs: Float32Array[][]): boolean {
    const input = inputs[0]?.[0]
    if (!input) return true
    if (this.filled === 0) this.firstFrame = currentFrame
    this.batch.set(input, this.filled)
    this.filled += input.length
    if (this.filled >= BATCH) {
      // One copy is posted and handed over; the batch itself is used again, so the audio thread allocates once a batch.
      const samples = this.batch.slice(0, this.filled)
      this.port.postMessage({ firstFrame: this.firstFrame, samples }, [samples.buffer])
      this.filled = 0
    }
    return true
  }
}

registerProcessor('zeptik-capture', CaptureProcessor)
