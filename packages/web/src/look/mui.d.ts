import type { Step } from './scale.ts'

declare module '@mui/material/styles' {
  interface TypographyVariants extends Record<Step, React.CSSProperties> {
    size: Record<Step, string>
  }
  interface ThemeOptions {
    borders?: Record<string, string>
  }
  interface TypographyVariantsOptions extends Partial<Record<Step, React.CSSProperties>> {
    size?: Record<Step, string>
  }
}

declare module '@mui/material/Typography' {
  interface TypographyPropsVariantOverrides extends Record<Step, true> {
    h1: false
    h2: false
    h3: false
    h4: false
    h5: false
    h6: false
    subtitle1: false
    subtitle2: false
    body1: false
    body2: false
    caption: false
    overline: false
  }
}
