import { PinsScreen } from '@/ui/connect/setup/PinsScreen'

export default function Page() {
  return <PinsScreen />
}
