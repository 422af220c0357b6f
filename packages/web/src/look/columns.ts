/** Two or three columns beside each other where there is room; one below the other under 1100 px. */
export const columns = (template: string) =>
  ({ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: template }, gap: 5, alignItems: 'start' }) as const

/** Height of what scrolls within a page: what the window leaves below `above` px, and never less than `least`. */
export const restOfWindow = (above: number, least = 320): string => `max(${least}px, calc(100dvh - ${above}px))`
