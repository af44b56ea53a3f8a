import { ReadinessScreen } from '@/ui/readiness/ReadinessScreen'

export default function Page() {
  return <ReadinessScreen />
}
