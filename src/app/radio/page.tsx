import { RadioScreen } from '@/ui/radio/RadioScreen'

export default function Page() {
  return <RadioScreen />
}
