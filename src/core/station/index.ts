export {
  defaultSettings,
  emptyStation,
  profileSchema,
  settingsSchema,
  stationSchema,
  type Profile,
  type Settings,
  type Station,
} from './station'
