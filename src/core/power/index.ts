export { dutyWarning } from './dutyWarning'
export {
  antennaSetupSchema,
  defaultAntenna,
  estimateExposure,
  EXPOSURE_LIMITS,
  type AntennaSetup,
  type ExposureEstimate,
  type ExposureInput,
  type Limit,
} from './exposure'
export {
  CHEMISTRIES,
  defaultPower,
  deratingAt,
  FT8_DUTY,
  powerSetupSchema,
  reckonPower,
  type Chemistry,
  type PowerBudget,
  type PowerSetup,
} from './powerBudget'
export { defaultFieldSetup, fieldSetupSchema, type FieldSetup } from './fieldSetup'
