import { RibbonsScreen } from '@/ui/modes/psk31/RibbonsScreen'

export default function Page() {
  return <RibbonsScreen />
}
