import { titled } from '@/ui/frame/screens'
import { PinsScreen } from '@/ui/connect/setup/PinsScreen'

export const metadata = titled('/connect/pins')

export default function Page() {
  return <PinsScreen />
}
