import { CssBaseline, ThemeProvider, useMediaQuery } from '@mui/material'
import { createContext, type ReactNode, useContext, useMemo, useState } from 'react'
import { makeTheme } from './theme.ts'

type Choice = { dark: boolean; setDark: (dark: boolean) => void }
const ChoiceContext = createContext<Choice>({ dark: false, setDark: () => {} })
const STORED = 'ochote.night'

/** Day or night colours, remembered on this device; paper is always printed in day colours. */
export const ThemeChoice = ({ children }: { children: ReactNode }) => {
  const [dark, set] = useState(() => localStorage.getItem(STORED) === '1')
  const printing = useMediaQuery('print')
  const theme = useMemo(() => makeTheme(dark && !printing), [dark, printing])
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
