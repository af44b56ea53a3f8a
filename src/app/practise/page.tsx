import { titled } from '@/ui/frame/screens'
import { PractiseScreen } from '@/ui/practise/PractiseScreen'

export const metadata = titled('/practise')

export default function Page() {
  return <PractiseScreen />
}
