import { titled } from '@/ui/frame/screens'
import { SlotsScreen } from '@/ui/modes/ft8/SlotsScreen'

export const metadata = titled('/slots')

export default function Page() {
  return <SlotsScreen />
}
