import { titled } from '@/ui/frame/screens'
import { ChannelsScreen } from '@/ui/connect/channels/ChannelsScreen'

export const metadata = titled('/connect/channels')

export default function Page() {
  return <ChannelsScreen />
}
