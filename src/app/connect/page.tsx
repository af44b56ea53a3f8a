import { ConnectScreen } from '@/ui/connect/ConnectScreen'

export default function Page() {
  return <ConnectScreen />
}
