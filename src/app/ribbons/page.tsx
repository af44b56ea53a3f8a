import { titled } from '@/ui/frame/screens'
import { RibbonsScreen } from '@/ui/modes/psk31/RibbonsScreen'

export const metadata = titled('/ribbons')

export default function Page() {
  return <RibbonsScreen />
}
