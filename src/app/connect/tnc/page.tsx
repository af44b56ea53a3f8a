import { titled } from '@/ui/frame/screens'
import { TncScreen } from '@/ui/connect/links/LinkScreens'

export const metadata = titled('/connect/tnc')

export default function Page() {
  return <TncScreen />
}
