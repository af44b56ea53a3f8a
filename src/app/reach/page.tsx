import { titled } from '@/ui/frame/screens'
import { ReachScreen } from '@/ui/reach/ReachScreen'

export const metadata = titled('/reach')

export default function Page() {
  return <ReachScreen />
}
