import { titled } from '@/ui/frame/screens'
import { ExposureScreen } from '@/ui/plan/ExposureScreen'

export const metadata = titled('/plan/exposure')

export default function Page() {
  return <ExposureScreen />
}
