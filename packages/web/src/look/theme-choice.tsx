import { Box, CssBaseline, ThemeProvider, useMediaQuery } from '@mui/material'
import { createContext, type ReactNode, useContext, useMemo, useState } from 'react'
import { night, paper } from './palette.ts'
import { type Distance, sizeOf } from './scale.ts'
import { cssVariables, makeTheme } from './theme.tsx'

type Choice = { dark: boolean; setDark: (dark: boolean) => void }
const ChoiceContext = createContext<Choice>({ dark: false, setDark: () => {} })
const STORED = 'ochote.night'

/** Day or night colours, remembered on this device; paper is always printed in day colours. */
export const ThemeChoice = ({ children }: { children: ReactNode }) => {
  const [dark, set] = useState(() => localStorage.getItem(STORED) === '1')
  const printing = useMediaQuery('print')
  const shown = dark && !printing
  const theme = useMemo(() => makeTheme(shown), [shown])
  const choice = useMemo(
    () => ({
      dark,
      setDark: (next: boolean) => {
        localStorage.setItem(STORED, next ? '1' : '0')
        set(next)
      },
    }),
    [dark],
  )
  return (
    <ChoiceContext value={choice}>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        {children}
      </ThemeProvider>
    </ChoiceContext>
  )
}

/** Which colours are on, and how to change them. */
export const useThemeChoice = (): Choice => useContext(ChoiceContext)

/** What is read from another distance than the desk: its own scale of type and size of targets, for all that is within. */
export const At = ({ distance, children }: { distance: Distance; children: ReactNode }) => {
  const { dark } = useThemeChoice()
  const printing = useMediaQuery('print')
  const shown = dark && !printing && distance !== 'paper'
  const theme = useMemo(() => makeTheme(shown, distance), [shown, distance])
  const variables = useMemo(() => cssVariables(shown ? night : paper, distance), [shown, distance])
  return (
    <ThemeProvider theme={theme}>
      <Box style={variables} sx={{ display: 'contents', fontSize: sizeOf(distance, 'text'), color: 'text.primary' }}>
        {children}
      </Box>
    </ThemeProvider>
  )
}
