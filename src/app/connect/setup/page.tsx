import { SetupScreen } from '@/ui/connect/setup/SetupScreen'

export default function Page() {
  return <SetupScreen />
}
