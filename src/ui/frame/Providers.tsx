'use client'
import { useEffect, useMemo, useState, type ReactNode } from 'react'
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter'
import { ThemeProvider } from '@mui/material/styles'
import useMediaQuery from '@mui/material/useMediaQuery'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createZeptikTheme, themeVariables } from '../theme/theme'
import { useDeviceSettings, ZOOM } from '../live/deviceSettings'
import { StationProvider, useLive } from '../live/StationProvider'
import { MessagesProvider } from '../parts/Messages'
import { Frame } from './Frame'

function Themed({ children }: { children: ReactNode }) {
  const { profile } = useLive()
  const prefersDark = useMediaQuery('(prefers-color-scheme: dark)')
  const choice = profile.settings.theme
  const dark = choice === 'night' || (choice === 'auto' && prefersDark)
  const zoom = ZOOM[useDeviceSettings().textSize]
  const theme = useMemo(() => createZeptikTheme(dark), [dark])
  useEffect(() => {
    const root = document.documentElement
    for (const [name, value] of Object.entries(themeVariables(dark))) root.style.setProperty(name, value)
    root.style.colorScheme = dark ? 'dark' : 'light'
    root.dataset.theme = dark ? 'night' : 'day'
  }, [dark])
  useEffect(() => {
    // The frame is as high as the window, however large the text in it.
    document.documentElement.style.setProperty('--zoom', String(zoom))
    document.body.style.setProperty('zoom', String(zoom))
  }, [zoom])
  return <ThemeProvider theme={theme}>{children}</ThemeProvider>
}

/** Everything that all screens stand on: theme, server data, the running station and the frame. */
export function Providers({ children }: { children: ReactNode }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false } } }))
  return (
    <AppRouterCacheProvider>
      <QueryClientProvider client={client}>
        <StationProvider>
          <Themed>
            <MessagesProvider>
              <Frame>{children}</Frame>
            </MessagesProvider>
          </Themed>
        </StationProvider>
      </QueryClientProvider>
    </AppRouterCacheProvider>
  )
}
