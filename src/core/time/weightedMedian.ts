export interface WeightedValue {
  value: number
  weight: number
}

/** The value that half of the weight lies below. @throws {RangeError} no values */
export function weightedMedian(items: readonly WeightedValue[]): number {
  if (items.length === 0) throw new RangeError('weightedMedian needs at least one value, got none')
  const sorted = [...items].sort((a, b) => a.value - b.value)
  const half = sorted.reduce((sum, item) => sum + item.weight, 0) / 2
  let sum = 0
  for (let i = 0; i < sorted.length; i++) {
    sum += sorted[i]!.weight
    if (sum > half) return sorted[i]!.value
    if (sum === half) return (sorted[i]!.value + sorted[Math.min(i + 1, sorted.length - 1)]!.value) / 2
  }
  return sorted[sorted.length - 1]!.value
}

/**
 * The weighted median of all pairwise means (Hodges and Lehmann's location): as deaf to a few wild values as a median, and
 * almost as exact as a mean when there are none. Good for up to a few hundred values.
 */
export function pairwiseMedian(items: readonly WeightedValue[]): number {
  const pairs: WeightedValue[] = []
  for (let i = 0; i < items.length; i++)
    for (let j = i; j < items.length; j++)
      pairs.push({
        value: (items[i]!.value + items[j]!.value) / 2,
        // A value paired with itself counts half, as in the sum over all ordered pairs.
        weight: items[i]!.weight * items[j]!.weight * (i === j ? 0.5 : 1),
      })
  return weightedMedian(pairs)
}

/** The median without weights. @throws {RangeError} no values */
export function median(values: readonly number[]): number {
  return weightedMedian(values.map((value) => ({ value, weight: 1 })))
}
