import { titled } from '@/ui/frame/screens'
import { ActivationScreen } from '@/ui/plan/ActivationScreen'

export const metadata = titled('/plan/activation')

export default function Page() {
  return <ActivationScreen />
}
