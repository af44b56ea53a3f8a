import { PowerScreen } from '@/ui/plan/PowerScreen'

export default function Page() {
  return <PowerScreen />
}
