import { SlotsScreen } from '@/ui/modes/ft8/SlotsScreen'

export default function Page() {
  return <SlotsScreen />
}
