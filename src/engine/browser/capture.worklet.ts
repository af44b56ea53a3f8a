// Runs in the audio thread: only gathers samples and posts them. Bundled into public/worklets by scripts/build-worklets.mjs.
declare const currentFrame: number
declare class AudioWorkletProcessor {
  readonly port: MessagePort
}
declare function registerProcessor(name: string, processor: new () => AudioWorkletProcessor): void

const BATCH = 2048

class CaptureProcessor extends AudioWorkletProcessor {
  private batches = [new Float32Array(BATCH), new Float32Array(BATCH)]
  private channels = 1
  private filled = 0
  private firstFrame = 0

  process(inputs: Float32Array[][]): boolean {
    const input = inputs[0]
    if (!input?.[0]) return true
    const count = Math.min(2, input.length)
    if (this.filled === 0) {
      this.firstFrame = currentFrame
      this.channels = count
    }
    // A stream that changes its channels within a batch keeps those it began the batch with.
    for (let c = 0; c < this.channels; c++) this.batches[c]!.set(input[Math.min(c, count - 1)]!, this.filled)
    this.filled += input[0].length
    if (this.filled >= BATCH) {
      // One copy is posted and handed over; the batches themselves are used again, so the audio thread allocates once a batch.
      const channels = this.batches.slice(0, this.channels).map((batch) => batch.slice(0, this.filled))
      this.port.postMessage(
        { firstFrame: this.firstFrame, channels },
        channels.map((samples) => samples.buffer),
      )
      this.filled = 0
    }
    return true
  }
}

registerProcessor('zeptik-capture', CaptureProcessor)
