import { ClockScreen } from '@/ui/clock/ClockScreen'

export default function Page() {
  return <ClockScreen />
}
