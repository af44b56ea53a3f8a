import { ReachScreen } from '@/ui/reach/ReachScreen'

export default function Page() {
  return <ReachScreen />
}
