/** Alphabet of hashes and of non-standard calls, base 38. */
const CALL_ALPHABET = ' 0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ/'
/** Longest call that a type 4 message or a hash can hold. */
const LONGEST_CALL = 11

const MULTIPLIER = 47_055_833_459n

/**
 * Reads a call of up to 11 characters as a base-38 number.
 * @param align 'left' pads with trailing spaces (hashes), 'right' with leading ones (type 4 payloads)
 */
export function callToBase38(call: string, align: 'left' | 'right'): bigint {
  const padded = align === 'left' ? call.padEnd(LONGEST_CALL) : call.padStart(LONGEST_CALL)
  let n = 0n
  for (const character of padded) {
    const digit = CALL_ALPHABET.indexOf(character)
    if (digit < 0 || padded.length > LONGEST_CALL) throw new RangeError(`call must be up to 11 characters of 0-9 A-Z /, got "${call}"`)
    n = n * 38n + BigInt(digit)
  }
  return n
}

/** Inverse of `callToBase38` with spaces trimmed, or undefined when the number is beyond 11 characters. */
export function base38ToCall(n: bigint): string | undefined {
  let text = ''
  for (let i = 0; i < LONGEST_CALL; i++) {
    text = CALL_ALPHABET[Number(n % 38n)]! + text
    n /= 38n
  }
  return n === 0n ? text.trim() : undefined
}

/**
 * Computes the hash of a call (protocol description, QEX July/August 2020).
 * @param bits 10, 12 or 22
 */
export function hashCall(call: string, bits: 10 | 12 | 22): number {
  const product = (callToBase38(call, 'left') * MULTIPLIER) & 0xffff_ffff_ffff_ffffn
  return Number(product >> BigInt(64 - bits))
}

/** Calls heard in full, so that hashed ones can be shown. */
export interface CallMemory {
  /** Remembers a call; calls that no hash can hold are ignored. */
  remember(call: string): void
  /** The call most lately remembered with this hash, or undefined. */
  recall(hash: number, bits: 10 | 12 | 22): string | undefined
  /** Calls remembered, oldest first. */
  readonly calls: readonly string[]
}

/**
 * Creates a memory that keeps the `capacity` calls heard most lately.
 */
export function createCallMemory(capacity = 2000, initial: Iterable<string> = []): CallMemory {
  const byCall = new Map<string, readonly [number, number, number]>()
  const byHash = { 10: new Map<number, string>(), 12: new Map<number, string>(), 22: new Map<number, string>() }
  const forget = (call: string) => {
    const hashes = byCall.get(call)
    if (!hashes) return
    byCall.delete(call)
    ;([10, 12, 22] as const).forEach((bits, i) => {
      if (byHash[bits].get(hashes[i]!) === call) byHash[bits].delete(hashes[i]!)
    })
  }
  const memory: CallMemory = {
    remember(call) {
      if (!/^[0-9A-Z/]{3,11}$/.test(call)) return
      const known = byCall.get(call)
      const hashes = known ?? ([hashCall(call, 10), hashCall(call, 12), hashCall(call, 22)] as const)
      if (known) byCall.delete(call)
      byCall.set(call, hashes)
      byHash[10].set(hashes[0], call)
      byHash[12].set(hashes[1], call)
      byHash[22].set(hashes[2], call)
      if (byCall.size > capacity) forget(byCall.keys().next().value!)
    },
    recall: (hash, bits) => byHash[bits].get(hash),
    get calls() {
      return [...byCall.keys()]
    },
  }
  for (const call of initial) memory.remember(call)
  return memory
}
