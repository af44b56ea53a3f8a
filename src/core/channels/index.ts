export {
  adviseChannel,
  CHANNEL_MODE_WORDS,
  CHANNEL_MODES,
  channelListSchema,
  channelSchema,
  emptyChannel,
  megahertz,
  MOST_CHANNELS,
  shiftWords,
  TONE_KINDS,
  TONE_WORDS,
  TONES_HZ,
  type Channel,
} from './channel'
export { channelsFromCsv, channelsToCsv, LARGEST_CSV_BYTES, mergeChannels } from './channelCsv'
export { enterSteps } from './enterSteps'
export { REGION_WORDS, REGIONS, startingChannels, type Region } from './startingChannels'
