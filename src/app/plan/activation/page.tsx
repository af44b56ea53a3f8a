import { ActivationScreen } from '@/ui/plan/ActivationScreen'

export default function Page() {
  return <ActivationScreen />
}
