import { LogScreen } from '@/ui/log/LogScreen'

export default function Page() {
  return <LogScreen />
}
