import { titled } from '@/ui/frame/screens'
import { SessionScreen } from '@/ui/plan/SessionScreen'

export const metadata = titled('/plan')

export default function Page() {
  return <SessionScreen />
}
