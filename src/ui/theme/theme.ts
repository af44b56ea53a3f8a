import { createTheme, type Theme } from '@mui/material/styles'

/** Colours of one theme. Teal and burnt orange mean receive and transmit and nothing else. */
interface Tokens {
  paper: string
  card: string
  ink: string
  muted: string
  line: string
  receive: string
  transmit: string
  onTransmit: string
  /** The two stripes of the strip while transmitting. */
  onAirA: string
  onAirB: string
  attention: string
  missing: string
  press: string
  onPress: string
}

const day: Tokens = {
  paper: '#f3ecdc',
  card: '#fbf7ec',
  ink: '#27231b',
  muted: '#5d5545',
  line: '#cdc1a5',
  receive: '#0b615c',
  transmit: '#a63f0b',
  onTransmit: '#fffaf0',
  onAirA: '#a63f0b',
  onAirB: '#8c3408',
  attention: '#6f5200',
  missing: '#8c1933',
  press: '#27231b',
  onPress: '#fbf7ec',
}

/** Long waves and little light: what keeps eyes adapted to the dark. */
const night: Tokens = {
  paper: '#120907',
  card: '#1c0f0b',
  ink: '#e39a80',
  muted: '#b87a66',
  line: '#4a2a20',
  receive: '#5f9d96',
  transmit: '#ff7a33',
  onTransmit: '#ffbf99',
  onAirA: '#5a2308',
  onAirB: '#3d1705',
  attention: '#d0a04a',
  missing: '#ff7d86',
  press: '#c98068',
  onPress: '#160b08',
}

const text = '"Atkinson Hyperlegible Next", "Atkinson Hyperlegible Next Variable", system-ui, sans-serif'

/** The custom properties that style sheets use. */
export function themeVariables(dark: boolean): Record<string, string> {
  const tokens = dark ? night : day
  return Object.fromEntries(
    Object.entries(tokens).map(([name, value]) => [`--${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`, value]),
  )
}

export function createZeptikTheme(dark: boolean): Theme {
  const t = dark ? night : day
  return createTheme({
    palette: {
      mode: dark ? 'dark' : 'light',
      // Under the pointer too: darker, its words could not be read by night.
      primary: { main: t.press, dark: t.press, contrastText: t.onPress },
      error: { main: t.missing },
      warning: { main: t.attention },
      background: { default: t.paper, paper: t.card },
      text: { primary: t.ink, secondary: t.muted },
      divider: t.line,
      action: { active: t.ink, disabled: t.muted, disabledBackground: t.line },
    },
    shape: { borderRadius: 6 },
    typography: { fontFamily: text, fontSize: 15, button: { textTransform: 'none', fontWeight: 700, fontSize: 16 } },
    components: {
      // The component library takes the outline away and leaves it to the ripple, which is off.
      MuiButtonBase: {
        defaultProps: { disableRipple: true },
        styleOverrides: {
          root: {
            '&:focus-visible, &.Mui-focusVisible, &:has(input:focus-visible)': { outline: `3px solid ${t.ink}`, outlineOffset: 2 },
          },
        },
      },
      MuiButton: {
        styleOverrides: {
          root: { minHeight: 44, minWidth: 44, boxShadow: 'none', borderWidth: 2, '&:hover': { boxShadow: 'none', borderWidth: 2 } },
        },
      },
      MuiIconButton: { styleOverrides: { root: { minWidth: 44, minHeight: 44 } } },
      MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
      MuiOutlinedInput: { styleOverrides: { root: { minHeight: 48, backgroundColor: t.card }, notchedOutline: { borderColor: t.muted } } },
      MuiSelect: { styleOverrides: { icon: { color: t.ink } } },
      MuiToggleButton: { styleOverrides: { root: { color: t.ink } } },
      MuiMenuItem: { styleOverrides: { root: { minHeight: 44 } } },
      MuiCheckbox: { styleOverrides: { root: { padding: 11 } } },
      // A white thumb would be the brightest thing of the night. Off is hollow, on is filled.
      MuiSwitch: {
        styleOverrides: {
          switchBase: {
            color: t.muted,
            '&.Mui-checked .MuiSwitch-thumb': { backgroundColor: 'currentColor' },
            '&.Mui-disabled': { color: t.line },
          },
          thumb: { backgroundColor: t.card, border: '3px solid currentColor', boxShadow: 'none' },
          track: { backgroundColor: t.muted, opacity: 0.35 },
        },
      },
      MuiTooltip: { defaultProps: { enterTouchDelay: 0 } },
      MuiFormHelperText: { styleOverrides: { root: { fontSize: 14 } } },
    },
  })
}
