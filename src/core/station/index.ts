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
export { heardQuerySchema, heardSummarySchema, type HeardQuery, type HeardSummary } from './heardSummary'
