import { createTheme, type Theme, type ThemeOptions } from '@mui/material/styles'
import { night, type Palette, paper } from './palette.ts'

/** Condensed figures of equal width, for every number. */
export const figures = { fontStretch: '78%', fontVariantNumeric: 'tabular-nums lining-nums' } as const

/** CSS variables by which drawings take the palette. */
const cssVariables = (palette: Palette): Record<string, string> =>
  Object.fromEntries(Object.entries(palette).map(([name, value]) => [`--${name}`, value]))

/** Defaults and styles of each component. */
const components = (c: Palette): ThemeOptions['components'] => ({
  MuiCssBaseline: {
    styleOverrides: {
      ':root': cssVariables(c),
      body: { backgroundColor: c.ground },
      // Paper is its own ground.
      '@media print': { 'html, body': { backgroundColor: 'transparent' } },
      '.figures': figures,
      ':focus-visible': { outline: `2px solid ${c.accent}`, outlineOffset: 2 },
    },
  },
  MuiButtonBase: { defaultProps: { disableRipple: true } },
  MuiButton: {
    defaultProps: { disableElevation: true },
    styleOverrides: { root: { minHeight: 34, paddingInline: 14 }, outlined: { borderColor: c.ink, color: c.ink, borderWidth: 1 } },
  },
  MuiToggleButton: {
    styleOverrides: {
      root: {
        color: c.ink,
        borderColor: c.rule,
        paddingInline: 10,
        '&.Mui-selected': { backgroundColor: c.accentWash, borderBottom: `2px solid ${c.accent}`, color: c.ink },
      },
    },
  },
  MuiTextField: { defaultProps: { size: 'small', variant: 'standard' } },
  MuiSelect: { defaultProps: { size: 'small', variant: 'standard' } },
  MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: 'none' } } },
  MuiTableCell: {
    styleOverrides: {
      root: { borderColor: c.rule, padding: '5px 10px', fontSize: '0.86rem' },
      head: { fontWeight: 650, fontStretch: '88%', color: c.quiet, backgroundColor: c.ground, borderBottom: `2px solid ${c.ink}` },
    },
  },
  MuiAlert: { styleOverrides: { root: { border: `1px solid ${c.rule}`, borderLeftWidth: 6 } } },
  MuiTooltip: { styleOverrides: { tooltip: { backgroundColor: c.ink, color: c.ground, fontSize: '0.8rem' } } },
})

/** The look of all components, square and calm. */
export const makeTheme = (dark: boolean): Theme => {
  const c = dark ? night : paper
  return createTheme({
    palette: {
      mode: dark ? 'dark' : 'light',
      primary: { main: c.accent, contrastText: c.onAccent },
      secondary: { main: c.ink, contrastText: c.ground },
      error: { main: c.danger },
      warning: { main: c.warn },
      background: { default: c.ground, paper: c.sheet },
      text: { primary: c.ink, secondary: c.quiet },
      divider: c.rule,
    },
    shape: { borderRadius: 0 },
    shadows: Array(25).fill('none') as Theme['shadows'],
    typography: {
      fontFamily: "'Archivo Variable', sans-serif",
      fontSize: 14,
      h1: { fontSize: '1.7rem', fontWeight: 640, fontStretch: '84%', letterSpacing: '-0.005em' },
      h2: { fontSize: '1.15rem', fontWeight: 620, fontStretch: '86%' },
      h3: { fontSize: '0.82rem', fontWeight: 650, fontStretch: '92%', letterSpacing: '0.04em' },
      body2: { fontSize: '0.86rem' },
      button: { textTransform: 'none', fontWeight: 600, fontStretch: '90%' },
    },
    components: components(c),
  })
}
