import { titled } from '@/ui/frame/screens'
import { ReadinessScreen } from '@/ui/readiness/ReadinessScreen'

export const metadata = titled('/')

export default function Page() {
  return <ReadinessScreen />
}
