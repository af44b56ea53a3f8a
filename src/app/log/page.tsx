import { titled } from '@/ui/frame/screens'
import { LogScreen } from '@/ui/log/LogScreen'

export const metadata = titled('/log')

export default function Page() {
  return <LogScreen />
}
