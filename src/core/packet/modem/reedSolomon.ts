/** Reed-Solomon over GF(256) with x^8 + x^4 + x^3 + x^2 + 1, roots alpha^1 to alpha^checks. */
const FIELD = 255
const EXP = new Uint8Array(2 * FIELD)
const LOG = new Uint8Array(256)
for (let k = 0, x = 1; k < FIELD; k++) {
  EXP[k] = EXP[k + FIELD] = x
  LOG[x] = k
  x = x & 0x80 ? ((x << 1) ^ 0x11d) & 255 : x << 1
}

const times = (a: number, b: number) => (a === 0 || b === 0 ? 0 : EXP[LOG[a]! + LOG[b]!]!)
const over = (a: number, b: number) => (a === 0 ? 0 : EXP[LOG[a]! + FIELD - LOG[b]!]!)
/** Value of a polynomial, lowest power first. */
const at = (polynomial: readonly number[], x: number) => polynomial.reduceRight((sum, c) => times(sum, x) ^ c, 0)

function product(a: readonly number[], b: readonly number[]): number[] {
  const out = new Array<number>(a.length + b.length - 1).fill(0)
  a.forEach((x, i) => b.forEach((y, k) => (out[i + k]! ^= times(x, y))))
  return out
}

/** Highest power first, without the leading one. */
const generators = new Map<number, readonly number[]>()
function generatorOf(checks: number): readonly number[] {
  const known = generators.get(checks)
  if (known) return known
  let generator: number[] = [1]
  for (let k = 1; k <= checks; k++) generator = product(generator, [EXP[k]!, 1])
  const out = generator.reverse().slice(1)
  generators.set(checks, out)
  return out
}

/** Check bytes of data, as they follow it. */
export function checkBytes(data: Uint8Array, checks: number): Uint8Array {
  const generator = generatorOf(checks)
  const rest = new Uint8Array(checks)
  for (const byte of data) {
    const factor = byte ^ rest[0]!
    rest.copyWithin(0, 1)
    rest[checks - 1] = 0
    if (factor !== 0) for (let k = 0; k < checks; k++) rest[k]! ^= times(factor, generator[k]!)
  }
  return rest
}

/**
 * Corrects a block of data and check bytes, shortened or not. Errors count twice, erasures once; together at most as many as check bytes.
 * @param erased places that are known to be doubtful
 * @returns the block and how many of its bytes were changed, or nothing where there is too much wrong
 */
export function correctBlock(
  block: Uint8Array,
  checks: number,
  erased: readonly number[] = [],
): { block: Uint8Array; changed: number } | undefined {
  if (erased.length > checks) return undefined
  const syndromes = Array.from({ length: checks }, (_, k) => block.reduce((sum, byte) => times(sum, EXP[k + 1]!) ^ byte, 0))
  if (syndromes.every((s) => s === 0)) return { block: block.slice(), changed: 0 }
  const locators = erased.map((place) => EXP[(block.length - 1 - place) % FIELD]!)
  const erasures = locators.reduce<number[]>((sum, x) => product(sum, [1, x]), [1])
  const errors = errorLocator(product(erasures, syndromes).slice(0, checks), erased.length, checks)
  if (!errors) return undefined
  const locator = product(errors, erasures)
  const degree = degreeOf(locator)
  const places: number[] = []
  for (let place = 0; place < block.length; place++)
    if (at(locator, EXP[(FIELD - ((block.length - 1 - place) % FIELD)) % FIELD]!) === 0) places.push(place)
  if (places.length !== degree) return undefined
  const evaluator = product(syndromes, locator).slice(0, checks)
  const derivative = locator.map((c, k) => (k % 2 === 1 ? c : 0)).slice(1)
  const out = block.slice()
  let changed = 0
  for (const place of places) {
    const inverse = EXP[(FIELD - ((block.length - 1 - place) % FIELD)) % FIELD]!
    const slope = at(derivative, inverse)
    if (slope === 0) return undefined
    const value = over(at(evaluator, inverse), slope)
    if (value !== 0) changed++
    out[place]! ^= value
  }
  return { block: out, changed }
}

const degreeOf = (polynomial: readonly number[]) => polynomial.findLastIndex((c) => c !== 0)

/** Berlekamp and Massey's search, over the syndromes from the first that erasures leave. @returns lowest power first */
function errorLocator(syndromes: readonly number[], erased: number, checks: number): number[] | undefined {
  let locator = [1]
  let before = [1]
  let length = 0
  let gap = 1
  let last = 1
  const count = checks - erased
  for (let k = 0; k < count; k++) {
    let wrong = syndromes[k + erased]!
    for (let i = 1; i <= length; i++) wrong ^= times(locator[i] ?? 0, syndromes[k + erased - i]!)
    if (wrong === 0) {
      gap++
      continue
    }
    const kept = locator
    const factor = over(wrong, last)
    const moved = [...new Array<number>(gap).fill(0), ...before.map((c) => times(c, factor))]
    locator = Array.from({ length: Math.max(locator.length, moved.length) }, (_, i) => (locator[i] ?? 0) ^ (moved[i] ?? 0))
    if (2 * length > k) {
      gap++
      continue
    }
    length = k + 1 - length
    before = kept
    last = wrong
    gap = 1
  }
  return 2 * length > count || degreeOf(locator) !== length ? undefined : locator.slice(0, length + 1)
}
