import type { Metadata, Viewport } from 'next'
import type { ReactNode } from 'react'
import '@fontsource/atkinson-hyperlegible-next/400.css'
import '@fontsource/atkinson-hyperlegible-next/700.css'
import '@fontsource/atkinson-hyperlegible-mono/400.css'
import '@fontsource/atkinson-hyperlegible-mono/700.css'
import '@/ui/theme/global.css'
import { Providers } from '@/ui/frame/Providers'

export const metadata: Metadata = {
  title: { default: 'Zeptik', template: '%s · Zeptik' },
  description: 'A portable digital station for FT8, PSK31 and packet.',
}
// With a keyboard on the screen what is typed into stays in view.
export const viewport: Viewport = { width: 'device-width', initialScale: 1, interactiveWidget: 'resizes-content' }

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en">
      <body>
        <Providers>{children}</Providers>
      </body>
    </html>
  )
}
