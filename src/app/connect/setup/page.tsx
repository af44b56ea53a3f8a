import { titled } from '@/ui/frame/screens'
import { SetupScreen } from '@/ui/connect/setup/SetupScreen'

export const metadata = titled('/connect/setup')

export default function Page() {
  return <SetupScreen />
}
