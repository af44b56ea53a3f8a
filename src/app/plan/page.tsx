import { SessionScreen } from '@/ui/plan/SessionScreen'

export default function Page() {
  return <SessionScreen />
}
