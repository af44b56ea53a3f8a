/** Amateur bands by their ADIF names with the widest limits of any region, in Hz (ADIF specification, band enumeration). */
const BANDS: readonly (readonly [string, number, number])[] = [
  ['2190m', 135_700, 137_800],
  ['630m', 472_000, 479_000],
  ['160m', 1_800_000, 2_000_000],
  ['80m', 3_500_000, 4_000_000],
  ['60m', 5_060_000, 5_450_000],
  ['40m', 7_000_000, 7_300_000],
  ['30m', 10_100_000, 10_150_000],
  ['20m', 14_000_000, 14_350_000],
  ['17m', 18_068_000, 18_168_000],
  ['15m', 21_000_000, 21_450_000],
  ['12m', 24_890_000, 24_990_000],
  ['10m', 28_000_000, 29_700_000],
  ['6m', 50_000_000, 54_000_000],
  ['4m', 70_000_000, 71_000_000],
  ['2m', 144_000_000, 148_000_000],
  ['1.25m', 222_000_000, 225_000_000],
  ['70cm', 420_000_000, 450_000_000],
  ['23cm', 1_240_000_000, 1_300_000_000],
]

/** Names of all bands, longest wave first. */
export const bandNames: readonly string[] = BANDS.map(([name]) => name)

/** The band that holds a frequency, or undefined outside all of them. */
export function bandOf(frequencyHz: number): string | undefined {
  return BANDS.find(([, from, to]) => frequencyHz >= from && frequencyHz <= to)?.[0]
}
