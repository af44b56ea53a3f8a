/** One stretch of several that follow each other. */
export function joinSamples(parts: readonly Float32Array[]): Float32Array {
  const joined = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    joined.set(part, at)
    at += part.length
  }
  return joined
}
