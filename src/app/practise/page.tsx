import { PractiseScreen } from '@/ui/practise/PractiseScreen'

export default function Page() {
  return <PractiseScreen />
}
