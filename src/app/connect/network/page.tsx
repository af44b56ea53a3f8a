import { NetworkScreen } from '@/ui/connect/network/NetworkScreen'

export default function Page() {
  return <NetworkScreen />
}
