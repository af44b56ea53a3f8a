import { titled } from '@/ui/frame/screens'
import { RadioScreen } from '@/ui/radio/RadioScreen'

export const metadata = titled('/radio')

export default function Page() {
  return <RadioScreen />
}
