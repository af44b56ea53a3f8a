import { LevelsScreen } from '@/ui/levels/LevelsScreen'

export default function Page() {
  return <LevelsScreen />
}
