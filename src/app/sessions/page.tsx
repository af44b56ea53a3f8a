import { titled } from '@/ui/frame/screens'
import { SessionsScreen } from '@/ui/modes/packet/SessionsScreen'

export const metadata = titled('/sessions')

export default function Page() {
  return <SessionsScreen />
}
