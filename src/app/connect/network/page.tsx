import { titled } from '@/ui/frame/screens'
import { NetworkScreen } from '@/ui/connect/network/NetworkScreen'

export const metadata = titled('/connect/network')

export default function Page() {
  return <NetworkScreen />
}
