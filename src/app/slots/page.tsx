import { SlotsScreen } from '@/ui/slots/SlotsScreen'

export default function Page() {
  return <SlotsScreen />
}
