import { titled } from '@/ui/frame/screens'
import { LevelsScreen } from '@/ui/levels/LevelsScreen'

export const metadata = titled('/levels')

export default function Page() {
  return <LevelsScreen />
}
