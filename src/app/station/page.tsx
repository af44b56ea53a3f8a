import { StationScreen } from '@/ui/station/StationScreen'

export default function Page() {
  return <StationScreen />
}
