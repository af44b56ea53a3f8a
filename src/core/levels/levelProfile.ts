import { z } from 'zod'
import type { AudioReport } from '../audio/audioExaminer'
import { dbfsWords } from '../audio/decibelWords'
import { FINDING_CODES, type FindingCode } from '../audio/findings'

const words = (longest: number) => z.string().trim().max(longest)
const level = z.number().finite().min(-300).max(100)

/** The figures of a set-up that was good. */
const levelFiguresSchema = z.object({
  rmsDbfs: level,
  noise2500Dbfs: level,
  headroomDb: level,
  passbandHz: z.tuple([z.number().finite(), z.number().finite()]).nullable(),
  humDbfs: level.nullable(),
  dcOffset: z.number().finite().min(-1).max(1),
  /** What was found then and accepted. */
  findings: z.array(z.enum(FINDING_CODES)).max(FINDING_CODES.length),
})
export type LevelFigures = z.infer<typeof levelFiguresSchema>

/** How a radio, an interface and an audio device were set when it was good. */
export const levelProfileSchema = z.object({
  id: z.uuid(),
  radio: words(60),
  interfaceName: words(60),
  deviceLabel: words(200),
  savedUtcMs: z.number().finite(),
  /** Positions as the operator names them. */
  knobs: z.array(z.object({ name: words(40).min(1, 'A knob needs a name'), position: words(40) })).max(12),
  /** Volume of the tablet or computer, as it shows it. */
  hostVolume: words(40),
  note: words(300),
  figures: levelFiguresSchema,
  antennaRiseDb: level.nullable(),
  roomCostDb: level.nullable(),
  converter2500Dbfs: level.nullable(),
  transmit: z
    .object({
      level: z.number().min(0).max(1).nullable(),
      voxLeadInMs: z.number().min(0).max(2000).nullable(),
      outputDelayMs: z.number().min(-500).max(2000).nullable(),
    })
    .nullable(),
})
export type LevelProfile = z.infer<typeof levelProfileSchema>
export type LevelProfileDraft = Omit<LevelProfile, 'id' | 'savedUtcMs'>

export const figuresOf = (r: AudioReport): LevelFigures => {
  const finite = (value: number) => (Number.isFinite(value) ? Math.max(-300, Math.round(value * 10) / 10) : -300)
  return {
    rmsDbfs: finite(r.rmsDbfs),
    noise2500Dbfs: finite(r.noise2500Dbfs),
    headroomDb: finite(r.headroomDb),
    passbandHz: r.passbandHz && [Math.round(r.passbandHz[0]), Math.round(r.passbandHz[1])],
    humDbfs: r.humDbfs === null ? null : finite(r.humDbfs),
    dcOffset: Number(r.dcOffset.toFixed(4)),
    findings: r.findings.map((f) => f.code),
  }
}

/** The profile that belongs to a radio, an interface and a device: the newest of those that match most. */
export function findProfile(
  profiles: readonly LevelProfile[],
  now: { radio: string; interfaceName: string; deviceLabel: string },
): LevelProfile | undefined {
  const same = (a: string, b: string) => a.toLowerCase() === b.toLowerCase()
  return profiles
    .filter((p) => same(p.radio, now.radio) && same(p.interfaceName, now.interfaceName) && same(p.deviceLabel, now.deviceLabel))
    .sort((a, b) => b.savedUtcMs - a.savedUtcMs)[0]
}

/** One thing that is no longer as it was. */
export interface LevelChange {
  what: 'noise' | 'headroom' | 'passband' | 'hum' | 'offset' | FindingCode
  was: string
  is: string
  /** What that usually means. */
  means: string
}

/** Changes below these come from the band, not from the set-up. */
const CHANGE_LIMITS = { noiseDb: 4, headroomDb: 12, edgeHz: 100, humDb: 8, offset: 0.01 } as const

const edges = (band: readonly [number, number] | null) => (band ? `${Math.round(band[0])} to ${Math.round(band[1])} Hz` : 'not found')

/** Says what differs from when it was good; nothing differs when the list is empty. */
export function compareWithProfile(report: AudioReport, profile: LevelProfile): LevelChange[] {
  const was = profile.figures
  const is = figuresOf(report)
  const changes: LevelChange[] = []
  const noise = is.noise2500Dbfs - was.noise2500Dbfs
  if (Math.abs(noise) > CHANGE_LIMITS.noiseDb)
    changes.push({
      what: 'noise',
      was: dbfsWords(was.noise2500Dbfs),
      is: dbfsWords(is.noise2500Dbfs),
      means: `${Math.abs(noise).toFixed(0)} dB ${noise > 0 ? 'more' : 'less'} noise: another volume, preamplifier or attenuator, or another band`,
    })
  if (is.headroomDb < was.headroomDb - CHANGE_LIMITS.headroomDb)
    changes.push({
      what: 'headroom',
      was: `${was.headroomDb.toFixed(0)} dB`,
      is: `${is.headroomDb.toFixed(0)} dB`,
      means: 'Stronger stations than then, or the level was turned up',
    })
  if (was.passbandHz && is.passbandHz) {
    const moved = Math.max(Math.abs(is.passbandHz[0] - was.passbandHz[0]), Math.abs(is.passbandHz[1] - was.passbandHz[1]))
    if (moved > CHANGE_LIMITS.edgeHz)
      changes.push({
        what: 'passband',
        was: edges(was.passbandHz),
        is: edges(is.passbandHz),
        means: 'Another filter or passband shift is set',
      })
  }
  if (is.humDbfs !== null && is.humDbfs > (was.humDbfs ?? was.noise2500Dbfs - 25) + CHANGE_LIMITS.humDb)
    changes.push({
      what: 'hum',
      was: was.humDbfs === null ? 'none' : dbfsWords(was.humDbfs),
      is: dbfsWords(is.humDbfs),
      means: 'Something is now fed from the mains that was not then',
    })
  if (Math.abs(is.dcOffset - was.dcOffset) > CHANGE_LIMITS.offset)
    changes.push({
      what: 'offset',
      was: `${(100 * was.dcOffset).toFixed(1)} %`,
      is: `${(100 * is.dcOffset).toFixed(1)} %`,
      means: 'Another input, or its supply voltage is on',
    })
  const told = new Set<string>([...changes.map((c) => c.what), ...was.findings])
  for (const found of report.findings) {
    const covered = (found.code === 'narrow-filter' && told.has('passband')) || (found.code === 'dc-offset' && told.has('offset'))
    if (!told.has(found.code) && !covered) changes.push({ what: found.code, was: 'not there', is: found.evidence, means: found.advice })
  }
  return changes
}
