import { createTheme, type Theme, type ThemeOptions, type TypographyVariantsOptions } from '@mui/material/styles'
import { chosenLook } from './chosen.ts'
import { night, type Palette, paper } from './palette.ts'
import { type Distance, edges, lineOf, type Step, sizeOf, spaces, steps, targets } from './scale.ts'
import { SortSign, TickSign, UnfoldSign, UntickedSign } from './signs.tsx'

/** Condensed figures of equal width, for every number. */
export const figures = { fontStretch: '78%', fontVariantNumeric: 'tabular-nums lining-nums' } as const

/** Weight and width carry rank before size does. */
const cut: Record<Step, { fontWeight: number; fontStretch: string; letterSpacing?: string }> = {
  note: { fontWeight: 400, fontStretch: '100%' },
  text: { fontWeight: 400, fontStretch: '100%' },
  lead: { fontWeight: 400, fontStretch: '100%' },
  head: { fontWeight: 620, fontStretch: '86%' },
  title: { fontWeight: 640, fontStretch: '84%', letterSpacing: '-0.005em' },
}

/** CSS variables by which drawings take colours and sizes. */
export const cssVariables = (palette: Palette, distance: Distance): Record<string, string> => ({
  ...Object.fromEntries(Object.entries(palette).map(([name, value]) => [`--${name}`, value])),
  ...Object.fromEntries(steps.map((step) => [`--${step}`, sizeOf(distance, step)])),
  '--row': `${targets[distance].row}px`,
  '--target': `${targets[distance].usual}px`,
})

/** Edges by name, for `borderLeft: 'note'`. */
const borders = {
  hair: `${edges.hair}px solid`,
  strong: `${edges.strong}px solid`,
  chosen: `${edges.chosen}px solid`,
  note: `${edges.note}px solid`,
  far: `${edges.far}px solid`,
  call: `${edges.call}px solid`,
} as const

const line = (px: number, colour: string): string => `${px}px solid ${colour}`
const chosen = (c: Palette, side: 'below' | 'left') => ({ color: c.ink, ...chosenLook(side, c.accent, c.accentWash) })

/** Defaults and styles of each component. */
const components = (c: Palette, distance: Distance): ThemeOptions['components'] => {
  const target = targets[distance]
  const focus = { outline: line(edges.focus, c.accent), outlineOffset: edges.focus }
  const size = (step: Step): string => sizeOf(distance, step)
  // Told beside it what is missing; legible all the same.
  const notPossible = { color: c.ink, opacity: 0.62, border: line(edges.hair, c.ink), backgroundColor: 'transparent' }
  const onKnee = distance === 'knee'
  return {
    MuiCssBaseline: {
      styleOverrides: {
        ':root': cssVariables(c, distance),
        body: { backgroundColor: c.ground },
        // Paper is its own ground.
        '@media print': { 'html, body': { backgroundColor: 'transparent' } },
        '.figures': figures,
        ...Object.fromEntries(steps.map((step) => [`.type-${step}`, { fontSize: `var(--${step})` }])),
        a: { color: c.accent },
        ':focus-visible': focus,
        '@media (prefers-reduced-motion: reduce)': {
          '*, *::before, *::after': {
            animationDuration: '0s !important',
            transitionDuration: '0s !important',
            scrollBehavior: 'auto !important',
          },
        },
      },
    },
    MuiTypography: {
      defaultProps: {
        variant: 'text',
        variantMapping: { title: 'h1', head: 'h2', lead: 'p', text: 'p', note: 'p' },
      },
    },
    MuiButtonBase: { defaultProps: { disableRipple: true }, styleOverrides: { root: { '&.Mui-focusVisible': focus } } },
    MuiButton: {
      defaultProps: { disableElevation: true },
      styleOverrides: {
        root: {
          minHeight: target.usual,
          paddingBlock: 0,
          paddingInline: onKnee ? spaces[5] : spaces[3],
          transition: 'none',
          '&.Mui-disabled': notPossible,
          '&[aria-pressed="true"], &[aria-current="true"]': {
            ...chosen(c, 'below'),
            '&:hover': { ...chosen(c, 'below'), backgroundColor: c.verge },
          },
          ...(onKnee ? { '&:active': { boxShadow: `inset 0 0 0 ${edges.pressed}px ${c.accent}` } } : {}),
        },
        sizeSmall: { minHeight: target.row, paddingInline: spaces[2] },
        outlined: {
          borderColor: c.ink,
          color: c.ink,
          borderWidth: edges.hair,
          '&:hover': { backgroundColor: c.verge, borderColor: c.ink },
        },
        text: { '&:hover': { backgroundColor: c.verge } },
      },
    },
    MuiToggleButton: {
      styleOverrides: {
        root: {
          color: c.ink,
          borderColor: c.quiet,
          minHeight: distance === 'desk' ? spaces[6] : target.row,
          paddingBlock: 0,
          paddingInline: spaces[3],
          fontSize: size('text'),
          '&:hover': { backgroundColor: c.verge },
          '&.Mui-selected, &.Mui-selected:hover': chosen(c, 'below'),
          '&.Mui-selected:hover': { backgroundColor: c.verge },
          '&.Mui-disabled': { ...notPossible, border: line(edges.hair, c.quiet) },
        },
      },
    },
    MuiTextField: { defaultProps: { size: 'small', variant: 'outlined' } },
    MuiSelect: {
      defaultProps: {
        size: 'small',
        variant: 'outlined',
        IconComponent: UnfoldSign,
        MenuProps: { transitionDuration: 0, slotProps: { paper: { sx: { mt: 1 } } } },
      },
      styleOverrides: { select: { minHeight: 'auto' } },
    },
    MuiNativeSelect: { defaultProps: { IconComponent: UnfoldSign } },
    MuiInputLabel: {
      defaultProps: { shrink: true },
      styleOverrides: {
        // A label stands above its field, and stays there.
        root: {
          position: 'static',
          transform: 'none',
          maxWidth: 'none',
          fontSize: size('note'),
          lineHeight: lineOf(distance, 'note'),
          marginBottom: spaces[1],
          color: c.quiet,
          '&.Mui-focused': { color: c.quiet },
          '&.Mui-disabled': { color: c.quiet },
        },
      },
    },
    MuiOutlinedInput: {
      styleOverrides: {
        root: {
          minHeight: distance === 'desk' ? spaces[6] : target.row,
          '&.Mui-focused': focus,
          '&:hover .MuiOutlinedInput-notchedOutline': { borderColor: c.ink },
          '&.Mui-focused .MuiOutlinedInput-notchedOutline': { borderColor: c.ink, borderWidth: edges.hair },
          '&.Mui-disabled .MuiOutlinedInput-notchedOutline': { borderColor: c.rule },
        },
        notchedOutline: { top: 0, borderColor: c.quiet, '& legend': { display: 'none' } },
        input: {
          paddingBlock: spaces[1],
          paddingInline: spaces[2],
          outline: 'none !important',
          '&.Mui-disabled': { WebkitTextFillColor: c.ink, opacity: 0.62 },
        },
        multiline: { paddingBlock: spaces[1], paddingInline: spaces[2], '& textarea': { padding: 0 } },
      },
    },
    MuiFormHelperText: { styleOverrides: { root: { marginInline: 0, fontSize: size('note'), color: c.quiet } } },
    MuiMenuItem: { styleOverrides: { root: { minHeight: target.row, '&.Mui-selected, &.Mui-selected:hover': chosen(c, 'left') } } },
    MuiMenu: { defaultProps: { transitionDuration: 0 } },
    MuiPopover: {
      defaultProps: { transitionDuration: 0 },
      styleOverrides: { paper: { border: line(edges.hair, c.ink), backgroundColor: c.sheet } },
    },
    MuiDialog: {
      defaultProps: { transitionDuration: 0 },
      styleOverrides: { paper: { border: line(edges.hair, c.ink), backgroundColor: c.sheet } },
    },
    MuiCheckbox: {
      defaultProps: { icon: <UntickedSign />, checkedIcon: <TickSign />, size: 'small' },
      styleOverrides: {
        root: { color: c.ink, padding: spaces[1], '&.Mui-checked': { color: c.accent }, '&.Mui-disabled': { color: c.ink, opacity: 0.62 } },
      },
    },
    MuiFormControlLabel: {
      styleOverrides: {
        root: { marginLeft: -spaces[1], marginRight: 0, gap: spaces[1] },
        label: { '&.Mui-disabled': { color: c.ink, opacity: 0.62 } },
      },
    },
    MuiTableSortLabel: {
      defaultProps: { IconComponent: SortSign },
      styleOverrides: {
        root: { '&:hover': { color: c.ink } },
        // Only the sorted column bears the sign, and the one under the pointer.
        icon: { opacity: 0, transition: 'none' },
      },
    },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiTableRow: {
      styleOverrides: {
        root: {
          '&.Mui-selected, &.Mui-selected:hover': chosen(c, 'left'),
          // One mark of what is chosen is enough.
          '&.Mui-selected .MuiButton-root[aria-pressed="true"]': { boxShadow: 'none' },
        },
      },
    },
    MuiTableCell: {
      styleOverrides: {
        root: {
          // What is touched in a row does not make it higher.
          '& .MuiButton-sizeSmall, & .MuiInputBase-root': { marginBlock: -(target.row - 20) / 2 },
          borderColor: c.rule,
          padding: `5px ${spaces[3]}px`,
          fontSize: size('text'),
          lineHeight: lineOf(distance, 'text'),
        },
        head: {
          fontSize: size('note'),
          lineHeight: lineOf(distance, 'note'),
          fontWeight: 650,
          fontStretch: '88%',
          whiteSpace: 'nowrap',
          color: c.quiet,
          backgroundColor: c.ground,
          borderBottom: line(edges.focus, c.ink),
        },
      },
    },
    MuiAlert: {
      defaultProps: { icon: false, severity: 'info' },
      styleOverrides: {
        // A note: a bar at its left, and words.
        root: {
          background: 'none',
          color: c.ink,
          padding: `${spaces[1]}px ${spaces[3]}px`,
          borderLeft: line(edges.note, c.rule),
          fontSize: size('text'),
          lineHeight: lineOf(distance, 'text'),
        },
        message: { padding: 0, color: 'inherit' },
      },
      variants: [
        { props: { severity: 'warning' }, style: { borderLeftColor: c.warn, '& .MuiAlertTitle-root': { color: c.warn } } },
        { props: { severity: 'error' }, style: { borderLeftColor: c.danger, '& .MuiAlertTitle-root': { color: c.danger } } },
      ],
    },
    MuiAlertTitle: { styleOverrides: { root: { margin: 0, fontSize: size('text'), fontWeight: 650 } } },
    MuiTooltip: {
      defaultProps: { slotProps: { transition: { timeout: 0 } } },
      styleOverrides: { tooltip: { backgroundColor: c.ink, color: c.ground, fontSize: size('note') } },
    },
  }
}

/** Variants by the names of the steps; the usual ones are not there. */
const typography = (distance: Distance): TypographyVariantsOptions => {
  const variant = (step: Step) => ({
    fontSize: sizeOf(distance, step),
    lineHeight: lineOf(distance, step),
    fontFamily: 'inherit',
    ...cut[step],
  })
  return {
    fontFamily: "'Archivo Variable', sans-serif",
    ...Object.fromEntries(steps.map((step) => [step, variant(step)])),
    // For `fontSize: 'size.lead'`, where a line has a weight of its own.
    size: Object.fromEntries(steps.map((step) => [step, sizeOf(distance, step)])) as Record<Step, string>,
    body1: { fontSize: sizeOf(distance, 'text'), lineHeight: lineOf(distance, 'text') },
    button: {
      textTransform: 'none',
      fontWeight: 600,
      fontStretch: '90%',
      fontSize: sizeOf(distance, distance === 'phone' ? 'lead' : 'text'),
      lineHeight: 1.2,
    },
  }
}

/** The look of all components, square and calm, for one distance. */
export const makeTheme = (dark: boolean, distance: Distance = 'desk'): Theme => {
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
    spacing: [...spaces],
    breakpoints: { values: { xs: 0, sm: 700, md: 1100, lg: 1500, xl: 1900 } },
    borders,
    shadows: Array(25).fill('none') as Theme['shadows'],
    transitions: { create: () => 'none' },
    typography: typography(distance),
    components: components(c, distance),
  })
}
