/** From how far a page is read, and on what: each has its own scale of type and its own size of what is touched. */
export type Distance = 'desk' | 'knee' | 'projector' | 'phone' | 'paper'
/** The steps of each scale, from the smallest. */
export const steps = ['note', 'text', 'lead', 'head', 'title'] as const
export type Step = (typeof steps)[number]

/** Size and line height of each step: pixels, on paper points. */
export const type = {
  // At arm’s length; nothing under 12, names on drawings included.
  desk: { note: [12, 16], text: [14, 20], lead: [16, 24], head: [18, 24], title: [28, 32] },
  // On the knee in a moving car.
  knee: { note: [20, 24], text: [26, 30], lead: [32, 34], head: [40, 44], title: [52, 56] },
  // From eight metres.
  projector: { note: [28, 36], text: [34, 44], lead: [44, 52], head: [56, 60], title: [72, 76] },
  // Once, for three minutes.
  phone: { note: [14, 20], text: [16, 24], lead: [18, 24], head: [22, 28], title: [28, 32] },
  // Points.
  paper: { note: [7.5, 9.5], text: [9, 12], lead: [11, 14], head: [13, 16], title: [20, 23] },
} as const satisfies Record<Distance, Record<Step, readonly [number, number]>>

/** Spaces (px), by step: within a control 2 and 3, between a label and its thing 1, between controls 2, between groups 5. */
export const spaces = [0, 4, 8, 12, 16, 24, 32, 48] as const

/** Heights of what is touched (px): `row` in a table, `usual` elsewhere. */
export const targets = {
  desk: { row: 28, usual: 36 },
  phone: { row: 48, usual: 48 },
  knee: { row: 56, usual: 72 },
  projector: { row: 48, usual: 48 },
  paper: { row: 28, usual: 28 },
} as const satisfies Record<Distance, { row: number; usual: number }>

/** Edges (px): of a field, of what has the focus or heads a table, of what is chosen, of a note, of what is pressed, of a note read from afar, of a call. */
export const edges = { hair: 1, focus: 2, strong: 2, chosen: 3, note: 4, pressed: 5, far: 8, call: 12 } as const

/** A size as CSS writes it; screens grow with the reader’s own size of text. */
export const sizeOf = (distance: Distance, step: Step): string =>
  distance === 'paper' ? `${type.paper[step][0]}pt` : `${type[distance][step][0] / 16}rem`

/** Line height of a step, as a share of its size. */
export const lineOf = (distance: Distance, step: Step): number => type[distance][step][1] / type[distance][step][0]
