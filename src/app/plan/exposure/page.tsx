import { ExposureScreen } from '@/ui/plan/ExposureScreen'

export default function Page() {
  return <ExposureScreen />
}
