import { titled } from '@/ui/frame/screens'
import { RadioControlScreen } from '@/ui/connect/links/LinkScreens'

export const metadata = titled('/connect/control')

export default function Page() {
  return <RadioControlScreen />
}
