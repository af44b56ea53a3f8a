import { titled } from '@/ui/frame/screens'
import { SettingsScreen } from '@/ui/settings/SettingsScreen'

export const metadata = titled('/settings')

export default function Page() {
  return <SettingsScreen />
}
