export { dutyWarning } from './dutyWarning'
export { antennaSetupSchema, estimateExposure, type AntennaSetup, type ExposureEstimate, type ExposureInput, type Limit } from './exposure'
export { CHEMISTRIES, powerSetupSchema, reckonPower, type Chemistry, type PowerBudget, type PowerSetup } from './powerBudget'
export { defaultFieldSetup, fieldSetupSchema, type FieldSetup } from './fieldSetup'
