import { z } from 'zod'
import { antennaSetupSchema, defaultAntenna } from './exposure'
import { defaultPower, powerSetupSchema } from './powerBudget'

/** Battery and antenna of the field station, as they are kept. */
export const fieldSetupSchema = z.object({ power: powerSetupSchema, antenna: antennaSetupSchema })
export type FieldSetup = z.infer<typeof fieldSetupSchema>

export const defaultFieldSetup: FieldSetup = { power: defaultPower, antenna: defaultAntenna }
