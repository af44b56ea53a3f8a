import { titled } from '@/ui/frame/screens'
import { ClockScreen } from '@/ui/clock/ClockScreen'

export const metadata = titled('/clock')

export default function Page() {
  return <ClockScreen />
}
