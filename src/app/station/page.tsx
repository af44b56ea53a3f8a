import { titled } from '@/ui/frame/screens'
import { StationScreen } from '@/ui/station/StationScreen'

export const metadata = titled('/station')

export default function Page() {
  return <StationScreen />
}
