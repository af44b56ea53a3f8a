export {
  defaultSettings,
  emptyStation,
  openStation,
  profileSchema,
  settingsSchema,
  stationSchema,
  type Profile,
  type Settings,
  type Station,
} from './station'
export {
  heardQuerySchema,
  heardSummarySchema,
  heardTextQuerySchema,
  heardTextSchema,
  type HeardQuery,
  type HeardSummary,
  type HeardText,
  type HeardTextQuery,
} from './heardSummary'
