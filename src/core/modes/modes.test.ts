import { z } from 'zod'
import { emptyContact } from '../log/contact'
import { bandOf } from '../log/bands'
import { READY_IDS, type ReadinessEvidence } from '../readiness/evidence'
import { emptyStation } from '../station/station'
import { createClockState } from '../time/clockState'
import { judgeClock } from '../time/clockVerdict'
import { LONGEST_OF_ALL_MS } from '../transmit'
import { MODE_IDS, MODES, modeOfSheet, SHEET_NAMES, SOUND_MODE_IDS, type Mode } from './index'

const bare: ReadinessEvidence = {
  ...{ nowUtcMs: 0, mode: 'ft8', modesInUse: ['ft8'], station: emptyStation, source: 'none' },
  clock: { verdict: judgeClock(createClockState(0, 0, 15_000), 0), source: 'computer', setUtcMs: 0 },
}

describe.each(MODE_IDS)('the declaration of %s', (id) => {
  const mode: Mode = MODES[id]
  it('can be kept by every gate, log and plan', () => {
    expect(mode.id).toBe(id)
    expect(mode.longestMs).toBeLessThanOrEqual(LONGEST_OF_ALL_MS)
    expect(mode.duty.keyedShare).toBeGreaterThan(0)
    expect(mode.duty.keyedShare).toBeLessThanOrEqual(1)
    expect(mode.sound || mode.soundNow !== undefined).toBe(SOUND_MODE_IDS.some((sound) => sound === id))
    for (const { band, dialFrequencyHz } of mode.dials) expect(bandOf(dialFrequencyHz)).toBe(band)
    const contact = emptyContact({ id: '', call: 'Q1ABC', mode: mode.adif.mode, startedUtcMs: 0, endedUtcMs: 0, origin: 'air' })
    for (const need of mode.contactNeeds) expect(need in contact).toBe(true)
    for (const sheet of mode.sheets) expect([SHEET_NAMES.includes(sheet), modeOfSheet(sheet)?.id]).toEqual([true, id])
  })
  it('asks for things by names that the stages know, and says something of each', () => {
    for (const item of mode.readiness(bare)) {
      expect(READY_IDS).toContain(item.id)
      expect(item.evidence.length).toBeGreaterThan(5)
    }
  })
  it('makes a piece of itself that is loud enough, never over what was asked, and says who sends', () => {
    const samples = mode.testSignal({ sampleRateHz: 12_000, amplitude: 0.4, ownCall: 'Q5RVR' })
    const peak = samples.reduce((most, value) => Math.max(most, Math.abs(value)), 0)
    expect(peak).toBeGreaterThan(0.3)
    expect(peak).toBeLessThanOrEqual(0.401)
  })
  it('has settings that need nothing from the operator', () => {
    expect(mode.settings.safeParse({}).success).toBe(true)
    expect(mode.details instanceof z.ZodType).toBe(true)
  })
})
