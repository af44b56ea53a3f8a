import { frequencyWords } from './frequency'

test.each([
  [1_840_000, '1\u202f840.0 kHz'],
  [475_600, '475.6 kHz'],
  [14_074_000, '14\u202f074.0 kHz'],
  [29_999_940, '29\u202f999.9 kHz'],
  [50_313_000, '50.313 MHz'],
  [144_800_000, '144.800 MHz'],
  [1_296_500_000, '1296.500 MHz'],
])('%d Hz is %s', (hz, words) => expect(frequencyWords(hz)).toBe(words))
