import { titled } from '@/ui/frame/screens'
import { ConnectScreen } from '@/ui/connect/ConnectScreen'

export const metadata = titled('/connect')

export default function Page() {
  return <ConnectScreen />
}
