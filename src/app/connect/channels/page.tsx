import { ChannelsScreen } from '@/ui/connect/channels/ChannelsScreen'

export default function Page() {
  return <ChannelsScreen />
}
