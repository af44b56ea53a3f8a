import { titled } from '@/ui/frame/screens'
import { PowerScreen } from '@/ui/plan/PowerScreen'

export const metadata = titled('/plan/power')

export default function Page() {
  return <PowerScreen />
}
