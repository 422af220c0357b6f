/** How gears are changed; `automatic-first`: by itself until the student is ready for it, then by hand. */
export const gearboxes = ['manual', 'paddles', 'automatic', 'automatic-first', 'none'] as const
export type Gearbox = (typeof gearboxes)[number]

/** The gearbox of a vehicle: what it says, else what is usual for its kind. */
export const gearboxOf = ({ gearbox, gears, kind }: { gearbox?: Gearbox | undefined; gears: readonly number[]; kind: string }): Gearbox =>
  gears.length < 2 ? 'none' : (gearbox ?? (kind === 'kart' ? 'none' : kind === 'single-seater' ? 'paddles' : 'manual'))

/** Whether somebody changes gears by hand, so that they are called. */
export const isShiftedByHand = (gearbox: Gearbox): boolean => gearbox !== 'none' && gearbox !== 'automatic'
