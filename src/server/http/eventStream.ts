const ALIVE_EVERY_MS = 2000

export interface EventStreamOptions<T> {
  /** What is known now. */
  read(): T
  /** Calls back on changes. @returns a function that ends it */
  subscribe(listener: () => void): () => void
}

/** Server-sent events: at once, on every change, and every two seconds. */
export function eventStream<T>(request: Request, { read, subscribe }: EventStreamOptions<T>): Response {
  const encoder = new TextEncoder()
  let end: () => void = () => undefined
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const tell = () => {
        try {
          controller.enqueue(encoder.encode(`data: ${JSON.stringify(read())}\n\n`))
        } catch {
          end()
        }
      }
      const unsubscribe = subscribe(tell)
      const timer = setInterval(tell, ALIVE_EVERY_MS)
      end = () => {
        clearInterval(timer)
        unsubscribe()
      }
      request.signal.addEventListener('abort', () => {
        end()
        try {
          controller.close()
        } catch {
          // Closed by the other side already.
        }
      })
      tell()
    },
    cancel: () => end(),
  })
  return new Response(stream, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store, no-transform', 'x-accel-buffering': 'no' },
  })
}
